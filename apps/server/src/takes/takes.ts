import type { Evidence, Finding, Person, Segment, TakeTell } from '@taraf/contract'
import { checkById, checks, evaluate, missingNeeds, refusal, type Check } from '@taraf/core'
import type { Logger } from 'pino'
import type { Config } from '../config'
import { isDatabaseAway, type Database } from '../database'
import { ProblemError, problemFrom } from '../http/problem'
import type { Jobs } from '../jobs/jobs'
import type { BenchLink } from '../links/benchLink'
import type { Benches } from '../links/benches'
import { recordSettings } from '../links/boardWatch'
import { calibrateGyro, valuesOf, writeSettings } from '../links/writeSettings'
import { captureSegment, CaptureLost } from './capture'
import { documentOf } from './documentOf'
import { packEvidence, storeEvidence } from './evidenceStore'

interface Running {
  readonly check: Check
  readonly by: Person
  readonly abort: AbortController
  tell: TakeTell
  /** Set while the take waits for the technician between two segments. */
  goOn: (() => void) | null
}

class Aborted extends Error {}

/** Takes and remedies: what a bench does for a job card, one at a time. */
export class Takes {
  private readonly running = new Map<string, Running>()
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
  async start(job: string, checkId: string, by: Person, requestKey: string): Promise<void> {
    const check = checkById(checkId)
    if (check === undefined) throw new ProblemError('not-found', `There is no check ${checkId}.`)
    const view = await this.jobs.view(job)
    if (view.closedAt !== null) throw new ProblemError('job-closed', `Job card ${view.number} of ${view.tag} is handed over.`)
    if (!check.appliesTo(view.sheet))
      throw new ProblemError('needs-first', `The sheet of ${view.tag} does not need "${check.title}".`)
    const missing = missingNeeds(check, view.standings)
    if (missing.length > 0)
      throw new ProblemError(
        'needs-first',
        `First: ${missing.map((id) => `"${checks.find((c) => c.id === id)?.title ?? id}"`).join(', ')}.`,
      )
    const { bench, link } = await this.benches.linkFor(job, by)
    const board = link.identity?.board ?? ''
    if (board !== view.board)
      throw new ProblemError('wrong-board', `On ${bench.name} lies board ${board}; ${view.tag} has board ${view.board}.`)
    const leave = link.occupy(`a take of "${check.title}"`)
    const running: Running = {
      check,
      by,
      abort: new AbortController(),
      tell: { tell: 'take', job, check: check.id, phase: 'capturing', segment: 0, share: 0 },
      goOn: null,
    }
    this.running.set(job, running)
    void this.run(job, bench.name, board, link, running, view.sheet, requestKey)
      .catch((error: unknown) => {
        const stopped = error instanceof Aborted
        if (!stopped) this.log.warn({ err: error, job }, 'take not kept')
        this.say(running, { phase: 'aborted', ...(stopped ? {} : { detail: problemFrom(error).detail }) })
      })
      .finally(() => {
        leave()
        this.running.delete(job)
      })
  }

  /** Goes on with the next segment of a take that waits for the technician. */
  next(job: string, by: Person): void {
    const running = this.mine(job, by)
    if (running.goOn === null) throw new ProblemError('no-take', 'The take is not waiting for you.')
    running.goOn()
  }

  /** Ends a running take without keeping anything. */
  abort(job: string, by: Person): void {
    this.mine(job, by).abort.abort(new Aborted())
  }

  /** Does a remedy that a take's finding names, where Taraf can do it over the link. Returns the entry that records it. */
  async applyRemedy(job: string, seq: number, key: string, by: Person, requestKey: string): Promise<number> {
    const view = await this.jobs.view(job)
    if (view.closedAt !== null) throw new ProblemError('job-closed', `Job card ${view.number} of ${view.tag} is handed over.`)
    const take = view.entries.find((e) => e.seq === seq)?.body
    const remedy = take?.kind === 'take' ? take.findings.find((f) => f.key === key)?.remedy : undefined
    if (take?.kind !== 'take' || remedy === undefined || (remedy.settings === undefined && remedy.calibrate === undefined))
      throw new ProblemError('no-such-remedy', `Take ${seq} names no remedy for "${key}" that Taraf can do.`)
    if (view.standings[take.check]?.take !== seq || view.standings[take.check]?.state !== 'fail')
      throw new ProblemError(
        'no-such-remedy',
        `Take ${seq} no longer decides; its remedy was computed for what the board was then.`,
      )
    const { bench, link } = await this.benches.linkFor(job, by)
    if (link.identity?.board !== view.board)
      throw new ProblemError(
        'wrong-board',
        `On ${bench.name} lies board ${link.identity?.board ?? ''}; ${view.tag} has board ${view.board}.`,
      )
    const leave = link.occupy('a write to the board')
    try {
      const written = remedy.settings === undefined ? await calibrateGyro(link) : await writeSettings(link, remedy.settings)
      return await this.jobs.change(job, async (locked) => {
        const why = { cause: `Remedy of take ${seq}.`, remedyOf: { seq, act: remedy.act } }
        return (await recordSettings(this.db, locked, by.id, written.after, why, requestKey, written.before)) ?? seq
      })
    } finally {
      leave()
    }
  }

