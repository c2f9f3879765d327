import type {
  AskBody,
  BoardEvent,
  BoardState,
  EvidenceEvent,
  HandAct,
  Observation,
  Said,
  TakeTell,
  Want,
  WantOf,
} from '@taraf/contract'
import { armedUnder, evidenceEvent, isWaitedFor } from '@taraf/core'
import { handsOf, type Rig } from '@taraf/rig'
import { elapsed, type Cancel, type Clock, type TakeRun } from '@taraf/takes'
import { chooseMode, modeIn, movesOf } from './controls'
import { said, type Handled } from './handActs'
import type { AtTheRig } from './person'

/** What somebody takes to read what a step asks for, s. */
const readS = 0.3
/** What a hand did takes so long to settle, s. */
export const settleS = 2.5
/** Armed, nobody dawdles: a pose is held as soon as it is reached, s. */
const heldS = 1.3
/** From the begin of a capture to what is done in it, s: armed, throttle goes up at once. */
const duringAfterS = 1
const armedDuringAfterS = 0.1
const duringEveryS = 0.5
/** A sign of life of a button that is held down comes this often, ms. */
const keepMs = 50
const lookMs = 100
/** A press that nothing came of for so long is made again. */
const lapsedMs = 4_000
/** From the begin of a step to the cable out, where it may go, s; how long it is out where nothing takes longer; and from the last act to the cable in. */
const cableOutAfterS = 0.5
const cableOutS = 3
const cableAfterS = 2
/** Between two small acts of an approach, between what is done once it is there, and from an event to what follows it, s. */
const approachEveryS = 0.5
const thenEveryS = 1
/** Small acts beyond an edge: a hand that holds trembles. */
const beyond = 2
/** When somebody who is led by the screen puts the battery in, s. */
const batteryInAfterS = 1.5

type StepOf<Kind extends Want['kind']> = Hands & { readonly want: WantOf<Kind> }

/** A simulated bench as hands have it: what is there, a clock, and what its screen tells of the board. */
export interface HandsBench {
  readonly rig: Rig
  readonly clock: Clock
  readonly link: {
    readonly state: BoardState | null
    on(event: 'told', listener: (event: BoardEvent) => void): void
    off(event: 'told', listener: (event: BoardEvent) => void): void
    ask(body: AskBody & { ask: 'stop' }): Promise<unknown>
    untilUp(): Promise<void>
    /** Brings the rig up to now. */
    tick(): void
  }
  /** The battery connection that is there, where props were confirmed off for it; else null. */
  readonly propsOff: string | null
  /** Says that props are off for the battery that is in; nobody says so where they are not. */
  confirmPropsOff(): void
  hand(act: HandAct): void
  /** Does it where that goes; returns why it does not. */
  tries(act: HandAct): string | null
}

/** A take as hands have it: its buttons, and what it tells. */
export type TakeAtHand = Pick<TakeRun, 'tell' | 'next' | 'mark' | 'answer' | 'keep'>

/** Somebody at a simulated bench who does what one step of a take asks for. */
export interface Hands {
  readonly bench: HandsBench
  readonly run: TakeAtHand
  readonly person: AtTheRig
  readonly how: Handled
  readonly button: Button
  /** Whether what comes before the step was done as the take began. */
  readonly isPrepared: boolean
  /** Aborts once the step is over. */
  readonly signal: AbortSignal
  /** What was seen at the end of each step in which motors may turn. */
  readonly felt: Map<string, ReturnType<typeof handsOf>>
}

/** Does one step, until its signal aborts. */
export const handStep = (want: Want, hands: Hands): Promise<void> =>
  (scripts[want.kind] as (step: Hands & { want: Want }) => Promise<void>)({ ...hands, want })

