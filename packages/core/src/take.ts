import type {
  AsBuilt,
  Evidence,
  Finding,
  Findings,
  Observation,
  Place,
  Remedy,
  Sampled,
  Segment,
  Settings,
  SheetPart,
  Verdict,
  Want,
  WantOf,
} from '@taraf/contract'
import type { EscsWritten } from './board/escsAct'
import { evaluate, verdictOf, type Check } from './check'
import { documentOf } from './documentOf'

/** What came of a want: samples, answers, what was read back. */
export interface Got {
  readonly segment?: Segment
  readonly observations?: readonly Observation[]
  readonly written?: Written
  /** What of ESC settings was kept otherwise than it was asked. */
  readonly escs?: EscsWritten
}
/** Settings before and after an act, and what was kept otherwise than it was asked: nothing, where all was. */
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
  /** Wants it, and hands back what came of it. */
  function* (input: InputOf<K>): Generator<Want, Got, Got> {
    return yield { kind, ...input } as WantOf<K>
  }

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

/** What the world gives a take beside what it wants. */
export interface Given {
  readonly at: Date
  readonly place: Place
  readonly sheet: SheetPart
  readonly airframe?: AsBuilt
  readonly settings: Settings
  /** What the board calls the choices of its settings, by name. */
  readonly choices?: Readonly<Record<string, readonly string[]>>
}
export interface TakeStep {
  /** How many wants were answered before. */
  readonly number: number
  readonly want: Want
  /** The segments that there are. */
  readonly before: readonly Segment[]
  /** Whether the check can decide with this segment as it is so far. */
  readonly enough: (soFar: Segment) => boolean
}
export interface Taken {
  readonly evidence: Evidence
  readonly verdict: Verdict
  readonly findings: readonly Finding[]
}

/**
 * The one engine of takes: goes through what a check wants, gathers what came of it, and judges it. Whoever drives it (the server on a
 * linked bench, the campaign on a rig, a test on a list of answers) does each step and hands back what came.
 */
export function* runTake(check: Check, given: Given): Generator<TakeStep, Taken, Got> {
  const segments: Segment[] = []
  const observations: Observation[] = []
  let written: Written | undefined
  const differs: string[] = []
  const judge = (more: readonly Segment[] = []): Taken => {
    const after = differs.length > 0 ? undefined : written?.after
    const evidence = documentOf(check, { ...given, segments: [...segments, ...more], observations, written: after })
    const { verdict, findings }: Findings = evaluate(check, evidence)
    return { evidence, verdict, findings }
  }
  const steps = check.take({ sheet: given.sheet, settings: given.settings, findings: () => judge().findings })
  let next = steps.next()
  for (let number = 0; next.done !== true; number++) {
    const got: Got = yield {
      number,
      want: next.value,
      before: [...segments],
      enough: (soFar) => judge([soFar]).verdict !== 'refused',
    }
    if (got.segment !== undefined) put(segments, got.segment)
    observations.push(...(got.observations ?? []))
    written = got.written ?? written
    differs.push(...(got.written?.differs ?? []), ...(got.escs?.differs ?? []))
    next = steps.next(got)
  }
  const taken = judge()
  if (differs.length === 0) return taken
  return { ...taken, verdict: 'fail', findings: [...taken.findings, keptOtherwise(differs)] }
}

/** A step that is done again replaces what it gave before. */
const put = (segments: Segment[], segment: Segment): void => {
  const before = segments.findIndex((s) => s.label === segment.label)
  if (before < 0) segments.push(segment)
  else segments[before] = segment
}

const keptOtherwise = (differs: readonly string[]): Finding => ({
  key: 'write',
  value: differs.join('; '),
  unit: '',
  verdict: 'fail',
  remedy: { by: 'technician', act: 'The board kept something else than was written. Look at its settings, then run it again.' },
})
