import type { Evidence, Want } from '@taraf/contract'
import { limitFor, planOf, type Check } from '@taraf/core'
import { elapsed, type Clock } from './clock'
import type { BoardLink } from './link/boardLink'
import type { MotorHeat } from './motorHeat'
import { CaptureLost } from './run'

const lookEveryS = 0.5
/** Of the most: from here on no step begins that turns a motor. */
const almost = 0.8
/** What a motor takes to come to rest, s. */
const comesToRestS = 1.5

export interface HeatedTake {
  readonly check: Check
  readonly link: BoardLink
  readonly clock: Clock
  readonly heat: MotorHeat
  readonly sheet: Evidence['sheet']
}

/** Keeps motors from turning for longer than the sheet allows without cooling. */
export class Heat {
  private readonly link: BoardLink
  private readonly clock: Clock
  private readonly heat: MotorHeat
  private readonly mostS: number
  private readonly plan: readonly Want[]

  constructor({ check, link, clock, heat, sheet }: HeatedTake) {
    this.plan = planOf(check, sheet)
    this.link = link
    this.clock = clock
    this.heat = heat
    this.mostS = limitFor(sheet, 'turning.most').max ?? Infinity
  }

  /** Waits until what stands has cooled enough for a step, and for those that turn motors after it; says for how long. */
  async cooled(want: Want, say: (words: string) => void, signal: AbortSignal): Promise<void> {
    await this.heat.known(signal)
    const begins = Math.min(this.mostS * almost, Math.max(this.mostS - this.turningFrom(want), 0))
    if (this.heat.warmS <= begins) return
    const enough = Math.min(begins, this.mostS / 2)
    while (this.link.state?.motors === 'still' && this.heat.warmS > enough) {
      const rest = Math.ceil(this.heat.warmS - enough)
      say(`The motors are warm: they have turned for ${Math.round(this.heat.warmS)} s. Let them cool for ${rest} s more.`)
      await elapsed(this.clock, lookEveryS, signal)
    }
  }

  /** How long the plan turns motors from a step on, s. */
  private turningFrom({ kind, label }: Want): number {
    const from = this.plan.findIndex((want) => want.kind === kind && want.label === label)
    return this.plan
      .slice(Math.max(0, from))
      .reduce((sum, want) => sum + (want.kind === 'turn' ? want.runUpS + want.seconds + comesToRestS : 0), 0)
  }

  /** Its signal aborts with words once motors have turned for too long. */
  watch(): { readonly signal: AbortSignal; readonly end: () => void } {
    const over = new AbortController()
    const end = this.clock.every(lookEveryS * 1000, () => {
      if (this.heat.warmS >= this.mostS && this.link.state?.motors !== 'still')
        over.abort(
          new CaptureLost(
            `the motors have turned for ${this.mostS} s without cooling`,
            'Let them cool, then run it again. What no air moves over gets hot.',
          ),
        )
    })
    return { signal: over.signal, end }
  }
}
