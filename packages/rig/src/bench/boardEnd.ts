import { supersededCode, type Ask, type BoardState, type RefusalType } from '@taraf/contract'
import { answerAsk, type Refused } from '../asks'
import { burstValues, type Rig, type Sample } from '../rig'
import { Streams } from './streams'

/** The other end of a link: over a socket, or in the same process. */
export interface Peer {
  tell(message: object): void
  close(code: number, reason: string): void
}

/** What the bench does for the links to its board. */
export interface LinkHost {
  readonly bootedAtMs: () => number
  readonly restart: () => number
  /** A link comes with a lease: it becomes the board's own, unless the board knows a newer one. */
  readonly admit: (link: BoardEnd, lease: number) => boolean
  readonly isAdmitted: (link: BoardEnd) => boolean
}

/** What becomes of a sample on its way: it is sent, lost, or the one before it is sent again in its place. */
export type Fate = 'keep' | 'lose' | 'repeat'

/** The board's end of one link: answers asks in order and tells samples, states and events. */
export class BoardEnd {
  private streams: Streams | null = null
  private readonly late: { id: number; ask: 'calibrate' | 'burst' }[] = []
  private toldState: BoardState | null = null

  constructor(
    private readonly peer: Peer,
    private readonly rig: Rig,
    private readonly host: LinkHost,
  ) {}

  get stage() {
    return this.streams?.stage ?? 'body'
  }

  /** Whether an answer is still to come. */
  get answersLater(): boolean {
    return this.late.length > 0
  }

  /** Passes on what the rig shows after a step. */
  sampled(sample: Sample, fate: Fate = 'keep'): void {
    const { rig } = this
    this.answerLate()
    if (fate !== 'lose') for (const block of this.streams?.take(rig, sample, fate === 'repeat') ?? []) this.peer.tell(block)
    this.looked()
  }

  /** Time was jumped over: samples from before it do not go with those that follow. */
  skipped(): void {
    this.streams?.forget()
    this.looked()
  }

  /** Tells what happened and how the board stands. */
  private looked(): void {
    for (const event of this.rig.board.events.splice(0)) this.peer.tell({ tell: 'event', event })
    this.tellState()
  }

  close(code: number, reason: string): void {
    this.peer.close(code, reason)
  }

  answer(ask: Ask): void {
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
    if (ask.ask === 'hello') this.toldState = this.rig.state()
    this.peer.tell({ id: ask.id, answer })
    if (ask.ask === 'restart') this.close(1012, 'restarting')
  }

  refuse(id: number | null, type: RefusalType, detail: string): void {
    this.peer.tell({ id, refusal: { type, detail } })
  }

  private tellState(): void {
    const state = this.rig.state()
    const { toldState } = this
    if (toldState !== null && isSameState(state, toldState)) return
    this.toldState = state
    if (toldState !== null) this.peer.tell({ tell: 'state', state })
  }

  /** Answers a calibration or a burst that has ended. */
  private answerLate(): void {
    for (const [i, { id, ask }] of this.late.entries()) {
      const answer = ask === 'calibrate' ? this.calibrated() : this.burst()
      if (answer === null) continue
      this.late.splice(i, 1)
      if ('refusal' in answer) this.refuse(id, (answer as Refused).refusal, (answer as Refused).detail)
      else this.peer.tell({ id, answer })
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
}

const isSameState = (a: BoardState, b: BoardState): boolean =>
  a.power === b.power &&
  a.powerId === b.powerId &&
  a.motors === b.motors &&
  a.radio === b.radio &&
  a.mode === b.mode &&
  a.lossPhase === b.lossPhase &&
  a.permit === b.permit &&
  a.refusing.length === b.refusing.length &&
  a.refusing.every((reason, i) => reason === b.refusing[i])
