import { randomUUID } from 'node:crypto'
import type { HandAct, JobView, Observation, Said, Sheet, TakeBody, TakeTell, Want } from '@taraf/contract'
import { armedUnder, checkById, missingNeeds, planOf, wantsBattery, type Check } from '@taraf/core'
import { LedHands, handled, leaveBench, lookAt, prepareBench, type HandsBench, type TakeAtHand } from '@taraf/demo'
import { actOn, handsOf, type Random } from '@taraf/rig'
import { elapsed, type Press } from '@taraf/takes'
import type { Part } from './part'
import type { Promised } from './promises'
import type { RigPart } from './rigPart'
import type { Screen } from './screen'

const lookS = 0.2
/** Nobody waits longer for a take, s. */
const patienceS = 60

/** A bench as somebody has it who stands at it, with a screen in the hand. */
class BenchAtHand implements HandsBench {
  readonly rig
  readonly link
  private confirmedFor: string | null = null

  constructor(
    private readonly board: RigPart,
    private readonly part: Part,
    private readonly confirm: () => Promise<boolean>,
    stop: () => Promise<unknown>,
  ) {
    const { rig } = board
    this.rig = rig
    this.link = {
      get state() {
        return rig.state()
      },
      on: (_event: 'told', listener: Parameters<RigPart['onEvent']>[0]) => board.onEvent(listener),
      off: (_event: 'told', listener: Parameters<RigPart['onEvent']>[0]) => board.offEvent(listener),
      ask: stop,
      untilUp: async () => {
        while (board.bench.link === null) await elapsed(part.clock, lookS)
      },
      tick: () => board.tick(),
    }
  }

  get clock() {
    return this.part.clock
  }

  get propsOff(): string | null {
    const { power, powerId } = this.rig.state()
    return power !== 'cable' && powerId === this.confirmedFor ? powerId : null
  }

  confirmPropsOff(): void {
    const { power, powerId } = this.rig.state()
    if (power === 'cable' || powerId === this.confirmedFor || this.rig.airframe.frame.props.some((prop) => prop !== 'none'))
      return
    this.confirmedFor = powerId
    void this.confirm().then((isDone) => {
      if (!isDone && this.confirmedFor === powerId) this.confirmedFor = null
    })
  }

  tries(act: HandAct): string | null {
    this.board.tick()
    const wrong = actOn(this.rig, act)
    this.board.bench.afterHands()
    return wrong
  }

  hand(act: HandAct): void {
    const wrong = this.tries(act)
    if (wrong !== null) throw new Error(`${act.act}: ${wrong}`)
  }
}

/** A take as its screen shows it. */
class TakeAtScreen implements TakeAtHand {
  tell: TakeTell

  constructor(
    private readonly screen: Screen,
    private readonly job: string,
    tell: TakeTell,
  ) {
    this.tell = tell
  }

  /** What the screen heard; the same step stays the same. */
  hear(tell: TakeTell): void {
    const isSame = JSON.stringify(tell.want) === JSON.stringify(this.tell.want) && tell.done.length === this.tell.done.length
    this.tell = isSame ? { ...tell, want: this.tell.want } : tell
  }

  next(): void {
    this.say({})
  }

  mark(seen: Said): void {
    this.say(seen)
  }

  answer(observations: readonly Observation[]): void {
    this.say({ observations })
  }

  keep({ press }: Press): void {
    this.screen.keep(this.job, press)
  }

  private say(what: object): void {
    void this.screen.until('POST', `/jobs/${this.job}/takes/next`, what)
  }
}

/** Where somebody works: at one airframe on one bench. */
export interface At {
  readonly board: RigPart
  readonly tag: string
  readonly bench: string
  readonly sheet: Sheet
}

/** A bench on which nothing is left in the way of a take that is still. */
const calm: readonly HandAct[] = [
  { act: 'switch', name: 'A', to: 0 },
  { act: 'stick', stick: 'throttle', to: -1 },
  { act: 'battery', source: 'none' },
  { act: 'lay', way: 'forward' },
]

/** A technician who works at one airframe on one bench while things go wrong. */
export class Worker {
  job: string | null = null
  doing = 'begins'
  private readonly bench: BenchAtHand
  private notes = 0

