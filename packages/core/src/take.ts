import type { Finding, Observation, Remedy, Sampled, Segment, Settings, SheetPart, Want, WantOf } from '@taraf/contract'
import type { EscsWritten } from './board/escsAct'
import { verdictOf } from './check'

/** What became of a want: samples, answers, what was read back. */
export interface Got {
  readonly segment?: Segment
  /** It ended without what it waited for. */
  readonly short?: true
  /** A motor stood in it although it was told to turn. */
  readonly stood?: true
  readonly observations?: readonly Observation[]
  readonly written?: Written
  /** What of ESC settings was kept differently from it was asked. */
  readonly escs?: EscsWritten
}
/** Settings before and after an act, and what was kept differently from it was asked: nothing, where all was. */
export interface Written {
  readonly before: Settings
  readonly after: Settings
  /** What of it was asked for and kept otherwise, by name: the value that was written. */
  readonly asked: Settings
  readonly differs: readonly string[]
}

/** A take of a check: wants, one after the other, each answered before the next. */
export type Taking = Generator<Want, unknown, Got>

/** What a take can know while it runs: the sheet, what the board was set to, and what the check finds by what there is. */
export interface TakeSoFar {
  readonly sheet: SheetPart
  readonly settings: Settings
  readonly findings: () => readonly Finding[]
}

type Kind = Want['kind']
type InputOf<K extends Kind> = Omit<WantOf<K>, 'kind'>
const wanting = <K extends Kind>(kind: K) =>
  /** Wants it, and hands back what became of it. */
  function* (input: InputOf<K>): Generator<Want, Got, Got> {
    return yield { kind, ...input } as WantOf<K>
  }

/** The permit under which a board may be armed in a step, or null. */
export const armedUnder = (want: Want): 'armed-bench' | 'armed-alone' | 'flight' | null =>
  'permit' in want && want.permit !== undefined && want.permit !== 'teach' ? want.permit : null

/** One function for each kind of want, to be used as `yield* want.capture({ ... })`. */
export const want = {
  capture: wanting('capture'),
  pose: wanting('pose'),
  control: wanting('control'),
  turn: wanting('turn'),
  watch: wanting('watch'),
  log: wanting('log'),
  reports: wanting('reports'),
  answers: wanting('answers'),
  write: wanting('write'),
  calibrate: wanting('calibrate'),
  escs: wanting('escs'),
  state: wanting('state'),
}

/** The one remedy of all that fails, where it is one that the take itself can write and prove. */
export const writeOf = (findings: readonly Finding[]): Extract<Remedy, { by: 'settings' | 'calibration' }> | null => {
  const failing = findings.filter((f) => f.verdict === 'fail')
  const remedy = failing[0]?.remedy
  if (verdictOf(findings) !== 'fail' || (remedy?.by !== 'settings' && remedy?.by !== 'calibration')) return null
  return failing.every((f) => f.remedy?.act === remedy.act) ? remedy : null
}

/** Writes what a calibration found, and captures its proof with that in force, within the same take. Nothing where all is right. */
export function* proved(soFar: TakeSoFar, proof: Sampled): Taking {
  const remedy = writeOf(soFar.findings())
  if (remedy === null) return
  const step = { label: 'write', ask: remedy.act, atOnce: true as const }
  const { written } =
    remedy.by === 'settings'
      ? yield* want.write({ ...step, settings: remedy.settings })
      : yield* want.calibrate({ ...step, sensor: remedy.calibrate })
  if (written !== undefined && written.differs.length === 0) yield proof
}