const scripts: { readonly [Kind in Want['kind']]: (step: StepOf<Kind>) => Promise<void> } = {
  capture: async (step) => {
    const { want, how, run } = step
    const isArmed = armedUnder(want) !== null
    await before(step, isArmed ? heldS : settleS)
    if (run.tell.phase === 'waiting') run.next()
    await saysSo(step)
    await during(step, how, isArmed ? armedDuringAfterS : duringAfterS)
  },
  pose: async (step) => {
    const { bench, how, run, signal } = step
    await before(step, settleS)
    await saysSo(step)
    // Whatever held it back on its way: it goes on to where it was to be.
    for (;;) {
      await wait(bench, settleS, signal)
      if (run.tell.guide?.words.startsWith('Tilt it further') === true) for (const act of how.before) bench.hand(act)
    }
  },
  control: async ({ bench, want, signal }) => {
    const moves = movesOf(bench.rig, want.label)
    bench.hand(moves(-1))
    signal.addEventListener('abort', () => bench.hand(moves(-1)), { once: true })
    for (let number = 0; ; number++) {
      await wait(bench, number === 0 ? thenEveryS : want.heldS + 0.6, signal)
      bench.hand(moves(number))
    }
  },
  turn: async (step) => {
    const { bench, want, run, button, signal } = step
    // Under a battery that is confirmed all of it is done already.
    if (bench.propsOff === null) await before(step, settleS)
    await wait(bench, readS, signal)
    for (;;) {
      button.look()
      const { phase, said: isSaid } = run.tell
      if (want.says !== undefined && isSaid !== true && phase === 'capturing') {
        await wait(bench, want.runUpS + want.seconds / 2, signal)
        await saysSo(step)
      }
      await wait(bench, lookMs / 1000, signal)
    }
  },
  watch: async (step) => {
    const { bench, want, how, run, signal } = step
    await before(step, how.approach === undefined ? 0 : settleS)
    const hand = (act: HandAct) => bench.hand(act)
    if (want.permit === 'teach') {
      await untilWaiting(step)
      run.next()
      await wait(bench, batteryInAfterS, signal)
      return hand({ act: 'battery', source: 'pack' })
    }
    const mode = modeIn(want.ask)
    if (mode !== undefined) chooseMode(bench.rig, mode, hand)
    await Promise.all([
      acts(step, how),
      ...(want.mayLoseLink === true ? [unlinked(step, how)] : []),
      ...(how.onEvent === undefined ? [] : [onEvent(step, how.onEvent)]),
    ])
  },
  answers: async ({ bench, want, run, person, felt, signal }) => {
    await wait(bench, readS, signal)
    run.answer(person.answer?.(want, felt) ?? [])
  },
  state: async (step) => {
    const { bench, want, signal } = step
    await before(step, settleS)
    for (;;) {
      if (want.state.props === 'off') bench.confirmPropsOff()
      await wait(bench, lookMs / 1000, signal)
    }
  },
  escs: async ({ bench, run, signal }) => {
    for (;;) {
      // The words say which way the battery goes; it is out or in by turns.
      while (run.tell.phase !== 'waiting' || run.tell.guide == null) await wait(bench, lookMs / 1000, signal)
      const { guide } = run.tell
      bench.hand({ act: 'battery', source: bench.rig.power.battery ? 'none' : 'pack' })
      while (run.tell.guide === guide) await wait(bench, lookMs / 1000, signal)
    }
  },
  reports: async () => {},
  write: async () => {},
  calibrate: async () => {},
  log: async () => {},
}

/** The button under which motors turn. It is held down from one step that turns them to the next, with a list between them too. */
export class Button {
  private letGo: Cancel | null = null
  private presses = 0
  private pressedAtMs = 0
  private wasCapturing = false

  constructor(
    private readonly bench: HandsBench,
    private readonly run: TakeAtHand,
  ) {}

  lift(): void {
    this.letGo?.()
    this.letGo = null
    this.wasCapturing = false
  }

  /** A press that lapsed, or that nothing came of, is made again. */
  look(): void {
    const { clock } = this.bench
    const isWaiting = this.run.tell.phase === 'waiting'
    const lapsed = isWaiting && (this.wasCapturing || clock.nowMs() - this.pressedAtMs > lapsedMs)
    this.wasCapturing = !isWaiting
    if (this.letGo !== null && !lapsed) return
    if (this.letGo === null && !isWaiting) return
    this.letGo?.()
    this.pressedAtMs = clock.nowMs()
    const press = { press: `${this.pressedAtMs} ${this.presses++}`, screen: this.bench }
    this.run.keep(press)
    this.letGo = clock.every(keepMs, () => this.run.keep(press))
  }
}

const wait = (bench: HandsBench, seconds: number, signal: AbortSignal): Promise<void> => elapsed(bench.clock, seconds, signal)

const untilWaiting = async ({ bench, run, signal }: Hands): Promise<void> => {
  while (run.tell.phase !== 'waiting') await wait(bench, lookMs / 1000, signal)
}

/** What comes before the step, and until it has settled. */
const before = async ({ bench, how, isPrepared, signal }: Hands, seconds: number): Promise<void> => {
  if (isPrepared) return
  await wait(bench, readS, signal)
  for (const act of how.before) bench.hand(act)
  if (how.before.length > 0 && seconds > 0) await wait(bench, seconds, signal)
}

