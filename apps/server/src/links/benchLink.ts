import {
  ProblemError,
  answers,
  benchLinkMaxBytes,
  benchLinkVersion,
  reply as replySchema,
  senseColumns,
  streams,
  supersededCode,
  tell as tellSchema,
  type AnswerOf,
  type AskBody,
  type AskName,
  type BesideName,
  type BoardIdentity,
  type BoardState,
  type ImuStage,
  type LinkPhase,
  type SenseTell,
  type StreamTell,
  type Tell,
} from '@taraf/contract'
import { decode, encode } from '@taraf/contract/wire'
import { BoardRefusal, Emitter, type BoardLink, type Cancel, type Clock, type LinkEvents } from '@taraf/takes'
import { WebSocket } from 'ws'
import type { Dial } from '../ports'

const silenceMs = 600
const watchMs = 100
const againMs = 250
const askMs = 4_000
/** 10 ms a block: two of them go to a screen in one frame, at about the rate at which it draws. */
const rowsPerBlock = 2

interface Events extends LinkEvents {
  /** The work that held the link is done. */
  free: []
  /** With the bytes that they came in. */
  block: [SenseTell, Buffer]
  stream: [StreamTell, Buffer]
}

/**
 * The server's end of one Bench Link. It connects, greets, asks for samples, and comes back by itself after every loss:
 * a link that says nothing for 0.6 s is lost, whatever its socket says.
 */
export class BenchLink extends Emitter<Events> implements BoardLink {
  phase: LinkPhase = 'connecting'
  detail = 'The board does not answer yet.'
  identity: BoardIdentity | null = null
  state: BoardState | null = null
  bootedAtMs: number | null = null
  lostBlocks = 0
  /** When the battery was connected to which it is now, or null. */
  powerSince: Date | null = null
  /** How long the board took to answer the newest `measure`, ms. */
  roundTripMs: number | null = null
  /** What the bench is doing for somebody, which nothing else may cut into. */
  occupiedBy: string | null = null
  /** Whether somebody is asked to arm it now, or to try: whoever arms it else has armed it by himself. */
  isArmingExpected = false

  private socket: WebSocket | null = null
  private closed = false
  private stage: ImuStage = 'body'
  private streams: readonly BesideName[] = []
  private nextId = 1
  private readonly waiting = new Map<
    number,
    { name: AskName; resolve: (answer: never) => void; reject: (error: Error) => void; withinMs: number; leftMs: number }
  >()
  private heardAtMs = 0
  private watchedAtMs: number
  private nextSeq = 0
  /** When the newest sample was taken, by the board's clock. */
  lastT = -Infinity
  /** The same of each other stream. */
  private readonly lastOf = new Map<BesideName, number>()
  private readonly stopWatching: Cancel

  /**
   * @param leaseNo the number of the lease that it is opened under: a board refuses an older one
   * @param goodUntilMs by the clock, how long that lease is good where nobody renews it
   */
  constructor(
    readonly address: string,
    private readonly dial: Dial,
    private readonly clock: Clock,
    private readonly leaseNo = 0,
    private goodFor = Infinity,
  ) {
    super()
    this.watchedAtMs = clock.nowMs()
    this.stopWatching = clock.every(watchMs, () => this.watch())
    this.connect()
  }

  /** Asks the board. Throws a BoardRefusal, or a problem where the link is lost before the answer. */
  ask<Name extends AskName>(body: AskBody & { ask: Name }, withinMs = askMs): Promise<AnswerOf<Name>> {
    const { socket } = this
    if (this.clock.nowMs() > this.goodFor) {
      this.close('This server could not renew its lease of the bench.')
      return Promise.reject(new ProblemError('link-lost', this.detail))
    }
    if (socket === null || socket.readyState !== WebSocket.OPEN) return Promise.reject(new ProblemError('link-lost', this.detail))
    const id = this.nextId++
    return new Promise((resolve, reject) => {
      this.waiting.set(id, { name: body.ask, resolve, reject, withinMs, leftMs: withinMs })
      socket.send(encode({ id, ...body }))
    })
  }

