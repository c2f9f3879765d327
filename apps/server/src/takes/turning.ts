import { ProblemError } from '../http/problem'
import type { BenchLink } from '../links/benchLink'

/** What a press is worth after its last sign of life (architecture, invariant 4). The board counts the same for itself. */
const keptMs = 200
const watchMs = 25
const runUpMs = 1_000
const settleMs = 500

/** The control was let go of, or its screen fell silent. */
export class LetGo extends Error {}

interface Turn {
  readonly powerId: string
  readonly outputs: readonly number[]
  /** Of the command, the same for every output. */
  readonly share: number
  /** The number of the press that keeps it; no other one can. */
  readonly press: string
}

/**
 * Motors that turn under a spin permit for as long as one press of one control is kept. Each sign of life is handed on to the
 * board; 0.2 s after the last one the permit is dropped. `signal` aborts when it is over, with the reason.
 */
export class Turning {
  private readonly over = new AbortController()
  private readonly beganAtMs = Date.now()
  private readonly watchdog: NodeJS.Timeout
  private keptAtMs = Date.now()
  private asking = false

  private constructor(
    private readonly link: BenchLink,
    private readonly token: string,
    private readonly turn: Turn,
  ) {
    this.watchdog = setInterval(() => setImmediate(() => this.watch()), watchMs)
    this.keep(turn.press)
  }

  static async begin(link: BenchLink, turn: Turn): Promise<Turning> {
    const { token } = await link.ask({ ask: 'permit', kind: 'spin', props: 'off', powerId: turn.powerId })
    return new Turning(link, token, turn)
  }

  get signal(): AbortSignal {
    return this.over.signal
  }

  keep(press: string): void {
    if (press !== this.turn.press || this.over.signal.aborted) return
    this.keptAtMs = Date.now()
    if (this.asking) return
    this.asking = true
    const { outputs, share } = this.turn
    const now = share * Math.min(1, (Date.now() - this.beganAtMs) / runUpMs)
    this.link
      .ask({ ask: 'spin', token: this.token, values: outputs.map((output) => ({ output, share: now })) }, 1_000)
      .catch((error: unknown) => this.end(error))
      .finally(() => (this.asking = false))
  }

  /** After a pause of this process, the signs of life that came in meanwhile are read first. */
  private watch(): void {
    if (Date.now() - this.keptAtMs > keptMs) void this.end()
  }

  /** Resolves when the motors have run up; rejects when it is over before. */
  upToSpeed(): Promise<void> {
    return new Promise((resolve, reject) => {
      const timer = setTimeout(resolve, runUpMs + settleMs)
      this.signal.addEventListener('abort', () => {
        clearTimeout(timer)
        reject(this.signal.reason as Error)
      })
    })
  }

  /** Everything stands. A permit that the board no longer has, after Stop all say, is as good as dropped. */
  async end(why: unknown = new LetGo()): Promise<void> {
    if (this.over.signal.aborted) return
    clearInterval(this.watchdog)
    this.over.abort(why instanceof ProblemError && why.type === 'board-refused' ? new LetGo() : why)
    await this.link.ask({ ask: 'permit.drop', token: this.token }).catch(() => {})
  }
}