/** What is done while samples are taken, one act after the other. */
const during = async ({ bench, signal }: Hands, { during: doing }: Handled, afterS: number): Promise<void> => {
  const all: readonly HandAct[] = doing === undefined ? [] : 'act' in doing ? [doing] : doing
  for (const [i, act] of all.entries()) {
    await wait(bench, i === 0 ? afterS : duringEveryS, signal)
    bench.hand(act)
  }
}

/** Says of the step what it asks for, as it is to be seen. */
const saysSo = async ({ bench, want, run, person, how }: StepOf<'capture' | 'pose' | 'turn'>): Promise<void> => {
  if (want.says === undefined || run.tell.want !== want) return
  const so = said(want, handsOf(bench.rig), person.meddler === undefined ? [] : how.before)
  const observations = person.meddler?.said?.(bench.rig, want, so) ?? so
  for (const one of observations) run.mark(saidOf(one))
}
const saidOf = ({ up, antenna, position, turn }: Observation): Said => ({
  ...(up === undefined ? {} : { up }),
  ...(antenna === undefined ? {} : { antenna }),
  ...(position === undefined || turn === undefined ? {} : { position, turn }),
})

/** The small acts of an approach until what the step leads by is told, and a little further; then the rest. */
const acts = async ({ bench, want, signal }: StepOf<'watch'>, { approach = [], then = [], stopsAll }: Handled): Promise<void> => {
  const hand = (act: HandAct) => bench.hand(act)
  const { lead } = want
  let isTold = lead === undefined
  let further = 0
  const told = eventsOf(bench, signal, (event) => {
    if (lead !== undefined && isWaitedFor(event, [`gates:${lead.gate}`])) isTold = true
  })
  const isThere = () => isTold || (lead !== undefined && bench.link.state?.refusing.includes(lead.gate) === true)
  for (const [i, act] of approach.entries()) {
    await wait(bench, i === 0 ? thenEveryS : approachEveryS, signal)
    if (isThere() && further++ >= beyond) break
    hand(act)
  }
  for (const act of then) {
    await wait(bench, thenEveryS, signal)
    if ('choose' in act) chooseMode(bench.rig, act.choose, hand, act.on)
    else hand(act)
  }
  told()
  while (stopsAll === true) {
    await wait(bench, thenEveryS, signal)
    await bench.link.ask({ ask: 'stop' }).catch(() => {})
  }
}

/** What is done a moment after an event. */
const onEvent = async ({ bench, signal }: Hands, { event, acts: doing }: NonNullable<Handled['onEvent']>): Promise<void> => {
  await new Promise<void>((resolve) => {
    const stop = eventsOf(bench, signal, (one) => {
      if (!isWaitedFor(one, [event])) return
      stop()
      resolve()
    })
  })
  await wait(bench, thenEveryS, signal)
  for (const act of doing) bench.hand(act)
}

const eventsOf = (bench: HandsBench, signal: AbortSignal, take: (event: EvidenceEvent) => void): Cancel => {
  const told = (event: BoardEvent) => {
    const known = evidenceEvent(event)
    if (known !== null) take(known)
  }
  bench.link.on('told', told)
  const stop = () => bench.link.off('told', told)
  signal.addEventListener('abort', stop, { once: true })
  return stop
}

/** The cable goes out, what is done without it is done, and it comes in again. */
const unlinked = async ({ bench, want, how, felt, signal }: StepOf<'watch'>, { alone = [] }: Handled): Promise<void> => {
  await wait(bench, cableOutAfterS, signal)
  bench.hand({ act: 'cable', in: false })
  for (const act of how.unlinked ?? []) bench.hand(act)
  for (const [done, { afterS, onceStill, onceLanded, act }] of alone.entries()) {
    await wait(bench, afterS, signal)
    while ((onceStill === true && bench.rig.turning) || (onceLanded === true && bench.rig.pilot !== null))
      await wait(bench, lookMs / 1000, signal)
    // What the last act led to is seen before the next one.
    bench.link.tick()
    felt.set(`${want.label} ${done}`, handsOf(bench.rig))
    bench.hand(act)
  }
  await wait(bench, alone.length === 0 ? cableOutS : cableAfterS, signal)
  bench.hand({ act: 'cable', in: true })
}

/** Whether a step waits for the transmitter to be heard again; a step that waits for a state brings that about itself. */
export const isSilent = ({ phase, want }: TakeTell, { link }: HandsBench): boolean =>
  phase === 'waiting' &&
  want !== null &&
  want.kind !== 'state' &&
  want.state?.transmitter === true &&
  link.state?.radio !== 'heard'
