import type { BoardSetting, ImageTell, Person, Runs, Settings } from '@taraf/contract'
import { meansOther, writeImage } from '@taraf/core'
import { valuesOf } from '@taraf/core/atLink'
import type { Clock } from '@taraf/takes'
import type { Logger } from 'pino'
import type { Database } from '../database/database'
import { problemFrom } from '../http/problem'
import { ProblemError } from '@taraf/contract'
import type { Jobs } from '../jobs/jobs'
import type { BenchLink } from '../links/benchLink'
import type { Benches } from '../benches/benches'
import type { Cards } from '../record/cards'
import { recordRuns, recordSettings } from '../record/recordSettings'
import { linkForWork, wantOpen } from '../benches/forWork'
import { readImage, type KeptImage } from './images'

const tellEveryMs = 100
const endAskMs = 15_000

/** What a board was before an image was written: what its settings meant, and what they were. */
interface Seen {
  readonly meaning: BoardSetting[] | null
  readonly values: Settings | null
}

/** Writes images to boards, one a bench at a time, and tells how far each is. */
export class ImageWriting {
  private readonly running = new Map<string, ImageTell>()
  private readonly listeners: ((tell: ImageTell) => void)[] = []

  constructor(
    private readonly db: Database,
    private readonly jobs: Jobs,
    private readonly cards: Cards,
    private readonly benches: Benches,
    private readonly clock: Clock,
    private readonly log: Logger,
  ) {}

  onTell(listener: (tell: ImageTell) => void): void {
    this.listeners.push(listener)
  }

  tellOf(job: string): ImageTell | null {
    return this.running.get(job) ?? null
  }

  /** Begins to write an image, or goes on with one that was cut off. Refuses one that is not for this board. */
  async start(job: string, sha256: string, reason: string, by: Person): Promise<void> {
    const view = await this.jobs.view(job)
    wantOpen(view)
    const { link } = await linkForWork(this.benches, view, by)
    const image = await readImage(this.db, sha256)
    if (image.target !== link.identity?.target)
      throw new ProblemError(
        'image-wrong',
        `The image is for target ${image.target}, the board is ${link.identity?.target ?? 'unknown'}.`,
      )
    const pinned = view.sheet.board?.firmware?.approved.find((a) => a.version === image.version)?.sha256
    if (pinned !== undefined && pinned !== sha256)
      throw new ProblemError('image-wrong', `The sheet pins version ${image.version} to an image with another hash.`)
    if (link.state?.motors !== 'still') throw new ProblemError('bench-busy', 'The motors are not still. Nothing was written.')
    const leave = link.occupy('the writing of an image')
    this.say({ tell: 'image', job, version: image.version, phase: 'looking', share: 0 })
    void this.write(job, link, image, reason, by)
      .then(() => this.say({ tell: 'image', job, version: image.version, phase: 'done', share: 1 }))
      .catch((error: unknown) => {
        this.log.warn({ err: error, job }, 'image not written')
        const { detail } = problemFrom(error)
        this.say({ tell: 'image', job, version: image.version, phase: 'failed', share: 0, detail })
      })
      .finally(() => {
        leave()
        this.running.delete(job)
      })
  }

  private async write(job: string, link: BenchLink, image: KeptImage, reason: string, by: Person): Promise<void> {
    const seen = await this.seenBefore(job, link)
    const steps = writeImage(image.data, image.sha256)
    let toldMs = -Infinity
    let toldPhase = ''
    for (let step = steps.next(); ;) {
      if (step.done === true) {
        if ('why' in step.value) throw new ProblemError('board-refused', `${step.value.why}. The board stays in its loader.`)
        break
      }
      const { phase, share, ask } = step.value
      if (this.clock.nowMs() - toldMs > tellEveryMs || phase !== toldPhase) {
        toldMs = this.clock.nowMs()
        toldPhase = phase
        this.say({ tell: 'image', job, version: image.version, phase, share })
      }
      step = steps.next((await link.ask(ask, endAskMs)) as never)
      if (ask.ask === 'image.begin') await link.identify()
    }
    this.say({ tell: 'image', job, version: image.version, phase: 'restarting', share: 1 })
    await link.restart()
    const runs = link.identity?.firmware ?? null
    if (runs?.version !== image.version || runs.name !== image.name)
      throw new ProblemError(
        'write-differs',
        `After its restart the board says ${runs === null ? 'nothing' : `${runs.name} ${runs.version}`}.`,
      )
    const { settings: after } = await link.ask({ ask: 'settings.list' })
    await this.record(job, by, { ...runs, sha256: image.sha256 }, reason, seen, after)
  }

  /** What the board was before: as it says now, or as it was seen last where an earlier try left it in its loader. */
  private async seenBefore(job: string, link: BenchLink): Promise<Seen> {
    const runs = link.identity?.firmware ?? null
    if (runs !== null) {
      const { settings } = await link.ask({ ask: 'settings.list' })
      return { meaning: settings, values: valuesOf(settings) }
    }
    const { tag } = await this.cards.find(job)
    const [row] = await this.db.select<{ values: Settings | null; meaning: BoardSetting[] | null }>(
      `SELECT a.board_settings AS values, k.settings AS meaning FROM airframes a
       LEFT JOIN board_settings k ON k.target = $target AND k.version = a.board_runs->>'version' WHERE a.tag = $tag`,
      { tag, target: link.identity?.target ?? '' },
    )
    return { meaning: row?.meaning ?? null, values: row?.values ?? null }
  }

  /** The firmware on the card, and after it what the update did to the settings. */
  private async record(
    job: string,
    by: Person,
    runs: Runs,
    reason: string,
    { meaning, values }: Seen,
    after: BoardSetting[],
  ): Promise<void> {
    const meansOtherNow = meaning === null ? [] : meansOther(meaning, after)
    await this.cards.change(job, async (locked) => {
      await recordRuns(this.db, locked, by.id, runs, { cause: reason, meansOther: meansOtherNow })
      const cause = 'Altered by the update of the firmware.'
      await recordSettings(this.db, locked, by.id, valuesOf(after), { cause }, null, values)
    })
  }

  private say(tell: ImageTell): void {
    this.running.set(tell.job, tell)
    for (const listener of this.listeners) listener(tell)
  }
}
