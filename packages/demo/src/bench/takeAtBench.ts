import type { HandAct, TakeTell, Want } from '@taraf/contract'
import { armedUnder, planOf, refusal, spins, teaches, wantsBattery, type Check } from '@taraf/core'
import type { Given } from '@taraf/core/runTake'
import { handsOf, stepS, type Fate } from '@taraf/rig'
import { TakeRun, elapsed, watchKnocks, type Cancel, type Captured } from '@taraf/takes'
import { handled, type Handled } from './handActs'
import type { AtTheRig, Meddler } from './person'
import type { SimulatedBench } from './simulatedBench'
import { LedHands } from './ledHands'
import { settleS, type HandsBench } from './stepHands'

/** No take of a bench lasts that long: something in it goes on for ever. */
const longestS = 5_400
/** Nobody waits for longer for a take that waits for what does not come, s. */
const patienceS = 150
const lookMs = 100

const by = { id: 'p', login: 'p', name: 'P', role: 'technician' } as const

/** What was carried out is carried in again, without its props. */
const backIn: readonly HandAct[] = [
  { act: 'props', on: false },
  { act: 'nuts', on: false },
  { act: 'lay', way: 'forward' },
  { act: 'cable', in: true },
]

/** What a take is of, as the card knows it; what the board is set to is read by the take itself. */
export type GivenAtBench = Omit<Given, 'at' | 'settings' | 'choices'>

/**
 * Takes a check at a simulated bench: the driver of the shop, and somebody who does what its steps ask for. Rejects where they cannot, or the board
 * refuses what no take can go on without.
 */
export const takeAtBench = async (
  bench: SimulatedBench,
  check: Check,
  given: GivenAtBench,
  person: AtTheRig = {},
): Promise<Captured> => bench.until(takeIt(bench, check, given, person))

const takeIt = async (
  bench: SimulatedBench,
  check: Check,
  { place, sheet, airframe = { tag: 'T', board: '', parts: [] }, hovers = [] }: GivenAtBench,
  person: AtTheRig,
): Promise<Captured> => {
  const plan = planOf(check, sheet)
  const { meddler } = person
  const handledOf = (want: Want): Handled => {
    const asked = handled(want, person.byEdges, bench.rig.airframe.power.pack.cells)
    return meddler?.handled?.(want, asked) ?? asked
  }
  await bench.link.untilUp()
  const first = plan[0]
  if (first !== undefined) await prepareBench(bench, first, handledOf(first), wantsBattery(plan))

  const hands = new HandsOfTake(bench, person, handledOf)
  const run = new TakeRun({
    job: 'j',
    check,
    by,
    link: bench.link,
    clock: bench.clock,
    heat: bench.heat,
    sheet,
    airframe,
    place,
    hovers,
    powerId: wantsBattery(plan) ? bench.propsOff : null,
    propsOff: () => Promise.resolve(bench.propsOff),
    saidProps: () => Promise.resolve(),
    told: (tell) => hands.told(tell),
    wrote: (written) => Promise.resolve(person.wrote?.(written)),
    changed: (change) => Promise.resolve(person.wroteEscs?.(change)),
    found: () => Promise.resolve(),
  })
  if (meddler?.ask !== undefined) bench.link.bend = meddler.ask
  try {
    return await hands.during(run)
  } finally {
    bench.link.bend = null
    bench.bench.beforeStep = null
    meddler?.after?.(bench.rig)
    await leaveBench(bench, plan)
  }
}

/** The bench is brought into the state that the first step wants before the take is started. */
export const prepareBench = async (bench: HandsBench, first: Want, { before }: Handled, withBattery: boolean): Promise<void> => {
  await untilStill(bench)
  for (const act of before) bench.hand(act)
  if (withBattery && !bench.rig.power.battery)
    for (const act of [
      { act: 'props', on: false },
      { act: 'nuts', on: false },
      { act: 'battery', source: 'pack' },
    ] as const)
      bench.hand(act)
  // The rail warms from the moment on that the battery is in.
  await elapsed(bench.clock, first.label === 'warm' ? 0.1 : settleS)
  await bench.link.untilUp()
  if (withBattery) bench.confirmPropsOff()
}

/** Nobody leaves a battery in that a take wanted, nor an airframe out of doors. */
export const leaveBench = async (bench: HandsBench, plan: readonly Want[]): Promise<void> => {
  const wantsIt = plan.some((want) => want.state?.battery === true || ('streams' in want && want.streams.includes('meter')))
  if (wantsIt || spins(plan) || teaches(plan)) bench.hand({ act: 'battery', source: 'none' })
  await untilStill(bench)
  if (bench.rig.motion.mode === 'free') for (const act of backIn) bench.hand(act)
  await elapsed(bench.clock, settleS)
}

