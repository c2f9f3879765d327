import type { Change, Observation, Person, Remedy, Said, TakeTell } from '@taraf/contract'
import {
  answersInLoader,
  checkById,
  checks,
  isPropsOff,
  isToMend,
  missingNeeds,
  planOf,
  wantsBattery,
  wantsHovers,
  whyAbsent,
  type Check,
  type Written,
} from '@taraf/core'
import { valuesOf, type SettingsAct } from '@taraf/core/atLink'
import { type BoardAsSeen } from '@taraf/core/watches'
import {
  Aborted,
  MotorHeat,
  TakeRun,
  changeSettings,
  elapsed,
  untilStill,
  wantKept,
  type BoardLink,
  type Cancel,
  type Clock,
  type HeatStore,
  type Press,
} from '@taraf/takes'
import type { Logger } from 'pino'
import type { Benches } from '../benches/benches'
import { linkForWork, wantOpen, wantOutOfLoader } from '../benches/forWork'
import { wantPropsOff } from '../benches/propsOff'
import type { Config } from '../config'
import { isDatabaseAway, type Database } from '../database/database'
import { problemFrom } from '../http/problem'
import { ProblemError } from '@taraf/contract'
import type { Jobs } from '../jobs/jobs'
import type { Cards } from '../record/cards'
import { keepTake } from '../record/keepTake'
import { foundChanged, recordRuns, recordSettings } from '../record/recordSettings'
import { hoversOf } from './hovers'
import { takeObserved, wantPhotos } from './observed'
import type { RunningTakes } from '../record/runningTakes'
import type { EvidenceWork } from '../work/work'

const sweepMs = 1_000
/** A database that is away is tried again for so long. */
const awayMs = 60_000
const againS = 0.4

/** Takes and remedies: what a bench does for a job card, one at a time. */
export class Takes {
  private readonly running = new Map<string, TakeRun>()
  private readonly beginning = new Set<string>()
  private stopSweeping: Cancel = () => {}
  private readonly listeners: ((tell: TakeTell) => void)[] = []
  private readonly heats = new WeakMap<BoardLink, MotorHeat>()

  constructor(
    private readonly db: Database,
    private readonly config: Config,
    private readonly jobs: Jobs,
    private readonly cards: Cards,
    private readonly benches: Benches,
    private readonly runs: RunningTakes,
    private readonly work: EvidenceWork,
    private readonly heat: HeatStore,
    private readonly clock: Clock,
    private readonly log: Logger,
  ) {}

  /** From now on, takes that no server ended are put on the record as refused. */
  start(): void {
    const sweep = async () => {
      const before = [...this.running]
      try {
        const noted = await this.runs.sweep(this.cards, (job) => this.running.has(job) || this.beginning.has(job))
        // Another server took this one for gone, and has put a refused take on the card: this one ends.
        for (const [job, run] of before) if (!noted.has(job)) run.stop()
      } catch (error) {
        if (!isDatabaseAway(error)) this.log.warn({ err: error }, 'takes that were cut off not kept')
      }
    }
    this.stopSweeping = this.clock.every(sweepMs, () => void sweep())
    void sweep()
  }

  stop(): void {
    this.stopSweeping()
  }

  /** Ends what somebody takes who may not any more. */
  stopOf(person: string): void {
    for (const run of this.running.values()) if (run.by.id === person) run.stop()
  }

  /** How long motors have turned on a link; it is watched from the first time on that it is asked for. */
  heatOf(link: BoardLink): MotorHeat {
    const known = this.heats.get(link) ?? new MotorHeat(link, this.clock, this.heat)
    this.heats.set(link, known)
    return known
  }

  onTell(listener: (tell: TakeTell) => void): void {
    this.listeners.push(listener)
  }

  /** How the running take of a job card stands, for a screen that comes late. */
  tellOf(job: string): TakeTell | null {
    return this.running.get(job)?.tell ?? null
  }

