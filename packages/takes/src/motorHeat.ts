import { TurningClock } from '@taraf/core/watches'
import { elapsed, type Cancel, type Clock } from './clock'
import type { BoardLink } from './link/boardLink'

/** Where it is kept how long the motors of an airframe have turned without cooling, by the board that is built into it. */
export interface HeatStore {
  /** What was kept, less what they have cooled since, s. */
  read(board: string): Promise<number>
  keep(board: string, warmS: number): Promise<void>
}

/** How often it is kept while motors turn: what a server that ends forgets is less. */
const keepEveryMs = 1_000
/** What could not be read is read again after so long, s. */
const againS = 1

/**
 * How long the motors of the airframe on a link have turned without cooling. It is kept, so that neither a restart nor another server grants
 * them the whole time again. What nobody hears is taken to turn for as long as its battery is in.
 */
export class MotorHeat {
  private turning = new TurningClock()
  private board: string | null = null
  private isTurning = false
  private isRead = true
  private reading: Promise<void> = Promise.resolve()
  private stopKeeping: Cancel = () => {}

  constructor(
    private readonly link: BoardLink,
    private readonly clock: Clock,
    private readonly store: HeatStore,
  ) {
    link.on('phase', this.look)
    this.look()
  }

  /** Resolves once what was kept of this airframe is known: until then nobody can say that its motors are cold. */
  async known(signal: AbortSignal): Promise<void> {
    for (await this.reading; !this.isRead; await this.reading) {
      await elapsed(this.clock, againS, signal)
      this.readKept()
    }
  }

  /** How long they have turned, s. */
  get warmS(): number {
    return this.turning.at(this.nowS)
  }

  end(): void {
    this.link.off('phase', this.look)
    this.stopKeeping()
  }

  private get nowS(): number {
    return this.clock.nowMs() / 1000
  }

  private readonly look = (): void => {
    const { phase, state, identity, isOver } = this.link
    if (isOver) return this.end()
    if (identity !== null && identity.board !== this.board) this.begin(identity.board)
    const now = state !== null && (phase === 'up' ? state.motors !== 'still' : state.power !== 'cable')
    this.turning.push(this.nowS, now)
    if (now === this.isTurning) return
    this.isTurning = now
    this.keep()
    this.stopKeeping()
    this.stopKeeping = now ? this.clock.every(keepEveryMs, () => this.keep()) : () => {}
  }

  /** Another airframe is on the bench. */
  private begin(board: string): void {
    this.board = board
    this.turning = new TurningClock()
    this.isRead = false
    this.readKept()
  }

  /** Reads what was kept, and is asked again where that cannot be read. */
  private readKept(): void {
    const { board, turning } = this
    if (board === null) return
    const take = (warmS: number) => {
      if (this.turning !== turning || this.isRead) return
      turning.add(warmS)
      this.isRead = true
    }
    this.reading = this.store.read(board).then(take, () => {})
  }

  private keep(): void {
    const { board } = this
    if (!this.isRead) this.readKept()
    // Kept again a moment later, where it could not be; and never before what was kept is known, which it would replace.
    const keep = () => (this.isRead && board !== null ? this.store.keep(board, this.warmS) : undefined)
    void this.reading.then(keep).catch(() => {})
  }
}