  private async run(
    job: string,
    bench: string,
    board: string,
    link: BenchLink,
    running: Running,
    sheet: Evidence['sheet'],
    requestKey: string,
  ): Promise<void> {
    const { check, by } = running
    const captured = await this.capture(link, running, sheet)
    const lost = Array.isArray(captured)
    if (!lost) this.say(running, { phase: 'judging', share: 1 })
    const { verdict, findings } = lost ? { verdict: 'refused' as const, findings: captured } : evaluate(check, captured)
    const packed = lost ? null : packEvidence(captured)
    const seq = await this.whileAway(() =>
      this.jobs.change(job, async (locked) => {
        const entry = await locked.append(
          by.id,
          {
            kind: 'take',
            check: check.id,
            checkVersion: check.version,
            verdict,
            findings,
            evidenceSha256: packed?.sha256.toString('hex') ?? null,
            bench,
            board,
          },
          requestKey,
        )
        if (packed !== null) await storeEvidence(this.db, locked.transaction, job, entry.seq, packed)
        return entry.seq
      }),
    )
    this.say(running, { phase: 'stored', share: 1, seq })
  }

  /** Tries again for a minute while the database is away, so that what was captured is not lost with it. */
  private async whileAway<T>(work: () => Promise<T>): Promise<T> {
    for (const until = Date.now() + 60_000; ;) {
      try {
        return await work()
      } catch (error) {
        if (!isDatabaseAway(error) || Date.now() > until) throw error
        await new Promise((resolve) => setTimeout(resolve, 400))
      }
    }
  }

  /** The take's evidence, or the findings of one that ended before it was whole. */
  private async capture(link: BenchLink, running: Running, sheet: Evidence['sheet']): Promise<Evidence | Finding[]> {
    const { check, abort } = running
    try {
      const settings = valuesOf((await link.ask({ ask: 'settings.list' })).settings)
      await link.setStage(check.capture.stage)
      const segments: Segment[] = []
      for (const [i, wanted] of check.capture.segments.entries()) {
        if (i > 0) await this.waitForHand(link, running, i)
        this.say(running, { phase: 'capturing', segment: i, share: 0 })
        segments.push(await captureSegment(link, check.capture.stage, wanted, abort.signal, this.steps(running)))
      }
      return documentOf(check, { at: new Date(), place: this.config.place, sheet, settings, segments })
    } catch (error) {
      if (error instanceof CaptureLost) return refusal(error.message, 'Wait until the board answers again, then take it again.')
      if (error instanceof ProblemError && error.type === 'link-lost')
        return refusal(`the link was lost: ${error.detail}`, 'Wait until the board answers again, then take it again.')
      throw error
    } finally {
      if (check.capture.stage !== 'body') await link.setStage('body').catch(() => {})
    }
  }

  /** Progress in steps of a twentieth: screens need no more. */
  private steps(running: Running): (share: number) => void {
    let told = 0
    return (share) => {
      if (share < 1 && share - told < 0.05) return
      told = share
      this.say(running, { share })
    }
  }

  private waitForHand(link: BenchLink, running: Running, segment: number): Promise<void> {
    this.say(running, { phase: 'waiting', segment, share: 0 })
    return new Promise((resolve, reject) => {
      const phase = () => link.phase !== 'up' && end(() => reject(new CaptureLost(`the link was lost: ${link.detail}`)))
      const abort = () => end(() => reject(new Aborted()))
      const end = (settle: () => void) => {
        running.goOn = null
        link.off('phase', phase)
        running.abort.signal.removeEventListener('abort', abort)
        settle()
      }
      running.goOn = () => end(resolve)
      link.on('phase', phase)
      running.abort.signal.addEventListener('abort', abort)
    })
  }

  private mine(job: string, by: Person): Running {
    const running = this.running.get(job)
    if (running === undefined) throw new ProblemError('no-take', 'No take is running on this job card.')
    if (running.by.id !== by.id) throw new ProblemError('bench-held', `${running.by.name} is taking it.`)
    return running
  }

  private say(running: Running, news: Partial<TakeTell>): void {
    running.tell = { ...running.tell, ...news }
    for (const listener of this.listeners) listener(running.tell)
  }
}