  /** Starts a take of a check. It captures its first segment at once and goes on by itself or by `next`. */
  async begin(
    job: string,
    checkId: string,
    by: Person,
    requestKey: string,
    { observations, began }: { observations?: readonly Observation[] | undefined; began?: number | undefined } = {},
  ): Promise<number | null> {
    const check = checkById(checkId)
    if (check === undefined) throw new ProblemError('not-found', `There is no check ${checkId}.`)
    const view = await this.jobs.view(job)
    wantOpen(view)
    const absent = whyAbsent(check, view.sheet)
    if (absent !== null) throw new ProblemError('needs-first', `"${check.title}" is not run on ${view.tag}: ${absent}.`)
    const missing = missingNeeds(check, view.standings)
    if (missing.length > 0)
      throw new ProblemError(
        'needs-first',
        `First: ${missing.map((id) => `"${checks.find((c) => c.id === id)?.title ?? id}"`).join(', ')}.`,
      )
    const plan = planOf(check, view.sheet)
    if (plan.every((want) => want.kind === 'answers'))
      return takeObserved(
        this.db,
        this.config,
        this.cards,
        view,
        check,
        { observations: observations ?? [], began, at: this.clock.date() },
        by,
        requestKey,
      )
    if (observations !== undefined)
      throw new ProblemError('malformed', `observations: "${check.title}" is measured; what it finds cannot be typed in.`)
    const { bench, link } = await linkForWork(this.benches, view, by)
    if (!answersInLoader(plan)) wantOutOfLoader(link)
    const powerId = wantsBattery(plan) ? wantPropsOff(view, link) : null
    const hovers = wantsHovers(check) ? await hoversOf(this.db, job, view.sheet) : []
    const take = {
      check,
      began: view.entries.length,
      by: by.id,
      bench: bench.name,
      board: view.board,
      requestKey,
    }
    const leave = link.occupy(`a take of "${check.title}"`)
    this.beginning.add(job)
    try {
      await this.runs.begin({ job, ...take, check: check.id, checkVersion: check.version })
    } catch (error) {
      leave()
      this.beginning.delete(job)
      throw error
    }
    const run = new TakeRun({
      job,
      check,
      by,
      link,
      clock: this.clock,
      heat: this.heatOf(link),
      sheet: view.sheet,
      airframe: { tag: view.tag, board: view.board, parts: view.parts },
      place: this.config.place,
      hovers,
      powerId,
      propsOff: async () => {
        const { entries } = await this.jobs.view(job)
        const now = link.state !== null && link.state.power !== 'cable' ? link.state.powerId : null
        return now !== null && isPropsOff(entries, view.board, now) ? now : null
      },
      saidProps: (what, seen) => this.keepProps(job, by, what, seen),
      told: (tell) => this.listeners.forEach((listener) => listener(tell)),
      wrote: (written) => this.keepWritten(job, check, by, written),
      changed: (change) => this.keepChange(job, check, by, change),
      found: (seen) => this.keepFound(job, by, seen),
    })
    this.running.set(job, run)
    this.beginning.delete(job)
    void this.keepWhole(job, run, take)
      .catch(async (error: unknown) => {
        const stopped = error instanceof Aborted
        // What nobody stopped is swept up as a refused take.
        if (stopped) await this.whileAway(() => this.runs.end(job)).catch(() => {})
        if (!stopped) this.log.warn({ err: error, job }, 'take not kept')
        run.say({ phase: 'aborted', ...(stopped ? {} : { detail: problemFrom(error).detail }) })
      })
      .finally(() => {
        leave()
        this.running.delete(job)
      })
    return null
  }

  /** Goes on with the next step of a take that waits for the technician, or notes what they say of the one in hand, or answers its list. */
  async next(
    job: string,
    by: Person,
    { observations, ...seen }: Said & { observations?: readonly Observation[] | undefined } = {},
  ) {
    const run = await this.mine(job, by)
    if (observations !== undefined) {
      await wantPhotos(this.db, job, observations)
      return run.answer(observations)
    }
    if (Object.keys(seen).length === 0) run.next()
    else run.mark(seen)
  }

  /** A sign of life of a control that is held down: what turns under it goes on. Anybody else's, or a late one, does nothing. */
  keep(job: string, by: Person, press: Press): void {
    const run = this.running.get(job)
    if (run?.by.id === by.id) run.keep(press)
  }

  /** Ends a running take without keeping anything. */
  async abort(job: string, by: Person): Promise<void> {
    const run = await this.mine(job, by)
    run.stop()
  }

