import { ProblemError, type WantOf } from '@taraf/contract'
import { commandAt } from '@taraf/core/watches'
import type { Cancel, Clock } from './clock'
import type { BoardLink } from './link/boardLink'
import { untilStill } from './link/until'

/** What a press is worth after its last sign of life (architecture, invariant 4). The board counts the same for itself. */
const keptMs = 200
const watchMs = 25

type Outputs = WantOf<'turn'>['outputs']

/** The control was let go of, or its screen fell silent. */
export class LetGo extends Error {}

/** A control that is held down: the number of its press, and the connection of the one screen that it is pressed on. */
export interface Press {
  readonly press: string
  readonly screen: object
}

/**
 * Motors that turn under one spin permit for as long as one press of one control is kept. Each sign of life is handed on to the
 * board; 0.2 s after the last one the permit is dropped. `signal` aborts when it is over, with the reason.
 */
export class Turning {
  private readonly over = new AbortController()
  private readonly stopWatching: Cancel
  private outputs: Outputs = []
  private riseS: number | undefined
  private sinceMs: number
  private keptAtMs: number
  private asking = false

  private constructor(
    private readonly link: BoardLink,
    private readonly clock: Clock,
    private readonly token: string,
    private readonly press: Press,
  ) {
    this.sinceMs = this.keptAtMs = clock.nowMs()
    this.stopWatching = clock.every(watchMs, () => this.watch())
  }

  /** @param powerId the battery connection that props were confirmed off for, and never the one that happens to be there */
  static async begin(link: BoardLink, clock: Clock, powerId: string, press: Press): Promise<Turning> {
    const { token } = await link.ask({ ask: 'permit', kind: 'spin', props: 'off', powerId })
    return new Turning(link, clock, token, press)
  }

  get signal(): AbortSignal {
    return this.over.signal
  }

  /** Turns these outputs from now on, run up gently; every other one stands. */
  turn(outputs: Outputs, riseS?: number): void {
    this.outputs = outputs
    this.riseS = riseS
    this.sinceMs = this.clock.nowMs()
    this.send()
  }

  keep({ press, screen }: Press): void {
    if (press !== this.press.press || screen !== this.press.screen || this.signal.aborted) return
    this.keptAtMs = this.clock.nowMs()
    this.send()
  }

  private send(): void {
    if (this.asking || this.signal.aborted) return
    this.asking = true
    const sinceS = (this.clock.nowMs() - this.sinceMs) / 1000
    const values = this.outputs.map(({ output, share }) => ({ output, share: commandAt(share, sinceS, this.riseS) }))
    this.link
      .ask({ ask: 'spin', token: this.token, values }, 1_000)
      .catch((error: unknown) => this.end(error))
      .finally(() => (this.asking = false))
  }

  /** The clock has read the signs of life that came in while this process was paused. */
  private watch(): void {
    if (this.clock.nowMs() - this.keptAtMs > keptMs) void this.end()
  }

  /** Everything stands. A permit that the board no longer has, after Stop all say, is as good as dropped. */
  async end(why: unknown = new LetGo()): Promise<void> {
    if (this.signal.aborted) return
    this.stopWatching()
    this.over.abort(why instanceof ProblemError && why.type === 'board-refused' ? new LetGo() : why)
    await this.link.ask({ ask: 'permit.drop', token: this.token }).catch(() => {})
  }
}

/** The permit that goes on from one step to the next for as long as its press is kept. */
export class KeptTurning {
  private current: Turning | null = null
  private readonly used = new Set<string>()
  private waiting: ((press: Press) => void) | null = null

  constructor(
    private readonly link: BoardLink,
    private readonly clock: Clock,
  ) {}

  /** A sign of life of a control that is held down, of one screen. */
  keep(press: Press): void {
    if (this.current !== null && !this.current.signal.aborted) return this.current.keep(press)
    if (this.used.has(press.press)) return
    this.waiting?.(press)
  }

  get isKept(): boolean {
    return this.current !== null && !this.current.signal.aborted
  }

  /** Turns outputs under the permit that is kept, else under that of a new press, once what turned before stands still. */
  async turn(
    powerId: string,
    { outputs, riseS }: Pick<WantOf<'turn'>, 'outputs' | 'riseS'>,
    signal: AbortSignal,
  ): Promise<Turning> {
    if (this.current !== null && this.isKept) this.current.turn([])
    else {
      const press = await this.nextPress(signal)
      this.used.add(press.press)
      this.current = await Turning.begin(this.link, this.clock, powerId, press)
      if (signal.aborted) {
        await this.end(signal.reason)
        signal.throwIfAborted()
      }
    }
    await untilStill(this.clock, this.link, AbortSignal.any([signal, this.current.signal]))
    this.current.turn(outputs, riseS)
    return this.current
  }

  async end(why?: unknown): Promise<void> {
    const { current } = this
    this.current = null
    await current?.end(why)
  }

  private nextPress(signal: AbortSignal): Promise<Press> {
    return new Promise((resolve, reject) => {
      const abort = () => end(() => reject(signal.reason as Error))
      const end = (settle: () => void) => {
        this.waiting = null
        signal.removeEventListener('abort', abort)
        settle()
      }
      this.waiting = (press) => end(() => resolve(press))
      signal.addEventListener('abort', abort)
      if (signal.aborted) abort()
    })
  }
}
