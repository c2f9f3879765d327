import type {
  ReportName,
  Evidence,
  Finding,
  Findings,
  ImuStage,
  ItemBody,
  Limit,
  Remedy,
  Reports,
  SheetPart,
  Verdict,
} from '@taraf/contract'
import { isWithin } from './limits'

export interface CaptureSegment {
  readonly label: string
  readonly seconds: number
  /** What the technician does before this segment starts, in one imperative sentence. */
  readonly ask: string
  /** Held in the hand: captured by itself once it is held still at least so far from the first pose, about as drawn. */
  readonly hold?: { readonly leastDeg: number; readonly rollDeg: number; readonly pitchDeg: number }
  /** What the technician does while it is captured, where it is not to keep hands off. */
  readonly during?: string
  /** The technician also taps the side that points up. */
  readonly mark?: boolean
  /** The technician also enters where the position antenna sits. */
  readonly place?: boolean
  /** Streams beside imu and attitude. */
  readonly streams?: readonly ('mag' | 'baro' | 'fix' | 'power' | 'meter')[]
  /** From then on it ends, before its seconds are over, as soon as the check can decide by what there is. */
  readonly leastSeconds?: number
  /** Asked of the board once the samples are there; a segment without seconds has none. */
  readonly asks?: readonly ReportName[]
  /** Ends before its seconds are over once this is there. */
  readonly until?: 'fix'
  /** All motors turn at this share of the command, props off, for as long as a hand keeps them. */
  readonly spin?: number
  /** Asked of the technician, item by item, instead of captured: no bench is needed. */
  readonly questions?: (sheet: SheetPart) => readonly Question[]
  /** Begins at once: nothing is to be laid or held first. */
  readonly atOnce?: boolean
}

/** One thing that a person looks at, and says what they see. */
export interface Question {
  readonly id: string
  /** What must be so, as one statement. */
  readonly words: string
  readonly why: string
  /** `so`: whether the statement is true; else what is read or known, as text, a number with its unit, or one of several. */
  readonly answer: 'so' | 'text' | 'number' | readonly string[]
  readonly unit?: string
  /** The booms where it is to be seen, or the middle of the airframe where none is named. */
  readonly booms?: readonly string[]
  /** What mends it where the statement is not true. */
  readonly remedy?: Remedy
  /** May be left without an answer. */
  readonly optional?: boolean
}

/** One thing to prove: what it needs and reads, what is captured, and the pure function that decides. */
export interface Check {
  readonly id: string
  /** Raised when the same evidence could give other findings. */
  readonly version: number
  readonly station: StationId
  readonly title: string
  /** What the check proves, in one sentence for the technician. */
  readonly proves: string
  /** Checks that must stand first. */
  readonly needs: readonly string[]
  /** What can spoil a result: settings by name or `group.*`, parts, acts, and whether firmware does. */
  readonly reads: {
    readonly settings: readonly string[]
    readonly parts: readonly string[]
    readonly acts: readonly string[]
    readonly firmware: boolean
  }
  readonly appliesTo: (sheet: SheetPart) => boolean
  readonly capture: {
    readonly stage: ImuStage
    /** The battery is in, props and nuts confirmed off for it, before the take starts. */
    readonly battery?: boolean
    readonly segments: readonly CaptureSegment[]
    /** A calibration writes what it found, and captures these with it in force: its proof, within the same take. */
    readonly proof?: readonly CaptureSegment[]
  }
  readonly evaluate: (evidence: Evidence) => Finding[]
  /** What a take that did not fail leaves to be put back or done later: opened on the card, once. */
  readonly opens?: (evidence: Evidence) => readonly Pick<ItemBody, 'what' | 'words' | 'blocks'>[]
}

export const stations = [
  { id: 'intake', number: 1, title: 'Intake' },
  { id: 'board', number: 2, title: 'Board' },
  { id: 'sensors', number: 3, title: 'Sensors' },
  { id: 'orientation', number: 4, title: 'Orientation' },
  { id: 'handover', number: 15, title: 'Handover' },
] as const
export type StationId = (typeof stations)[number]['id']

export const defineCheck = (check: Check): Check => check

/** The finding of evidence that proves nothing: why, and what to do. */
export const refusal = (why: string, act: string, work?: Remedy['work']): Finding[] => [
  { key: 'refused', value: why, unit: '', verdict: 'refused', remedy: { act, ...(work === undefined ? {} : { work }) } },
]

/** A finding that is measured and not judged. */
export const shown = (key: string, value: Finding['value'], unit: string): Finding => ({ key, value, unit, verdict: 'shown' })

/** A finding judged by its limit, with its remedy where it fails. */
export const judged = (key: string, value: number, unit: string, limit: Limit, remedy: Remedy): Finding =>
  isWithin(value, limit) ? { key, value, unit, limit, verdict: 'pass' } : { key, value, unit, limit, verdict: 'fail', remedy }

/** All that a take may capture: its segments, then its proof. */
export const segmentsOf = ({ capture: { segments, proof = [] } }: Check): readonly CaptureSegment[] => [...segments, ...proof]

/** What is asked of the technician where nothing is captured, or null where something is. */
export const questionsOf = ({ capture: { segments } }: Check, sheet: SheetPart): readonly Question[] | null =>
  segments.length > 0 && segments.every((s) => s.questions !== undefined)
    ? segments.flatMap((s) => s.questions?.(sheet) ?? [])
    : null

/** Whether a take of this check turns motors: it wants the battery in, and props confirmed off for it. */
export const spins = (check: Check): boolean => segmentsOf(check).some((s) => s.spin !== undefined)

/** Whether a take wants the battery in before it starts, and props and nuts confirmed off for that very connection. */
export const wantsBattery = (check: Check): boolean => check.capture.battery === true || spins(check)

/** What a calibration writes within its take: the one remedy of all that fails, where Taraf can do it over the link. */
export const writeOf = (check: Check, findings: readonly Finding[]): Remedy | null => {
  const failing = findings.filter((f) => f.verdict === 'fail')
  const remedy = failing[0]?.remedy
  if (check.capture.proof === undefined || verdictOf(findings) !== 'fail' || remedy === undefined) return null
  if (remedy.settings === undefined && remedy.calibrate === undefined) return null
  return failing.every((f) => f.remedy?.act === remedy.act) ? remedy : null
}

/** A take that wrote: what was found before stays shown, what was found with the write in force decides. */
export const withProof = (before: readonly Finding[], after: readonly Finding[]): Finding[] => {
  if (verdictOf(before) === 'refused') return [...before]
  const again = new Set(after.map((f) => f.key))
  return [...before.map((f) => (again.has(f.key) ? shown(`${f.key}Before`, f.value, f.unit) : f)), ...after]
}

/** Refused if anything is, failed if anything is, else passed. */
export const verdictOf = (findings: readonly Finding[]): Verdict => {
  if (findings.some((f) => f.verdict === 'refused')) return 'refused'
  return findings.some((f) => f.verdict === 'fail') ? 'fail' : 'pass'
}

/** Runs a check on its evidence. */
export const evaluate = (check: Check, evidence: Evidence): Findings => {
  const findings = check.evaluate(evidence)
  return { format: 'taraf-findings/1', check: check.id, version: check.version, verdict: verdictOf(findings), findings }
}

/** What the board answered during a take, all segments together. */
export const reportsOf = (evidence: Evidence): Reports =>
  Object.assign({}, ...evidence.segments.map((s) => s.reports ?? {})) as Reports

/** The stream of a segment, or null. */
export const imuOf = (evidence: Evidence, label: string) => evidence.segments.find((s) => s.label === label)?.streams.imu ?? null
