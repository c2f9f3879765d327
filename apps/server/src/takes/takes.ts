import type { Observation, Person, Remedy, Settings, TakeTell } from '@taraf/contract'
import { checkById, checks, missingNeeds, questionsOf, segmentsOf, wantsBattery, type Check } from '@taraf/core'
import { setTimeout } from 'node:timers/promises'
import type { Logger } from 'pino'
import type { Config } from '../config'
import { isDatabaseAway, type Database } from '../database'
import { ProblemError, problemFrom } from '../http/problem'
import type { Jobs, LockedJob } from '../jobs/jobs'
import type { BenchLink } from '../links/benchLink'
import type { Benches } from '../links/benches'
import { recordSettings } from '../links/boardWatch'
import { linkForWork, wantOpen, wantOutOfLoader } from '../links/forWork'
import { writeRemedy } from '../links/writeSettings'
import { packEvidence } from './evidenceStore'
import { keepTake } from './keepTake'
import { takeObserved } from './observed'
import { Aborted, TakeRun } from './takeRun'
import { wantPropsOff } from '../links/propsOff'

/** Whether a check only asks what a board answers in its loader too. */
const answersInLoader = (check: Check): boolean =>
  segmentsOf(check).every(({ seconds, asks }) => seconds === 0 && asks?.[0] === 'identity')

/** Takes and remedies: what a bench does for a job card, one at a time. */
export class Takes {
  private readonly running = new Map<string, TakeRun>()
  private readonly listeners: ((tell: TakeTell) => void)[] = []

  constructor(
    private readonly db: Database,
    private readonly config: Config,
    private readonly jobs: Jobs,
    private readonly benches: Benches,
    private readonly log: Logger,
  ) {}

  onTell(listener: (tell: TakeTell) => void): void {
    this.listeners.push(listener)
  }

  /** How the running take of a job card stands, for a screen that comes late. */
  tellOf(job: string): TakeTell | null {
    return this.running.get(job)?.tell ?? null
  }

  /** Starts a take of a check. It captures its first segment at once and goes on by itself or by `next`. */
  async start(
    job: string,
    checkId: string,
    by: Person,
    requestKey: string,
    observations?: readonly Observation[],
  ): Promise<number | null> {
    const check = checkById(checkId)
    if (check === undefined) throw new ProblemError('not-found', `There is no check ${checkId}.`)
    const view = await this.jobs.view(job)
    wantOpen(view)
    if (!check.appliesTo(view.sheet))
      throw new ProblemError('needs-first', `The sheet of ${view.tag} does not need "${check.title}".`)
    const missing = missingNeeds(check, view.standings)
    if (missing.length > 0)
      throw new ProblemError(
        'needs-first',
        `First: ${missing.map((id) => `"${checks.find((c) => c.id === id)?.title ?? id}"`).join(', ')}.`,
      )
    if (questionsOf(check, view.sheet) !== null) {
      const change = <T>(work: (locked: LockedJob) => Promise<T>) => this.jobs.change(job, work)
      return takeObserved(this.db, this.config, view, check, observations ?? [], by, change, requestKey)
    }
    if (observations !== undefined)
      throw new ProblemError('malformed', `observations: "${check.title}" is measured; what it finds cannot be typed in.`)
    const { bench, link } = await linkForWork(this.benches, view, by)
    if (!answersInLoader(check)) wantOutOfLoader(link)
    if (wantsBattery(check)) wantPropsOff(view, link)
    const leave = link.occupy(`a take of "${check.title}"`)
    const run = new TakeRun({
      job,
      check,
      by,
      link,
      sheet: view.sheet,
      airframe: { tag: view.tag, board: view.board, parts: view.parts },
      place: this.config.place,
      told: (tell) => this.listeners.forEach((listener) => listener(tell)),
      write: (remedy) => this.writeWithin(job, link, check, by, remedy),
    })
    this.running.set(job, run)
    void this.keepWhole(job, run, { check, by: by.id, bench: bench.name, board: view.board, requestKey })
      .catch((error: unknown) => {
        const stopped = error instanceof Aborted
        if (!stopped) this.log.warn({ err: error, job }, 'take not kept')
        run.say({ phase: 'aborted', ...(stopped ? {} : { detail: problemFrom(error).detail }) })
      })
      .finally(() => {
        leave()
        this.running.delete(job)
      })
    return null
  }

