import type { WantedState } from '@taraf/contract'
import { leftState } from '@taraf/core'
import type { BoardLink } from './link/boardLink'
import { CaptureLost, TransmitterSilent, linkLost } from './run'

const armedAgain = 'Its switch, Stop all, or a lost radio disarms it. Put the arm switch off, then run it again.'
const again = 'Bring the bench into that state again, confirm what it asks for, and run it again.'

/** Watches the state that a step wants for as long as it runs: its signal aborts with words when it is left, or the link is lost. */
export const watchState = (
  link: BoardLink,
  wanted: WantedState,
  powerId: string | null,
  mayLoseLink: boolean,
): { readonly signal: AbortSignal; readonly end: () => void } => {
  const left = new AbortController()
  const look = () => {
    if (left.signal.aborted) return
    if (link.isOver || (link.phase !== 'up' && !mayLoseLink)) return left.abort(new CaptureLost(linkLost(link.detail)))
    if (link.phase !== 'up' || link.state === null) return
    const why = leftState(wanted, link.state, powerId)
    if (why === null) return
    const withoutIt = leftState({ ...wanted, transmitter: undefined }, link.state, powerId)
    left.abort(
      wanted.transmitter === true && withoutIt === null
        ? new TransmitterSilent(why, again)
        : new CaptureLost(why, wanted.armed === true && link.state.motors !== 'armed' ? armedAgain : again),
    )
  }
  const fault = (why: string) => left.abort(new CaptureLost(why))
  link.on('phase', look)
  link.on('fault', fault)
  look()
  return {
    signal: left.signal,
    end: () => {
      link.off('phase', look)
      link.off('fault', fault)
    },
  }
}
