import { limitFor } from '@taraf/core'
import { TurningClock } from '@taraf/core/watches'
import type { Evidence } from '@taraf/contract'
import type { BenchLink } from '../links/benchLink'
import { elapsed } from './recorders/until'
import { CaptureLost } from './run'

const clocks = new WeakMap<BenchLink, TurningClock>()
const nowS = (): number => Date.now() / 1000

/** The clock of the motors on a link: what nobody hears is taken to turn for as long as its battery is in. */
const clockOf = (link: BenchLink): TurningClock => {
  const known = clocks.get(link)
  if (known !== undefined) return known
  const clock = new TurningClock()
  const look = () => {
    const { phase, state } = link
    clock.push(nowS(), state !== null && (phase === 'up' ? state.motors !== 'still' : state.power !== 'cable'))
  }
  look()
  link.on('phase', look)
  clocks.set(link, clock)
  return clock
}

const lookEveryS = 0.5

/** Keeps motors from turning for longer than the sheet allows without cooling. */
export class Heat {
  private readonly clock: TurningClock
  private readonly mostS: number

  constructor(
    private readonly link: BenchLink,
    sheet: Evidence['sheet'],
  ) {
    this.clock = clockOf(link)
    this.mostS = limitFor(sheet, 'turning.most').max ?? Infinity
  }

  /** Waits until what stands has cooled enough to be turned; says for how long. */
  async cooled(say: (words: string) => void, signal: AbortSignal): Promise<void> {
    if (this.clock.at(nowS()) < this.mostS * almost) return
    while (this.link.state?.motors === 'still') {
      const rest = this.clock.restS(nowS(), this.mostS)
      if (rest === 0) return
      say(`The motors have turned for ${this.mostS} s, or nearly: let them cool for ${Math.ceil(rest)} s more.`)
      await elapsed(lookEveryS, signal)
    }
  }

  /** Its signal aborts with words once motors have turned for too long. */
  watch(): { readonly signal: AbortSignal; readonly end: () => void } {
    const over = new AbortController()
    const timer = setInterval(() => {
      if (this.clock.at(nowS()) >= this.mostS && this.link.state?.motors !== 'still')
        over.abort(
          new CaptureLost(
            `the motors have turned for ${this.mostS} s without cooling`,
            'Let them cool, then run it again. What no air moves over gets hot.',
          ),
        )
    }, lookEveryS * 1000)
    return { signal: over.signal, end: () => clearInterval(timer) }
  }
}
/** Of the most: from here on no step begins that turns a motor. */
const almost = 0.8