  constructor(
    readonly screen: Screen,
    private readonly at: At,
    private readonly random: Random,
    private readonly promised: Promised,
    private readonly verdicts: (verdict: string) => void,
    private readonly told: ((words: string) => void) | null,
  ) {
    this.bench = new BenchAtHand(
      at.board,
      screen.part,
      async () => (await screen.until('POST', `/jobs/${this.job}/confirmations`, { what: 'props off' })).status === 201,
      () => screen.until('POST', `/benches/${at.bench}/stop`),
    )
  }

  /** Says what is done now, for somebody who follows the history, and for one that hangs. */
  private does(what: string): void {
    this.doing = what
    this.told?.(`${this.tag} ${what}`)
  }

  get tag(): string {
    return this.at.tag
  }

  private get part(): Part {
    return this.screen.part
  }

  /** The card of the airframe, opened where there is none. */
  async begin(): Promise<void> {
    const opened = await this.screen.until('POST', `/airframes/${this.tag}/jobs`)
    const { id } = opened.body as { id?: string }
    if (id === undefined) {
      const { body } = await this.screen.until('GET', `/airframes/${this.tag}`)
      this.job = (body as { jobs: { id: string }[] }).jobs[0]?.id ?? null
    } else {
      this.job = id
      this.promised.cards.push({ job: id, tag: this.tag })
    }
  }

  async work(isOver: () => boolean, checks: readonly string[]): Promise<void> {
    await this.begin()
    while (!isOver()) {
      this.does('holds the bench')
      await this.hold()
      const drawn = this.random.uniform()
      if (drawn < 0.2) await this.note()
      else if (drawn < 0.26) await this.parkAndResume()
      else await this.take(await this.nextOf(checks), isOver)
      await elapsed(this.part.clock, 0.2 + this.random.uniform())
    }
  }

  /** One of the checks whose turn it is. */
  private async nextOf(checks: readonly string[]): Promise<Check> {
    const { standings } = await this.view()
    const ready = checks.map((id) => checkById(id) as Check).filter((check) => missingNeeds(check, standings).length === 0)
    return ready[this.random.below(ready.length)] as Check
  }

  private async view(): Promise<JobView> {
    return (await this.screen.until('GET', `/jobs/${this.job}`)).body as JobView
  }

  async hold(): Promise<boolean> {
    const { status } = await this.screen.until('POST', `/benches/${this.at.bench}/hold`, { job: this.job })
    this.screen.watch({ job: this.job ?? '' })
    return status === 200
  }

  async note(): Promise<void> {
    const cause = `${this.tag} note ${this.notes++}`
    const done = await this.screen.until('POST', `/jobs/${this.job}/changes`, { change: { what: 'knock' }, cause })
    if (done.status === 201) this.promised.notes.push({ job: this.job ?? '', cause, seq: (done.body as { seq: number }).seq })
  }

  /** Takes a check now that everything is well. */
  async takeInCalm(check: Check): Promise<string | null> {
    this.bench.tries({ act: 'cable', in: true })
    await this.hold()
    await this.bench.link.untilUp()
    for (const act of calm) this.bench.tries(act)
    await elapsed(this.part.clock, 1)
    return this.start(check, () => false)
  }

  private async parkAndResume(): Promise<void> {
    const parked = await this.screen.until('POST', `/jobs/${this.job}/park`, { reason: 'Something else comes first.' })
    if (parked.status === 201) await this.screen.until('POST', `/jobs/${this.job}/resume`)
  }

  /** Brings the bench into the state that a check begins with, takes it, and leaves the bench as it is to be left. */
  private async take(check: Check, isOver: () => boolean): Promise<void> {
    const { bench, part } = this
    const plan = planOf(check, this.at.sheet)
    const [first] = plan
    this.does(`prepares ${check.id}`)
    try {
      if (first !== undefined) await this.within(prepareBench(bench, first, this.handledOf(first), wantsBattery(plan)))
      while (wantsBattery(plan) && bench.propsOff === null && !isOver()) {
        bench.confirmPropsOff()
        await elapsed(part.clock, lookS)
      }
      await this.start(check, isOver)
    } catch (error) {
      // A strike left the bench so that nobody could do what was asked.
      this.does(`gave up: ${error instanceof Error ? error.message : String(error)}`)
    } finally {
      this.does(`leaves ${check.id}`)
      await this.leave(plan)
    }
  }

