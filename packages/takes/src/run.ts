import type { BoardEvent, Change, Observation, Said, Segment, TakeTell, Want } from '@taraf/contract'
import type { Got, Written } from '@taraf/core'
import type { TakeStep } from '@taraf/core/runTake'
import type { Clock } from './clock'
import type { BoardLink } from './link/boardLink'
import type { KeptTurning } from './turning'

/** The take was stopped by whoever takes it. */
export class Aborted extends Error {}
/** A step that ended before it was whole: the take is refused with this reason, and what to do. */
export class CaptureLost extends Error {
  constructor(
    why: string,
    readonly act = 'Wait until the board answers again, then run it again.',
  ) {
    super(why)
  }
}

/** The transmitter went off in the middle of a step: the step is begun again once it is heard. */
export class TransmitterSilent extends CaptureLost {}

/** Why nothing is proved by what a lost link cut off, before the stop that ends the sentence. */
export const linkLost = (detail: string): string => `the link was lost. ${detail.replace(/\.$/, '')}`

/** What a recorder has of the take that runs. */
export interface Run {
  readonly link: BoardLink
  readonly clock: Clock
  /** Aborts with the reason when the step is over before its end: the link lost, the state left, the take stopped. */
  readonly signal: AbortSignal
  /** The battery connection that props were confirmed off for, or null where the take wants none. */
  readonly powerId: string | null
  /** Motors that turn under a permit that goes on from step to step. */
  readonly turning: KeptTurning
  say(news: Partial<TakeTell>): void
  /** Progress in steps of a twentieth, and what guides a hand when it changes: screens need no more. */
  progress(share: number, guide?: { words: string; tiltDeg: number | null } | null): void
  /** Waits for the technician to say that all is as asked. */
  hand(): Promise<void>
  /** Waits until what the step asks for was said, and hands it over. */
  said(): Promise<Observation[]>
  /** Waits until every item of a list was answered, and hands the answers over. */
  answers(): Promise<readonly Observation[]>
  /** Keeps what was written, at once. */
  wrote(written: Written): Promise<void>
  /** Keeps what else was changed of the airframe, at once. */
  changed(change: Change): Promise<void>
  /** Holds the permit under which ESCs are taught, once somebody said that props are off; puts that on the card. */
  teach(): Promise<void>
  /** What the board told since before the step had its permit. */
  news(): readonly BoardEvent[]
  /** Drops the permit under which the board was armed: everything stands. */
  disarm(): Promise<void>
  /** Waits until props are confirmed off for the battery that is in now. */
  propsOff(): Promise<void>
  /** Puts on the card that props are on for the battery that is in now: what flies next is bound to it. */
  propsOn(): Promise<void>
  /** The outputs that drive a motor, by the sheet. */
  readonly outputs: readonly number[]
}

/** One for each kind of want: does the step on a linked bench, and hands back what became of it. */
export type Recorder<K extends Want['kind']> = (run: Run, step: TakeStep & { want: Extract<Want, { kind: K }> }) => Promise<Got>

/** What is asked for beside samples, as an observation of its segment. */
export const observationOf = ({ label }: Pick<Segment, 'label'>, said: Said): Observation => ({ segment: label, ...said })
