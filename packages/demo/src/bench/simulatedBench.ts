import type { HandAct } from '@taraf/contract'
import { RigBench, actOn, type Rig } from '@taraf/rig'
import { JumpClock, MotorHeat, type HeatStore } from '@taraf/takes'
import { RigLink } from './rigLink'

/** Heat of the motors, for as long as the bench is there. */
const heatInMemory = (): HeatStore => {
  const kept = new Map<string, number>()
  return {
    read: (board) => Promise.resolve(kept.get(board) ?? 0),
    keep: (board, warmS) => Promise.resolve(void kept.set(board, warmS)),
  }
}

/** A bench in one process: a rig, the link to its board, and a clock that jumps over what nobody waits for. */
export class SimulatedBench {
  readonly clock: JumpClock
  readonly bench: RigBench
  readonly link: RigLink
  readonly heat: MotorHeat
  /** The battery connection that somebody confirmed props off for. */
  propsOffFor: string | null = null

  constructor(
    readonly rig: Rig,
    begins: Date,
  ) {
    this.clock = new JumpClock(begins, () => new Promise((resolve) => setImmediate(resolve)))
    this.bench = new RigBench(rig, this.clock)
    this.link = new RigLink(this.bench, this.clock)
    this.heat = new MotorHeat(this.link, this.clock, heatInMemory())
  }

  /** Does it where that goes; returns why it does not. */
  tries(act: HandAct): string | null {
    this.link.tick()
    const wrong = actOn(this.rig, act)
    this.bench.afterHands()
    return wrong
  }

  hand(act: HandAct): void {
    const wrong = this.tries(act)
    if (wrong !== null) throw new Error(`${act.act}: ${wrong}`)
  }

  /** Lets time run until the work is done. */
  until<T>(work: Promise<T>): Promise<T> {
    return this.clock.until(work)
  }

  pass(seconds: number): Promise<void> {
    return this.clock.pass(seconds * 1000)
  }

  /** Says that props are off for the battery that is in; nobody says so where they are not. */
  confirmPropsOff(): void {
    const { state } = this.link
    const areOff = this.rig.airframe.frame.props.every((prop) => prop === 'none')
    if (areOff && state !== null && state.power !== 'cable') this.propsOffFor = state.powerId
  }

  /** The battery connection that is there, where props were confirmed off for it; else null. */
  get propsOff(): string | null {
    const { state } = this.link
    return state !== null && state.power !== 'cable' && state.powerId === this.propsOffFor ? state.powerId : null
  }
}