  /** Measures the way to the board and back. */
  async measure(): Promise<void> {
    const sentAtMs = this.clock.nowMs()
    const answered = await this.ask({ ask: 'state' }).catch(() => null)
    if (answered !== null) this.roundTripMs = this.clock.nowMs() - sentAtMs
    // A tell that never came is made good here.
    if (answered !== null && JSON.stringify(answered.state) !== JSON.stringify(this.state)) {
      this.state = answered.state
      this.tell('phase')
    }
  }

  /** The lease was renewed: it is good until then. */
  renewed(goodUntilMs: number): void {
    this.goodFor = goodUntilMs
  }

  get goodUntilMs(): number {
    return this.goodFor
  }

  expectArming(isAsked: boolean): void {
    this.isArmingExpected = isAsked
  }

  /** The battery that is in was connected then; null where none is. */
  poweredSince(date: Date | null): void {
    this.powerSince = date
    this.tell('phase')
  }

  /** Asks again who the board is: what it runs, and whether it is in its loader. */
  async identify(): Promise<void> {
    this.identity = await this.ask({ ask: 'identity' })
    this.tell('phase')
  }

  /** Takes the link for one piece of work. Throws a problem where another holds it. */
  occupy(what: string): () => void {
    if (this.occupiedBy !== null) throw new ProblemError('bench-busy', `The bench is busy: ${this.occupiedBy}.`)
    this.occupiedBy = what
    return () => {
      this.occupiedBy = null
      this.tell('free')
    }
  }

  /** Asks for samples of another stage; blocks say which they carry. */
  async setStage(stage: ImuStage, streams: readonly BesideName[] = []): Promise<void> {
    this.stage = stage
    this.streams = streams
    this.lastT = -Infinity
    this.lastOf.clear()
    await this.ask({
      ask: 'sense',
      stage,
      rateHz: 200,
      rows: rowsPerBlock,
      ...(streams.length === 0 ? {} : { streams: [...streams] }),
    })
  }

  /** The same, where the board sends something else now. */
  async wantStage(stage: ImuStage, streams: readonly BesideName[]): Promise<void> {
    const same = stage === this.stage && streams.length === this.streams.length && streams.every((s) => this.streams.includes(s))
    if (!same && this.identity?.loader !== true) await this.setStage(stage, streams)
  }

  /** Whatever turns or is armed stops, whoever asked for it. */
  async stopAll(): Promise<void> {
    await this.ask({ ask: 'stop' })
  }

  /** It was closed, by its server or because the board has a newer link: it never comes back. */
  get isOver(): boolean {
    return this.closed
  }

  /** Waits until so much has passed by the board's own clock; by this one's where the board sends no samples. */
  passed(seconds: number): Promise<void> {
    return new Promise((resolve, reject) => {
      let from: number | null = null
      const cancel = this.clock.after(seconds * 1000 + silenceMs, () => end(resolve))
      const block = ({ t }: SenseTell) => {
        from ??= t[0] as number
        if ((t[t.length - 1] as number) - from >= seconds) end(resolve)
      }
      const phase = () => this.phase !== 'up' && end(() => reject(new ProblemError('link-lost', this.detail)))
      const end = (settle: () => void) => {
        cancel()
        this.off('block', block)
        this.off('phase', phase)
        settle()
      }
      this.on('block', block)
      this.on('phase', phase)
    })
  }

  /** Restarts the board and waits until it is back. */
  async restart(withinMs = 15_000): Promise<void> {
    await this.ask({ ask: 'restart' })
    const back = new Promise<void>((resolve, reject) => {
      const cancel = this.clock.after(withinMs, () =>
        done(new ProblemError('link-lost', 'The board did not come back after its restart.')),
      )
      let left = false
      const look = () => {
        if (this.phase !== 'up') left = true
        else if (left) done()
      }
      const done = (error?: Error) => {
        cancel()
        this.off('phase', look)
        if (error === undefined) resolve()
        else reject(error)
      }
      this.on('phase', look)
    })
    this.lose('The board is restarting.')
    return back
  }