  /** Goes on with the next segment of a take that waits for the technician, or marks the side that points up. */
  next(job: string, by: Person, seen: Pick<Observation, 'up' | 'antenna'> = {}): void {
    const run = this.mine(job, by)
    if (seen.up === undefined && seen.antenna === undefined) run.next()
    else run.mark(seen)
  }

  /** A sign of life of a control that is held down: what turns under it goes on. Anybody else's, or a late one, does nothing. */
  keep(job: string, by: Person, press: string): void {
    const run = this.running.get(job)
    if (run?.by.id === by.id) run.keep(press)
  }

  /** Ends a running take without keeping anything. */
  abort(job: string, by: Person): void {
    this.mine(job, by).stop()
  }

  /** Does a remedy that a take's finding names, where Taraf can do it over the link. Returns the entry that records it. */
  async applyRemedy(job: string, seq: number, key: string, by: Person, requestKey: string): Promise<number> {
    const view = await this.jobs.view(job)
    wantOpen(view)
    const take = view.entries.find((e) => e.seq === seq)?.body
    const remedy = take?.kind === 'take' ? take.findings.find((f) => f.key === key)?.remedy : undefined
    if (take?.kind !== 'take' || remedy === undefined || (remedy.settings === undefined && remedy.calibrate === undefined))
      throw new ProblemError('no-such-remedy', `Take ${seq} names no remedy for "${key}" that Taraf can do.`)
    if (view.standings[take.check]?.take !== seq || view.standings[take.check]?.state !== 'fail')
      throw new ProblemError(
        'no-such-remedy',
        `Take ${seq} no longer decides; its remedy was computed for what the board was then.`,
      )
    const { link } = await linkForWork(this.benches, view, by)
    wantOutOfLoader(link)
    const leave = link.occupy('a write to the board')
    try {
      const written = await writeRemedy(link, remedy)
      return await this.jobs.change(job, async (locked) => {
        const why = { cause: `Remedy of take ${seq}.`, remedyOf: { seq, act: remedy.act } }
        return (await recordSettings(this.db, locked, by.id, written.after, why, requestKey, written.before)) ?? seq
      })
    } finally {
      leave()
    }
  }

  private async keepWhole(
    job: string,
    run: TakeRun,
    take: { check: Check; by: string; bench: string; board: string; requestKey: string },
  ): Promise<void> {
    const { evidence, findings, verdict } = await run.capture()
    const packed = evidence === null ? null : packEvidence(evidence)
    const seq = await this.whileAway(() =>
      this.jobs.change(job, (locked) => keepTake(this.db, locked, { ...take, verdict, findings, evidence, packed })),
    )
    run.say({ phase: 'stored', share: 1, seq })
  }

  /** Tries again for a minute while the database is away, so that what was captured is not lost with it. */
  private async whileAway<T>(work: () => Promise<T>): Promise<T> {
    for (const until = Date.now() + 60_000; ;) {
      try {
        return await work()
      } catch (error) {
        if (!isDatabaseAway(error) || Date.now() > until) throw error
        await setTimeout(400)
      }
    }
  }

  /** Writes what a calibration found, as part of its take. Returns all settings as read back. */
  private async writeWithin(job: string, link: BenchLink, check: Check, by: Person, remedy: Remedy): Promise<Settings> {
    const { before, after } = await writeRemedy(link, remedy)
    const why = { cause: `Written in the take of "${check.title}" that follows.` }
    await this.whileAway(() =>
      this.jobs.change(job, (locked) => recordSettings(this.db, locked, by.id, after, why, null, before)),
    )
    return after
  }

  private mine(job: string, by: Person): TakeRun {
    const run = this.running.get(job)
    if (run === undefined) throw new ProblemError('no-take', 'No take is running on this job card.')
    if (run.by.id !== by.id) throw new ProblemError('bench-held', `${run.by.name} is taking it.`)
    return run
  }
}