  /** Does a remedy that a take's finding names, where Taraf can do it over the link. Returns the entry that records it. */
  async applyRemedy(job: string, seq: number, key: string, by: Person, requestKey: string): Promise<number> {
    const view = await this.jobs.view(job)
    wantOpen(view)
    const take = view.entries.find((e) => e.seq === seq)?.body
    const remedy = take?.kind === 'take' ? take.findings.find((f) => f.key === key)?.remedy : undefined
    const act = remedy === undefined ? null : actOf(remedy)
    if (take?.kind !== 'take' || remedy === undefined || act === null)
      throw new ProblemError('no-such-remedy', `Take ${seq} names no remedy for "${key}" that Taraf can do.`)
    if (!isToMend(view.standings, view.entries, seq))
      throw new ProblemError(
        'no-such-remedy',
        `Take ${seq} no longer decides; its remedy was computed for what the board was then.`,
      )
    const { link } = await linkForWork(this.benches, view, by)
    wantOutOfLoader(link)
    const leave = link.occupy('a write to the board')
    try {
      // After a take that turned them, bells coast for a while.
      if (link.phase === 'up') await untilStill(this.clock, link)
      const written = await changeSettings(link, act)
      const why = { cause: `Remedy of take ${seq}.`, remedyOf: { seq, act: remedy.act } }
      const entry = await this.cards.change(job, (locked) =>
        recordSettings(this.db, locked, by.id, written.after, why, requestKey, written.before, written.asked),
      )
      wantKept(written)
      return entry ?? seq
    } finally {
      leave()
    }
  }

  private async keepWhole(
    job: string,
    run: TakeRun,
    take: { check: Check; began: number; by: string; bench: string; board: string; requestKey: string },
  ): Promise<void> {
    const { evidence, findings, verdict } = await run.capture()
    const packed = evidence === null ? null : await this.work.pack(evidence)
    const seq = await this.whileAway(() =>
      this.cards.change(job, async (locked) => {
        if (!(await this.runs.end(job, locked.transaction))) return this.runs.keptAs(locked, take.requestKey)
        return keepTake(this.db, locked, { ...take, verdict, findings, evidence, packed })
      }),
    )
    if (seq === null) throw new Aborted()
    run.say({ phase: 'stored', share: 1, seq })
  }

  /** Tries again for a minute while the database is away, so that what was captured is not lost with it. */
  private async whileAway<T>(work: () => Promise<T>): Promise<T> {
    for (const untilMs = this.clock.nowMs() + awayMs; ;) {
      try {
        return await work()
      } catch (error) {
        if (!isDatabaseAway(error) || this.clock.nowMs() > untilMs) throw error
        await elapsed(this.clock, againS)
      }
    }
  }

  /** Keeps what a take wrote, before the proof that is part of it. */
  private async keepWritten(job: string, check: Check, by: Person, { before, after, asked }: Written): Promise<void> {
    const why = writtenIn(check)
    await this.whileAway(() =>
      this.cards.change(job, (locked) => recordSettings(this.db, locked, by.id, after, why, null, before, asked)),
    )
  }

  /** The same of what is no setting of the board. */
  private async keepChange(job: string, check: Check, by: Person, change: Change): Promise<void> {
    await this.whileAway(() =>
      this.cards.change(job, (locked) => locked.append(by.id, { kind: 'change', change, ...writtenIn(check) })),
    )
  }

  private async keepProps(job: string, by: Person, what: 'props off' | 'props on', powerId: string): Promise<void> {
    await this.cards.change(job, (locked) => locked.append(by.id, { kind: 'confirmed', what, powerId, board: locked.board }))
  }

  /** Keeps what somebody else changed on the board of a card while a take ran. */
  private async keepFound(job: string, by: Person, { identity, settings }: BoardAsSeen): Promise<void> {
    await this.cards.change(job, async (locked) => {
      if (identity === null || identity.board !== locked.board) return
      if (identity.firmware !== null) await recordRuns(this.db, locked, by.id, identity.firmware, { cause: foundChanged })
      if (settings.length > 0) await recordSettings(this.db, locked, by.id, valuesOf(settings), { cause: foundChanged })
    })
  }

  private async mine(job: string, by: Person): Promise<TakeRun> {
    const run = this.running.get(job)
    if (run === undefined && (await this.runs.isElsewhere(job)))
      throw new ProblemError('bench-elsewhere', 'Another server runs this take: go on at the screen that it was started on.')
    if (run === undefined) throw new ProblemError('no-take', 'No take is running on this job card.')
    if (run.by.id !== by.id) throw new ProblemError('bench-held', `${run.by.name} is taking it.`)
    return run
  }
}

const writtenIn = ({ id, title }: Check) => ({ cause: `Written in the take of "${title}" that follows.`, within: id })

/** What Taraf does of a remedy over the link, as an act on the board's settings; null where hands must do it. */
const actOf = (remedy: Remedy): SettingsAct | null => {
  switch (remedy.by) {
    case 'settings':
      return { do: 'write', settings: remedy.settings }
    case 'calibration':
      return { do: 'calibrate', sensor: remedy.calibrate }
    default:
      return null
  }
}