  close(why = 'The link was closed.'): void {
    if (this.closed) return
    this.closed = true
    this.stopWatching()
    this.drop(why)
    this.enter('none', why)
  }

  private connect(): void {
    if (this.closed) return
    const socket = this.dial(this.address, {
      handshakeTimeout: 1_000,
      maxPayload: benchLinkMaxBytes,
      perMessageDeflate: false,
    })
    this.socket = socket
    this.heardAtMs = this.clock.nowMs() + 1_000
    socket.binaryType = 'nodebuffer'
    socket.on('open', () => void this.greet().catch((error: Error) => this.socket === socket && this.lose(error.message)))
    socket.on('message', (bytes: Buffer, binary: boolean) => this.socket === socket && binary && this.take(bytes))
    socket.on('close', (code) => {
      if (this.socket !== socket) return
      // A board that has a newer link is believed.
      if (code === supersededCode) this.close('Another server has a newer link to this board.')
      else this.lose('The board is not reached.')
    })
    socket.on('error', () => {}) // 'close' follows
  }

  private async greet(): Promise<void> {
    const hello = await this.ask({ ask: 'hello', version: benchLinkVersion, lease: this.leaseNo })
    this.bootedAtMs = hello.bootedAtMs
    this.state = hello.state
    this.identity = await this.ask({ ask: 'identity' })
    // A permit that outlived its link, of a take that did not: nobody waits for what it lets turn.
    if (hello.state.permit !== null && this.occupiedBy === null) await this.ask({ ask: 'stop' })
    // In its loader a board has no samples.
    if (!this.identity.loader) await this.setStage(this.stage, this.streams)
    this.enter('up', `Board ${this.identity.board} answers${this.identity.loader ? ' from its loader' : ''}.`)
  }

  private take(bytes: Buffer): void {
    this.heardAtMs = this.clock.nowMs()
    let item: unknown
    try {
      item = decode(bytes)
    } catch {
      return void this.tell('fault', 'the board sent a message that is not CBOR')
    }
    if (isSense(item)) return this.takeBlock(item, bytes)
    const told = tellSchema.safeParse(item)
    if (told.success) return this.takeTell(told.data, bytes)
    const reply = replySchema.safeParse(item)
    if (!reply.success) return void this.tell('fault', 'the board sent a message that Bench Link does not know')
    const { id } = reply.data
    const waiting = id === null ? undefined : this.waiting.get(id)
    if (waiting === undefined || id === null) return
    this.waiting.delete(id)
    if ('refusal' in reply.data)
      return waiting.reject(new BoardRefusal(reply.data.refusal.type, `The board refused: ${reply.data.refusal.detail}.`))
    const answer = answers[waiting.name].safeParse(reply.data.answer)
    if (answer.success) waiting.resolve(answer.data as never)
    else waiting.reject(new ProblemError('board-refused', `The board's answer to "${waiting.name}" is malformed.`))
  }

  private takeTell(tell: Tell, bytes: Buffer): void {
    if (tell.tell === 'state') {
      this.state = tell.state
      this.tell('phase')
    } else if (tell.tell === 'stream') {
      const columns = streams[tell.stream].columns.length
      if (tell.values.length !== tell.t.length * columns || !tell.values.every(Number.isFinite))
        return void this.tell('fault', `the board sent samples of ${tell.stream} without all their columns`)
      const lastT = riseOf(tell.t, this.lastOf.get(tell.stream) ?? -Infinity)
      if (lastT === null) return void this.tell('fault', `the board sent samples of ${tell.stream} whose time runs backwards`)
      this.lastOf.set(tell.stream, lastT)
      this.tell('stream', tell, bytes)
    } else if (tell.tell === 'event') this.tell('told', tell.event)
  }

