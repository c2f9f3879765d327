import { ask as askSchema, supersededCode, type Ask, type BoardState, type RefusalType } from '@taraf/contract'
import { decode, encode } from '@taraf/contract/wire'
import type { Rig, Sample } from '@taraf/rig'
import type { WebSocket } from 'ws'
import { answerAsk, burstValues, type Refused } from '@taraf/rig'
import { Streams } from './streams'

const mostMalformed = 20
const mostUnreadBytes = 512 * 1024
/** Far beyond what a permit's renewals, an image and a technician ask together. */
const mostAsksPerS = 4_000

/** What the process that runs the rig does for its links. */
export interface LinkHost {
  readonly bootedAtMs: () => number
  readonly restart: () => number
  /** A link comes with a lease: it becomes the board's own, unless the board knows a newer one. */
  readonly admit: (link: BoardLink, lease: number) => boolean
  readonly isAdmitted: (link: BoardLink) => boolean
}

/**
 * The board's end of one Bench Link: answers asks in order and tells samples, states and events. It closes on a peer that
 * keeps sending what cannot be understood, that floods it, or that stops reading.
 */
export class BoardLink {
  private streams: Streams | null = null
  private readonly late: { id: number; ask: 'calibrate' | 'burst' }[] = []
  private malformed = 0
  private asked = { second: 0, count: 0 }
  private toldState = ''

  constructor(
    private readonly socket: WebSocket,
    private readonly rig: Rig,
    private readonly host: LinkHost,
  ) {
    socket.on('message', (bytes: Buffer, binary: boolean) => this.take(bytes, binary))
    socket.on('error', () => socket.terminate())
  }

  get stage() {
    return this.streams?.stage ?? 'body'
  }

  /** Passes on what the rig shows after a step. */
  sampled(sample: Sample): void {
    const { rig } = this
    this.answerLate()
    for (const block of this.streams?.take(rig, sample) ?? []) this.send(block)
    for (const event of rig.board.events.splice(0)) this.send({ tell: 'event', event })
    this.tellState()
  }

  close(code: number, reason: string): void {
    this.socket.close(code, reason)
  }

  private tellState(): void {
    const state = this.rig.state()
    const now = stateKey(state)
    if (now === this.toldState) return
    const first = this.toldState === ''
    this.toldState = now
    if (!first) this.send({ tell: 'state', state })
  }

  private take(bytes: Buffer, binary: boolean): void {
    if (this.floods()) return this.close(1008, 'too many messages')
    if (!binary) return this.notUnderstood(null, 'a text frame; Bench Link speaks CBOR in binary frames')
    let item: unknown
    try {
      item = decode(bytes)
    } catch (error) {
      return this.notUnderstood(null, `not CBOR: ${error instanceof Error ? error.message : String(error)}`)
    }
    const parsed = askSchema.safeParse(item)
    if (parsed.success) return this.answer(parsed.data)
    const issue = parsed.error.issues[0]
    const detail = `${issue?.path.join('.') || 'message'}: ${issue?.message ?? 'unreadable'}`
    if (issue?.path[0] === 'ask') return this.notUnderstood(idOf(item), detail, 'unknown')
    this.notUnderstood(idOf(item), detail)
  }

  private answer(ask: Ask): void {
    // The first ask makes a link the board's own; one that names no lease comes with the oldest there is.
    if (
      (ask.ask === 'hello' || !this.host.isAdmitted(this)) &&
      !this.host.admit(this, ask.ask === 'hello' ? (ask.lease ?? 0) : 0)
    ) {
      this.refuse(ask.id, 'superseded', 'a link with a newer lease was made')
      return this.close(supersededCode, 'a link with a newer lease was made')
    }
    const later = () => void this.late.push({ id: ask.id, ask: ask.ask as 'calibrate' | 'burst' })
    const answer = answerAsk(this.rig, ask, { ...this.host, later })
    if (answer === null) return
    if ('refusal' in answer) return this.refuse(ask.id, (answer as Refused).refusal, (answer as Refused).detail)
    if (ask.ask === 'sense') this.streams = new Streams(ask.stage, ask.rows, ask.streams ?? [])
    // The answer has said how it stands: what changes from then on is told, however soon.
    if (ask.ask === 'hello') this.toldState = stateKey(this.rig.state())
    this.send({ id: ask.id, answer })
    if (ask.ask === 'restart') this.close(1012, 'restarting')
  }

  /** Answers a calibration or a burst that has ended. */
  private answerLate(): void {
    for (const [i, { id, ask }] of this.late.entries()) {
      const answer = ask === 'calibrate' ? this.calibrated() : this.burst()
      if (answer === null) continue
      this.late.splice(i, 1)
      if ('refusal' in answer) this.refuse(id, (answer as Refused).refusal, (answer as Refused).detail)
      else this.send({ id, answer })
      return
    }
  }

  private calibrated(): { values: object } | Refused | null {
    const result = this.rig.board.calibrationResult()
    return result === 'moving'
      ? { refusal: 'moving', detail: 'the airframe moved while the gyro was measured; nothing was changed' }
      : result === null
        ? null
        : { values: result }
  }

  private burst(): object | null {
    const taken = this.rig.takeBurst()
    if (taken === null) return null
    const { rateHz, rows } = taken
    return { rateHz, values: burstValues(rows) }
  }

  private floods(): boolean {
    const second = Math.floor(performance.now() / 1000)
    if (second !== this.asked.second) this.asked = { second, count: 0 }
    this.asked.count += 1
    return this.asked.count > mostAsksPerS
  }

  private refuse(id: number | null, type: RefusalType, detail: string): void {
    this.send({ id, refusal: { type, detail } })
  }

  private notUnderstood(id: number | null, detail: string, type: RefusalType = 'malformed'): void {
    this.malformed += 1
    this.refuse(id, type, detail)
    if (this.malformed >= mostMalformed) this.close(1008, 'too much that cannot be understood')
  }

  private send(message: unknown): void {
    if (this.socket.bufferedAmount > mostUnreadBytes) return this.socket.terminate()
    this.socket.send(encode(message))
  }
}

const idOf = (item: unknown): number | null =>
  typeof item === 'object' && item !== null && 'id' in item && Number.isSafeInteger(item.id) && Number(item.id) >= 0
    ? Number(item.id)
    : null

/** What of a state is told when it changes. */
const stateKey = ({ power, powerId, motors, radio, mode, refusing, lossPhase, permit }: BoardState): string =>
  [power, powerId, motors, radio, mode, refusing.join(), lossPhase, permit ?? ''].join(' ')