/** Nobody takes a prop off what still turns, nor puts the airframe down. */
const untilStill = async ({ rig, clock }: HandsBench): Promise<void> => {
  while (rig.turning) await elapsed(clock, lookMs / 1000)
}

/** The hands that a take leads, what goes wrong meanwhile, and what is felt. */
class HandsOfTake {
  private readonly hands: LedHands
  private run: TakeRun | null = null
  /** What becomes of each row of the step in hand. */
  private rows: (() => Fate) | null = null
  private feelNoKnocks: Cancel | null = null
  private failed: unknown = null
  private gaveUp: string | null = null
  private toldAtMs = 0
  /** Since when it is told that a side was done already. */
  private sameSinceMs: number | null = null

  constructor(
    private readonly bench: SimulatedBench,
    private readonly person: AtTheRig,
    handledOf: (want: Want) => Handled,
  ) {
    this.hands = new LedHands(
      bench,
      person,
      handledOf,
      (want) => this.begin(want),
      (error) => {
        this.failed = error
        this.run?.stop()
      },
    )
  }

  /** Does what the take asks for until it is over. */
  async during(run: TakeRun): Promise<Captured> {
    this.run = run
    const { clock } = this.bench
    const tooLong = clock.after(longestS * 1000, () => {
      this.failed = new Error(
        `${run.tell.check} waits at "${run.tell.want?.label ?? 'its begin'}" (${run.tell.phase}): ${run.tell.guide?.words ?? 'nothing is said'}`,
      )
      run.stop()
    })
    const { link } = this.bench
    const look = () => {
      this.look()
      if (run.tell.phase === 'waiting' && clock.nowMs() - this.toldAtMs > patienceS * 1000) this.giveUp(run)
      // Held once more as it was held before: whoever took the wrong side first runs it again.
      if (this.sameSinceMs !== null && clock.nowMs() - this.sameSinceMs > patienceS * 1000) this.giveUp(run)
    }
    const unseen = clock.every(2 * lookMs, look)
    link.on('told', look)
    try {
      return await run.capture()
    } catch (error) {
      if (this.gaveUp !== null) return { evidence: null, verdict: 'refused', findings: refusal(this.gaveUp, 'Run it again.') }
      throw this.failed ?? error
    } finally {
      tooLong()
      unseen()
      link.off('told', look)
      this.feelKnocks(false)
      this.hands.end()
    }
  }

  told(tell: TakeTell): void {
    this.toldAtMs = this.bench.clock.nowMs()
    const isSame = tell.guide?.words.startsWith('This side was done already') === true
    this.sameSinceMs = isSame ? (this.sameSinceMs ?? this.toldAtMs) : null
    if (this.run !== null) this.hands.follow(tell, this.run)
    const isCapturing = tell.phase === 'capturing'
    this.feelKnocks(isCapturing)
    this.bench.bench.beforeStep = isCapturing ? this.rows : null
  }

  private begin(want: Want): void {
    const { meddler } = this.person
    if (want.kind === 'reports') meddler?.reports?.(this.bench.rig, want)
    this.rows = meddler?.row === undefined || !('streams' in want) ? null : this.rowsOf(want, meddler.row)
  }

  /** Counts the rows of a step from where its samples begin: motors have risen by then. */
  private rowsOf(want: Want, meddle: NonNullable<Meddler['row']>): () => Fate {
    let row = want.kind === 'turn' ? -Math.round(want.runUpS / stepS) : 0
    return () => (row++ >= 0 ? meddle(this.bench.rig, want, row) : 'keep')
  }

  /** Knocks are felt while samples are taken; else nobody has to look at each of them. */
  private feelKnocks(isOn: boolean): void {
    if (isOn === (this.feelNoKnocks !== null)) return
    this.feelNoKnocks?.()
    this.feelNoKnocks = isOn ? watchKnocks(this.bench.link, this.bench.clock, () => this.person.knocked?.()) : null
  }

  private giveUp(run: TakeRun): void {
    this.gaveUp = `it waited in vain: ${run.tell.guide?.words ?? run.tell.want?.ask ?? ''}`
    run.stop()
  }

  /** What is seen, felt and heard while motors may turn. */
  private look(): void {
    const { want, felt } = this.hands
    if (want === null || (want.kind !== 'turn' && armedUnder(want) === null)) return
    if (want.kind === 'turn' && !this.bench.rig.board.drives) return
    felt.set(want.label, handsOf(this.bench.rig))
  }
}
