import { supersededCode } from '@taraf/contract'
import { stepS, type Rig } from '../rig'
import type { BoardEnd, Fate, LinkHost } from './boardEnd'

/** Held up for longer, the process that keeps its time was suspended: what is in between was never sampled. */
const longestCatchUpMs = 3_000
/** Armed by a transmitter, a bench runs no faster than that: a test that walks it in a hurry still has to be in time. */
const mostArmedPace = 3

/** Times in milliseconds, all by one clock. */
export interface BenchTime {
  readonly nowMs: () => number
}

/**
 * One simulated airframe on one bench: its clock and its links. The board's clock is the bench's: everything that is measured
 * goes by it. It can run faster than others do; a little where something may turn, and never under a permit that a hand keeps or a script goes by:
 * what keeps people safe is counted in their time.
 */
export class RigBench {
  private bootedAtMs: number
  private awayUntilMs = 0
  private boots: number
  private steppedAtMs: number
  private owedS = 0
  private pace = 1
  /** The highest lease that a link came with: an older one never drives this board again. */
  private lease = 0
  link: BoardEnd | null = null
  /** Links that were made, the board's own among them. */
  readonly links = new Set<BoardEnd>()
  /** Asked before each step what becomes of its sample; it may do something to the rig itself. */
  beforeStep: (() => Fate) | null = null

  constructor(
    readonly rig: Rig,
    private readonly time: BenchTime,
  ) {
    this.boots = rig.board.boots
    this.bootedAtMs = this.steppedAtMs = time.nowMs()
  }

  /**
   * Steps the rig up to now. After a pause of the process that keeps its time the samples in between are missing, as they would be.
   *
   * @param dozesS nobody takes its samples: while nothing moves time is jumped over, so much at a time
   */
  tick(dozesS: number | null = null): void {
    const nowMs = this.time.nowMs()
    this.noticeBoot(nowMs)
    if (nowMs < this.awayUntilMs) return
    const passedMs = nowMs - this.steppedAtMs
    const { rig } = this
    const dozes = dozesS !== null && rig.resting && this.link?.answersLater !== true
    if (dozes && passedMs < dozesS * 1000) return
    this.steppedAtMs = nowMs
    if (passedMs > longestCatchUpMs) return rig.skip(passedMs / 1000)
    this.owedS += (passedMs / 1000) * this.paceNow
    if (dozes && this.owedS >= stepS) {
      rig.skip(this.owedS)
      this.owedS = 0
      rig.frames.length = 0
      return this.link?.skipped()
    }
    // What was rounded on the way is no step that is missing.
    for (; this.owedS >= stepS - 1e-9; this.owedS -= stepS) {
      const fate = this.beforeStep?.() ?? 'keep'
      const sample = rig.step(this.link?.stage ?? 'body')
      this.link?.sampled(sample, fate)
      rig.frames.length = 0
    }
  }

  set times(times: number) {
    this.pace = times
  }

  private get paceNow(): number {
    const { board, turning } = this.rig
    const permit = board.permits.current?.kind
    if (permit === 'spin' || permit === 'teach') return 1
    return permit !== undefined || turning || board.arming.armed ? Math.min(this.pace, mostArmedPace) : this.pace
  }

  /** The link runs over the cable; a board that starts takes no link yet. */
  get away(): boolean {
    return !this.rig.power.cable || this.time.nowMs() < this.awayUntilMs
  }

  /** A link to it was closed at its other end. */
  left(link: BoardEnd): void {
    this.links.delete(link)
    if (this.link !== link) return
    this.link = null
    this.rig.linkClosed()
  }

  /** The cable was taken out, or the power went: the link is gone with it. */
  afterHands(): void {
    this.noticeBoot(this.time.nowMs())
    if (!this.rig.power.cable) this.closeAll(1001, 'the cable is out')
  }

  readonly host: LinkHost = {
    admit: (link, lease) => {
      if (lease < this.lease) return false
      this.lease = lease
      if (this.link === link) return true
      this.link?.close(supersededCode, 'another link took over')
      if (this.link !== null) this.rig.linkClosed()
      this.link = link
      this.rig.frames.length = 0
      this.rig.board.events.length = 0
      return true
    },
    isAdmitted: (link) => this.link === link,
    bootedAtMs: (): number => this.bootedAtMs,
    restart: (): number => {
      const awayMs = (this.rig.restart() * 1000) / this.pace
      this.begin(this.time.nowMs() + awayMs)
      return awayMs
    },
  }

  /** The board started by itself: power came. */
  private noticeBoot(nowMs: number): void {
    if (this.rig.board.boots === this.boots) return
    this.closeAll(1012, 'restarting')
    this.begin(nowMs)
  }

  private closeAll(code: number, why: string): void {
    for (const link of this.links) link.close(code, why)
  }

  private begin(atMs: number): void {
    this.boots = this.rig.board.boots
    this.awayUntilMs = atMs
    this.bootedAtMs = atMs
    this.steppedAtMs = atMs
    this.owedS = 0
  }
}
