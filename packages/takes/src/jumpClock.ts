import type { Cancel, Clock } from './clock'

interface Due {
  readonly atMs: number
  /** Of two calls that are due at once the one that was asked for first is made first. */
  readonly order: number
  /** Null once it was cancelled. */
  call: (() => void) | null
}

/**
 * A clock that jumps to what is due next as soon as nothing is in flight: what takes minutes at a bench takes as long as its computation, and
 * the same again each time.
 */
export class JumpClock implements Clock {
  private now = 0
  private order = 0
  /** A binary heap, the earliest first. */
  private readonly heap: Due[] = []

  /**
   * @param begins the date and time at which it begins
   * @param settled resolves once nothing is in flight: every answer that was to come has come
   */
  constructor(
    private begins: Date,
    private readonly settled: () => Promise<void>,
  ) {}

  nowMs(): number {
    return this.now
  }

  date(): Date {
    return new Date(this.begins.getTime() + this.now)
  }

  /** Sets the date, as somebody may that of a machine: nothing that waits is moved by it. */
  setDate(date: Date): void {
    this.begins = new Date(date.getTime() - this.now)
  }

  after(ms: number, call: () => void): Cancel {
    const due: Due = { atMs: this.now + Math.max(0, ms), order: this.order++, call }
    this.put(due)
    return () => void (due.call = null)
  }

  every(ms: number, call: () => void): Cancel {
    let isOver = false
    let cancel: Cancel = () => {}
    const next = () => {
      cancel = this.after(ms, () => {
        call()
        if (!isOver) next()
      })
    }
    next()
    return () => {
      isOver = true
      cancel()
    }
  }

  /** Lets time run until the work is done, and hands on what became of it. Rejects where nothing is due that could bring its end. */
  async until<T>(work: Promise<T>): Promise<T> {
    let isDone = false
    const done = () => void (isDone = true)
    work.then(done, done)
    for (;;) {
      await this.settled()
      if (isDone) return work
      if (!this.step()) throw new Error('nothing is due any more, and the work is not done')
    }
  }

  /** Lets so many milliseconds pass. */
  async pass(ms: number): Promise<void> {
    return this.until(new Promise((resolve) => this.after(ms, resolve)))
  }

  /** Makes the next call that is due; says whether there was one. */
  private step(): boolean {
    for (let next = this.take(); next !== undefined; next = this.take()) {
      if (next.call === null) continue
      this.now = Math.max(this.now, next.atMs)
      next.call()
      return true
    }
    return false
  }

  private put(due: Due): void {
    const { heap } = this
    let at = heap.push(due) - 1
    while (at > 0) {
      const above = (at - 1) >> 1
      if (!isBefore(due, heap[above] as Due)) break
      heap[at] = heap[above] as Due
      at = above
    }
    heap[at] = due
  }

  private take(): Due | undefined {
    const { heap } = this
    const first = heap[0]
    const last = heap.pop()
    if (first === undefined || last === undefined || heap.length === 0) return first
    let at = 0
    for (;;) {
      let below = 2 * at + 1
      if (below >= heap.length) break
      if (below + 1 < heap.length && isBefore(heap[below + 1] as Due, heap[below] as Due)) below += 1
      if (!isBefore(heap[below] as Due, last)) break
      heap[at] = heap[below] as Due
      at = below
    }
    heap[at] = last
    return first
  }
}

const isBefore = (a: Due, b: Due): boolean => a.atMs < b.atMs || (a.atMs === b.atMs && a.order < b.order)