  private handledOf = (want: Want) => handled(want, false, this.bench.rig.airframe.power.pack.cells)

  /** Starts a take and does what its screen asks for; returns its verdict, or null where it came to none. */
  private async start(check: Check, isOver: () => boolean): Promise<string | null> {
    const { screen, job } = this
    const key = randomUUID()
    const before = (await this.takes()).length
    const begun = await screen.until('POST', `/jobs/${job}/takes`, { check: check.id }, key)
    this.does(`takes ${check.id} (${begun.status}${begun.status === 202 ? '' : ` ${JSON.stringify(begun.body)}`})`)
    if (begun.status !== 202) return null
    const promise = { job: job ?? '', key, isExcused: false }
    this.promised.takes.push(promise)
    return this.follow(check, isOver, promise, before)
  }

  private async follow(
    check: Check,
    isOver: () => boolean,
    promise: Promised['takes'][number],
    before: number,
  ): Promise<string | null> {
    const { bench, screen, job, part } = this
    let run: TakeAtScreen | null = null
    let gaveUp = false
    const airframe = { tag: this.tag, board: bench.rig.board.identity.board, parts: [] }
    const hands: LedHands = new LedHands(
      bench,
      { answer: ({ questions }) => lookAt(questions, handsOf(bench.rig), airframe, hands.felt) },
      this.handledOf,
      () => {},
      () => (gaveUp = true),
    )
    let ended: TakeTell['phase'] | null = null
    screen.onTake = (tell) => {
      if (tell.job !== job || tell.check !== check.id) return
      if (tell.phase === 'stored' || tell.phase === 'aborted') ended = tell.phase
      run ??= new TakeAtScreen(screen, job, tell)
      run.hear(tell)
      hands.follow(run.tell, run)
    }
    // What is seen, felt and heard while motors may turn.
    const feel = () => {
      const { want } = hands
      if (want === null || (want.kind !== 'turn' && armedUnder(want) === null)) return
      if (want.kind !== 'turn' || bench.rig.board.drives) hands.felt.set(want.label, handsOf(bench.rig))
    }
    bench.link.on('told', feel)
    const untilMs = part.clock.nowMs() + patienceS * 1000
    try {
      // A screen that missed the end of it sees that nothing runs any more.
      for (let looks = 0; ended === null; looks++) {
        await elapsed(part.clock, lookS)
        feel()
        if (gaveUp || part.clock.nowMs() > untilMs || isOver()) {
          promise.isExcused = true
          await screen.until('DELETE', `/jobs/${job}/takes/running`)
          return null
        }
        if (looks % 10 === 9 && (await this.takes()).length > before) break
      }
      const taken = (await this.takes())[before]
      this.does(
        `has ${check.id}: ${taken?.verdict ?? 'no entry'} ${taken?.findings.find((f) => f.verdict === 'refused')?.value ?? ''}`,
      )
      this.verdicts(taken?.verdict ?? 'none')
      if (taken?.verdict === 'fail') await this.repair(taken)
      return taken?.verdict ?? null
    } finally {
      screen.onTake = () => {}
      bench.link.off('told', feel)
      hands.end()
    }
  }

  /** The takes on the card. */
  private async takes(): Promise<(TakeBody & { seq: number })[]> {
    const { entries } = await this.view()
    return entries.flatMap(({ seq, body }) => (body.kind === 'take' ? [{ ...body, seq }] : []))
  }

  /** Does what a take says to do, where Taraf can. */
  private async repair({ seq, findings }: TakeBody & { seq: number }): Promise<void> {
    const finding = findings.find(({ remedy }) => remedy?.by === 'settings' || remedy?.by === 'calibration')
    if (finding !== undefined) await this.screen.until('POST', `/jobs/${this.job}/remedies`, { seq, key: finding.key })
  }

  private async leave(plan: readonly Want[]): Promise<void> {
    try {
      await this.within(leaveBench(this.bench, plan))
    } catch {
      // What turns is left alone; it is looked at again before the next take.
    }
  }

  private within(work: Promise<void>): Promise<void> {
    const tooLong = elapsed(this.part.clock, patienceS).then(() => {
      throw new Error('it took too long')
    })
    return Promise.race([work, tooLong])
  }
}
