import {
  ProblemError,
  benchLinkVersion,
  type AnswerOf,
  type Ask,
  type AskBody,
  type AskName,
  type BesideName,
  type BoardIdentity,
  type BoardState,
  type ImuStage,
  type LinkPhase,
  type RefusalType,
  type Tell,
} from '@taraf/contract'
import { BoardEnd, type RigBench } from '@taraf/rig'
import { BoardRefusal, Emitter, elapsed, type BoardLink, type Clock, type LinkEvents } from '@taraf/takes'

/** How often the rig is stepped up to now, a block of samples at a time. */
const tickMs = 20
const rowsPerBlock = 4
/** While nobody takes its samples and nothing moves, it is looked at so often, s. */
const dozeS = 0.1
const againMs = 250
const restartMs = 15_000
/** No answer takes longer. */
const askMs = 4_000

type Reply = { readonly id: number | null } & (
  { readonly answer: object } | { readonly refusal: { readonly type: RefusalType; readonly detail: string } }
)

/**
 * A link to the board of a simulated bench in the same process, as a server has one over Bench Link: the same asks, answers and tells at the same
 * times of its clock, without a wire between.
 */
export class RigLink extends Emitter<LinkEvents> implements BoardLink {
  phase: LinkPhase = 'connecting'
  detail = 'The board does not answer yet.'
  identity: BoardIdentity | null = null
  state: BoardState | null = null
  lastT = -Infinity
  isOver = false
  /** Whether somebody is asked to arm the board now, or to try. */
  isArmingExpected = false
  /** What the board is asked instead of what is asked of it. */
  bend: ((body: AskBody) => AskBody) | null = null

  private end: BoardEnd | null = null
  private stage: ImuStage = 'body'
  private streams: readonly BesideName[] = []
  private nextId = 1
  private readonly waiting = new Map<number, { resolve: (answer: never) => void; reject: (error: Error) => void }>()

  constructor(
    readonly bench: RigBench,
    private readonly clock: Clock,
  ) {
    super()
    clock.every(tickMs, () => this.bench.tick(this.isWatched ? null : dozeS))
    this.connect()
  }

  ask<Name extends AskName>(body: AskBody & { ask: Name }, withinMs = askMs): Promise<AnswerOf<Name>> {
    // The board may have started again since it was looked at last: then this link is gone.
    this.tick()
    const { end } = this
    if (end === null) return Promise.reject(new ProblemError('link-lost', this.detail))
    const id = this.nextId++
    return new Promise((resolve, reject) => {
      const cancel = this.clock.after(withinMs, () => {
        this.waiting.delete(id)
        reject(new ProblemError('link-lost', `The board did not answer "${body.ask}" within ${withinMs / 1000} s.`))
      })
      const answered = (settle: () => void) => {
        cancel()
        settle()
      }
      this.waiting.set(id, {
        resolve: (answer: never) => answered(() => resolve(answer)),
        reject: (error) => answered(() => reject(error)),
      })
      end.answer({ id, ...(this.bend?.(body) ?? body) } as Ask)
    })
  }

  async wantStage(stage: ImuStage, streams: readonly BesideName[]): Promise<void> {
    const same = stage === this.stage && streams.length === this.streams.length && streams.every((s) => this.streams.includes(s))
    if (!same && this.identity?.loader !== true) await this.setStage(stage, streams)
  }

  async passed(seconds: number): Promise<void> {
    const lost = new AbortController()
    const look = () => this.phase !== 'up' && lost.abort(new ProblemError('link-lost', this.detail))
    this.on('phase', look)
    try {
      await elapsed(this.clock, seconds, lost.signal)
    } finally {
      this.off('phase', look)
    }
  }

  async restart(): Promise<void> {
    await this.ask({ ask: 'restart' })
    await this.untilUp()
  }

  /** Waits until the board is linked. */
  untilUp(): Promise<void> {
    return new Promise((resolve, reject) => {
      const look = () => this.phase === 'up' && end(resolve)
      const cancel = this.clock.after(restartMs, () =>
        end(() => reject(new ProblemError('link-lost', 'The board did not come back after its restart.'))),
      )
      const end = (settle: () => void) => {
        cancel()
        this.off('phase', look)
        settle()
      }
      this.on('phase', look)
      look()
    })
  }

  expectArming(isAsked: boolean): void {
    this.isArmingExpected = isAsked
  }

  /** Brings the rig up to now. */
  tick(): void {
    this.bench.tick(this.isWatched ? null : 0)
  }

  private get isWatched(): boolean {
    return this.isHeard('block') || this.isHeard('stream') || this.bench.beforeStep !== null
  }

  private connect(): void {
    if (this.bench.away) return void this.clock.after(againMs, () => this.connect())
    const end = new BoardEnd(
      {
        tell: (message) => this.end === end && this.take(message),
        close: (_code, reason) =>
          this.lose(end, reason === 'restarting' ? 'The board is restarting.' : 'The board is not reached.'),
      },
      this.bench.rig,
      this.bench.host,
    )
    this.bench.links.add(end)
    this.end = end
    void this.greet().catch(() => this.lose(end, 'The board is not reached.'))
  }

  private async greet(): Promise<void> {
    const { state } = await this.ask({ ask: 'hello', version: benchLinkVersion, lease: 0 })
    this.state = state
    this.identity = await this.ask({ ask: 'identity' })
    if (!this.identity.loader) await this.setStage(this.stage, this.streams)
    this.enter('up', `Board ${this.identity.board} answers${this.identity.loader ? ' from its loader' : ''}.`)
  }

  private async setStage(stage: ImuStage, streams: readonly BesideName[]): Promise<void> {
    this.stage = stage
    this.streams = streams
    this.lastT = -Infinity
    await this.ask({
      ask: 'sense',
      stage,
      rateHz: 200,
      rows: rowsPerBlock,
      ...(streams.length === 0 ? {} : { streams: [...streams] }),
    })
  }

  private take(message: object): void {
    if ('tell' in message) return this.takeTell(message as Tell)
    const reply = message as Reply
    const waiting = reply.id === null ? undefined : this.waiting.get(reply.id)
    if (waiting === undefined || reply.id === null) return
    this.waiting.delete(reply.id)
    if ('refusal' in reply) waiting.reject(new BoardRefusal(reply.refusal.type, `The board refused: ${reply.refusal.detail}.`))
    else waiting.resolve(reply.answer as never)
  }

  private takeTell(tell: Tell): void {
    switch (tell.tell) {
      case 'sense':
        this.lastT = tell.t[tell.t.length - 1] as number
        return this.tell('block', tell)
      case 'stream':
        return this.tell('stream', tell)
      case 'state':
        this.state = tell.state
        return this.tell('phase')
      case 'event':
        return this.tell('told', tell.event)
    }
  }

  private lose(end: BoardEnd, detail: string): void {
    if (this.end !== end) return
    this.end = null
    this.bench.left(end)
    for (const { reject } of this.waiting.values()) reject(new ProblemError('link-lost', detail))
    this.waiting.clear()
    this.enter('lost', detail)
    this.clock.after(againMs, () => this.connect())
  }

  private enter(phase: LinkPhase, detail: string): void {
    if (this.phase === phase && this.detail === detail) return
    this.phase = phase
    this.detail = detail
    this.tell('phase')
  }
}