  private takeBlock(block: SenseTell, bytes: Buffer): void {
    if (block.seq === 0) {
      this.nextSeq = 0
      this.lastT = -Infinity
    }
    const wrong = faultOf(block, this.lastT)
    if (wrong !== null) return void this.tell('fault', wrong)
    this.lostBlocks += Math.max(0, block.seq - this.nextSeq)
    this.nextSeq = block.seq + 1
    this.lastT = block.t[block.t.length - 1] as number
    this.tell('block', block, bytes)
  }

  private watch(): void {
    const now = this.clock.nowMs()
    const heldUp = now - this.watchedAtMs > 2 * watchMs
    // A server that was itself held up has messages waiting: it judges after it has read them.
    this.giveUp(Math.min(now - this.watchedAtMs, 2 * watchMs))
    this.watchedAtMs = now
    if (heldUp) this.heardAtMs = Math.max(this.heardAtMs, now - silenceMs / 2)
    else if (this.socket !== null && this.phase === 'up' && now - this.heardAtMs > silenceMs) this.lose('The board fell silent.')
    // Without samples its answers alone say that it is there.
    else if (
      this.identity?.loader === true &&
      this.phase === 'up' &&
      this.waiting.size === 0 &&
      now - this.heardAtMs > silenceMs / 3
    )
      void this.ask({ ask: 'state' }).catch(() => {})
  }

  /** Gives up what the board has not answered in its time; one in which the server stood still hardly counts. */
  private giveUp(passedMs: number): void {
    for (const [id, asked] of this.waiting) {
      asked.leftMs -= passedMs
      if (asked.leftMs > 0) continue
      this.waiting.delete(id)
      const { name, withinMs } = asked
      asked.reject(new ProblemError('link-lost', `The board did not answer "${name}" within ${withinMs / 1000} s.`))
    }
  }

  /** Ends the socket for good, says so, and tries again soon. */
  private lose(detail: string): void {
    this.drop(detail)
    this.enter('lost', detail)
    if (!this.closed) this.clock.after(againMs, () => this.socket === null && this.connect())
  }

  private drop(detail: string): void {
    const { socket } = this
    this.socket = null
    socket?.terminate()
    for (const { reject } of this.waiting.values()) reject(new ProblemError('link-lost', detail))
    this.waiting.clear()
  }

  private enter(phase: LinkPhase, detail: string): void {
    if (this.phase === phase && this.detail === detail) return
    this.phase = phase
    this.detail = detail
    this.tell('phase')
  }
}

/** Emitter from other messages without a full parse: two hundred samples a second come this way. */
const isSense = (item: unknown): item is SenseTell =>
  typeof item === 'object' && item !== null && 'tell' in item && item.tell === 'sense'

/** The last of some times that rise from one before them; null where they do not. */
const riseOf = (times: Float64Array, before: number): number | null => {
  let last = before
  for (const time of times) {
    if (!(time > last) || !Number.isFinite(time)) return null
    last = time
  }
  return last
}

/** What is wrong with a block: a column missing or of another length, no number, or time that does not rise. */
const faultOf = (block: SenseTell, lastT: number): string | null => {
  const { t } = block
  if (!(t instanceof Float64Array) || t.length === 0 || !Number.isInteger(block.seq))
    return 'the board sent samples without times'
  if (riseOf(t, lastT) === null) return 'the board sent samples whose time runs backwards'
  const { values } = block
  if (!(values instanceof Float32Array) || values.length !== t.length * senseColumns.length)
    return 'the board sent samples without all their columns'
  for (let i = 0; i < values.length; i++)
    if (!Number.isFinite(values[i]))
      return `the board sent a sample of ${senseColumns[Math.floor(i / t.length)]} that is no number`
  return null
}
