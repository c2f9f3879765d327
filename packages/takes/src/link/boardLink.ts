import {
  ProblemError,
  type AnswerOf,
  type AskBody,
  type AskName,
  type BesideName,
  type BoardEvent,
  type BoardIdentity,
  type BoardState,
  type ImuStage,
  type LinkPhase,
  type RefusalType,
  type SenseTell,
  type StreamTell,
} from '@taraf/contract'

/** What a link tells its listeners. */
export interface LinkEvents {
  /** Its phase, or the state of its board, is another. */
  phase: []
  /** A block of samples, proved. */
  block: [SenseTell, ...unknown[]]
  /** A block of another stream that was asked for. */
  stream: [StreamTell, ...unknown[]]
  /** Something that happened on the board. */
  told: [BoardEvent]
  /** A block that proves nothing: what is wrong with it. */
  fault: [string]
}

/** A link to one board, as takes use it: Bench Link at a server, or a rig in the same process. Only the link itself writes its fields. */
export interface BoardLink {
  readonly phase: LinkPhase
  /** Why it stands as it does, in words. */
  readonly detail: string
  readonly identity: BoardIdentity | null
  /** What the board last told of itself; null before it did. */
  readonly state: BoardState | null
  /** When the newest sample was taken, s, by the board's clock. */
  readonly lastT: number
  /** It never comes back. */
  readonly isOver: boolean

  on<Name extends keyof LinkEvents>(event: Name, listener: (...args: LinkEvents[Name]) => void): void
  off<Name extends keyof LinkEvents>(event: Name, listener: (...args: LinkEvents[Name]) => void): void

  /** Asks the board. Rejects with a BoardRefusal, or with a problem where the link is lost before the answer. */
  ask<Name extends AskName>(body: AskBody & { ask: Name }, withinMs?: number): Promise<AnswerOf<Name>>
  /** Has the board send samples of a stage, and these streams beside them, where it sends others now. */
  wantStage(stage: ImuStage, streams: readonly BesideName[]): Promise<void>
  /** Waits until so much has passed by the board's own clock. */
  passed(seconds: number): Promise<void>
  /** Restarts the board and waits until it is back. */
  restart(): Promise<void>
  /** Says whether somebody is asked to arm the board now, or to try: if it arms at another time, nobody wanted that. */
  expectArming(isAsked: boolean): void
}

/** The board refused an ask: nothing was changed. */
export class BoardRefusal extends ProblemError {
  constructor(
    readonly refusal: RefusalType,
    detail: string,
  ) {
    super('board-refused', detail)
  }
}
