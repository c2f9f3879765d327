import type { Cancel, Clock, JumpClock } from '@taraf/takes'

/**
 * One part of a shop, with the clock that it goes by. It can be ended, stopped for a while, or slowed, between any two things that it hears: one
 * that has ended hears nothing and does nothing, ever; one that is stopped hears it all once it goes on.
 */
export class Part {
  isOver = false
  /** How long everything that it hears waits, ms. */
  slowMs = 0
  private held: (() => void)[] | null = null
  /** When the newest that it was to hear is due. */
  private dueMs = 0
  private dateShiftMs = 0
  private readonly timers = new Set<Cancel>()
  private readonly endings: (() => void)[] = []

  constructor(
    readonly name: string,
    private readonly time: JumpClock,
  ) {}

  readonly clock: Clock = {
    nowMs: () => this.time.nowMs(),
    date: () => new Date(this.time.date().getTime() + this.dateShiftMs),
    after: (ms, call) => {
      let isOver = false
      const cancel = this.time.after(ms, () => {
        this.timers.delete(end)
        this.hear(() => isOver || call())
      })
      const end = () => {
        isOver = true
        cancel()
        this.timers.delete(end)
      }
      this.timers.add(end)
      return end
    },
    every: (ms, call) => {
      let cancel: Cancel = () => {}
      const next = () => {
        cancel = this.clock.after(ms, () => {
          call()
          if (!isOver) next()
        })
      }
      let isOver = false
      next()
      return () => {
        isOver = true
        cancel()
      }
    },
  }

  hear(call: () => void): void {
    if (this.isOver) return
    const nowMs = this.time.nowMs()
    // What came before is heard before, also where it was slow then and is not now.
    this.dueMs = Math.max(this.dueMs, nowMs + this.slowMs)
    if (this.dueMs <= nowMs) this.hearNow(call)
    else this.time.after(this.dueMs - nowMs, () => this.hearNow(call))
  }

  private hearNow(call: () => void): void {
    if (this.isOver) return
    if (this.held !== null) this.held.push(call)
    else call()
  }

  get isStopped(): boolean {
    return this.held !== null
  }

  stop(): void {
    this.held ??= []
  }

  goOn(): void {
    const { held } = this
    this.held = null
    for (const call of held ?? []) this.hear(call)
  }

  /** Somebody sets the date of its machine. */
  shiftDate(ms: number): void {
    this.dateShiftMs += ms
  }

  onEnd(call: () => void): void {
    this.endings.push(call)
  }

  end(): void {
    if (this.isOver) return
    this.isOver = true
    for (const cancel of [...this.timers]) cancel()
    for (const call of this.endings.splice(0)) call()
  }
}
