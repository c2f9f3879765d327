import type { EvidenceEvent, HandAct, Segment, WantOf } from '@taraf/contract'
import { evidenceEvent, flightModes, modeName } from '@taraf/core'
import { ControlWatch } from '@taraf/core/watches'
import { handsOf, stepS, type Rig } from '@taraf/rig'
import { hand } from './atBoard'
import { Gather } from './gather'
import type { Meddler } from './person'
import { endedBy } from './sampled'

const stickOf: Readonly<Record<string, { stick: 'roll' | 'pitch' | 'throttle' | 'yaw'; to: 1 | -1 }>> = {
  'throttle-up': { stick: 'throttle', to: 1 },
  'roll-right': { stick: 'roll', to: 1 },
  'pitch-forward': { stick: 'pitch', to: 1 },
  'yaw-right': { stick: 'yaw', to: 1 },
}

/** The flight mode that a step names. */
export const modeIn = (ask: string): string | undefined => {
  const named = /\bmode ([a-z- ]+)[.,]/i.exec(ask)?.[1]
  return named === undefined ? undefined : flightModes.find((mode) => modeName(mode) === named)
}

/** The switch of a flight mode, moved until the mode is on, or off again. */
export const chooseMode = (rig: Rig, mode: string, on = true): void => {
  const get = (name: string) => rig.board.settings.get(`switch.${mode}.${name}`)
  const channel = get('channel')
  if (channel === 0) return
  const isOn = () => {
    const us = rig.transmitter.channels()[channel - 1] ?? 0
    return us >= get('low') && us <= get('high')
  }
  const next = switchMoves(rig, channel)
  for (let i = 0; isOn() !== on && i < 6; i++) hand(rig, next(i))
}

/** What a hand does next with a control: out, back, and so on; -1 is back for good. */
type Moves = (number: number) => HandAct

/** To the end that the label names, or to one end and the other in turns, and back to its rest in between. */
const stickMoves = (label: string): Moves => {
  const { stick, to } = stickOf[label] ?? { stick: label as 'roll', to: 1 }
  // A stick that is let go of goes back by itself; throttle is brought down, as every take asks.
  const rest = stick === 'throttle' ? -1 : 0
  return (number) => ({ act: 'stick', stick, to: number % 2 !== 0 ? rest : number % 4 === 0 ? to : (-to as 1 | -1) })
}

/** Through all positions of the switch on a channel, from the one that it is in. */
const switchMoves = (rig: Rig, channel: number): Moves => {
  const { channels, switches } = handsOf(rig).transmitter
  const found = switches.find(({ name }) => channels[channel - 1]?.source === `switch ${name}`)
  if (found === undefined) throw new Error(`no switch is on channel ${channel}`)
  const { name, positions, at } = found
  return (number) => ({ act: 'switch', name, to: number < 0 ? at : (at + 1 + number) % positions })
}

/** Moves the control that a label names out and back, as often as is wanted, and ends when the watch of its channels says so. */
export const moveControl = (rig: Rig, want: WantOf<'control'>, meddler: Meddler = {}): Segment => {
  const { label, seconds, stage = 'body', streams: names, heldS } = want
  const outAndBack = label.startsWith('switch-') ? switchMoves(rig, Number(label.slice(7))) : stickMoves(label)
  hand(rig, outAndBack(-1))
  const gather = new Gather(rig, stage, names.includes('radio') ? names : [...names, 'radio'], 400)
  const watching = new ControlWatch(want)
  const ended = endedBy(rig, want)
  const events: EvidenceEvent[] = want.events === undefined ? [] : [{ t: 0, what: 'mode', mode: rig.state().mode }]
  rig.board.events.length = 0
  const every = Math.round((heldS + 0.6) / stepS)
  let [seen, moved] = [0, 0]
  try {
    for (let step = 0; step < seconds / stepS; step++) {
      if (step > 100 && step % every === 0) hand(rig, outAndBack(moved++))
      const fate = meddler.row?.(rig, want, step) ?? 'keep'
      gather.take(rig, rig.step(stage), fate)
      ended()
      const { t, rows } = gather.rows('radio')
      let done = false
      for (; seen < t.length; seen++) {
        const row = rows[seen] ?? []
        if ((row[16] ?? 0) > 0) done ||= watching.push(t[seen] as number, row.slice(0, 16)).share >= 1
      }
      if (done) break
    }
  } finally {
    hand(rig, outAndBack(-1))
  }
  for (const told of rig.board.events.splice(0)) {
    const known = evidenceEvent(told)
    if (known !== null && (want.events as readonly string[] | undefined)?.includes(known.what) === true) events.push(known)
  }
  return { label, streams: gather.streams(), ...(events.length === 0 ? {} : { events }) }
}
