import type { AskBody, Change, HandsState, Observation, Want, WantOf } from '@taraf/contract'
import type { Written } from '@taraf/core'
import type { Rig } from '@taraf/rig'
import type { Handled } from './handActs'

/** Who stands at the rig: answers lists, and knows how a board at an eighth is held. */
export interface AtTheRig {
  readonly byEdges?: boolean
  readonly answer?: (want: WantOf<'answers'>, felt: Felt) => readonly Observation[]
  /** Emitter at once what a step of the take wrote, before the next one. */
  readonly wrote?: (written: Written) => void
  /** Emitter at once what the take wrote to ESCs. */
  readonly wroteEscs?: (change: Change) => void
  /** Emitter of a knock that the board felt. */
  readonly knocked?: () => void
  /** What goes wrong meanwhile. */
  readonly meddler?: Meddler
}

/** What was seen, felt and heard at the end of each step in which motors may turn, by its label. */
export type Felt = ReadonlyMap<string, Pick<HandsState, 'motors' | 'lights' | 'tone'>>

/** What goes wrong while a take runs: at the rig, on the way to the recorder, or in what the board is asked. */
export interface Meddler {
  /** What is done for a want instead of what it asks. */
  readonly handled?: (want: Want, handled: Handled) => Handled
  /** Called before each row of samples of a want; what becomes of that row. Says once it has done something. */
  readonly row?: (rig: Rig, want: Want, row: number, happened?: () => void) => 'keep' | 'lose' | 'repeat'
  /** Called before a board is asked for its reports. Says once it has done something. */
  readonly reports?: (rig: Rig, want: Want, happened?: () => void) => void
  /** What is said of a step instead of what is so. */
  readonly said?: (rig: Rig, want: Want, said: readonly Observation[], happened?: () => void) => readonly Observation[]
  /** Called once the take is over, however it ended. */
  readonly after?: (rig: Rig) => void
  /** What the board is asked instead. */
  readonly ask?: (body: AskBody) => AskBody
}
