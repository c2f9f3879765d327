import type {
  Evidence,
  Finding,
  ImuStage,
  ItemBody,
  Limit,
  Remedy,
  Reports,
  Sampled,
  SheetPart,
  TransmitterSetting,
  Verdict,
  WantOf,
  Work,
} from '@taraf/contract'
import { isWithin } from './limits'
import { whyLeftOut } from './sheetHas'
import type { TakeSoFar, Taking } from './take'

/** What can spoil a result, by the kind of change: each names what of it a check reads. */
export interface Reads {
  /** By name, `group.*` or `group.*.name`. */
  readonly settings: readonly string[]
  readonly parts: readonly string[]
  readonly acts: readonly ('board' | 'knock' | 'remount' | 'lead' | 'prop' | 'transmitter')[]
  /** Of what is set on a transmitter, what it depends on; all of it where it does not say. */
  readonly onTransmitter?: (set: Pick<TransmitterSetting, 'channel' | 'name'>, sheet: SheetPart) => boolean
  /** Any part that is put in for another: it compares what is built in. */
  readonly built?: true
  readonly image: boolean
  /** Settings of ESCs by name, or `*`. */
  readonly escs?: readonly string[]
  /** It is judged against the command in hover: it is given the hover proofs on the record, and one that says otherwise spoils it. */
  readonly hover?: true
}

export type FindingWords = Readonly<Record<string, string>>

/** One thing to prove: what it needs and reads, what a take of it does, and the pure function that decides. */
export interface Check {
  readonly id: string
  /** Raised when the same evidence could give other findings. */
  readonly version: number
  readonly station: StationId
  readonly title: string
  /** What the check proves, in one sentence for the technician. */
  readonly proves: string
  /** What each finding is called, by its key; those of a list are called as their questions. */
  readonly words?: FindingWords | ((sheet: SheetPart) => FindingWords)
  /** Checks that must stand first. */
  readonly needs: readonly string[]
  readonly reads: Reads
  /** Whether a sheet has what it judges; every sheet has where it does not say. */
  readonly appliesTo?: (sheet: SheetPart) => boolean
  /** The stages that its imu samples may be in; null where it reads none, or any will do. */
  readonly stages: readonly ImuStage[] | null
  /** What a take of it does, step by step. */
  readonly take: (soFar: TakeSoFar) => Taking
  /** A take may write what it finds; this is captured with that in force, and proves it within the same take. */
  readonly proof?: Sampled
  /** It proves that motors turn: one that does not fails it, where of any other check it only leaves nothing to judge. */
  readonly provesTurning?: true
  /** Segments that its evidence may hold or lack. */
  readonly optional?: readonly (Sampled | WantOf<'answers'> | WantOf<'reports'>)[]
  /** The steps that segments stand for which are labelled freely; null where they are those of its take. */
  readonly stepsOf?: (evidence: Evidence) => readonly Sampled[] | null
  readonly evaluate: (evidence: Evidence) => Finding[]
  /** What a take that did not fail leaves to be put back or done later: opened on the card, once. */
  readonly opens?: (evidence: Evidence) => readonly Pick<ItemBody, 'what' | 'words' | 'blocks'>[]
}

export const stations = [
  { id: 'intake', number: 1, title: 'Intake' },
  { id: 'board', number: 2, title: 'Board' },
  { id: 'sensors', number: 3, title: 'Sensors' },
  { id: 'orientation', number: 4, title: 'Orientation' },
  { id: 'radio', number: 5, title: 'Radio' },
  { id: 'switches', number: 6, title: 'Switches' },
  { id: 'escs', number: 7, title: 'ESCs' },
  { id: 'motors', number: 8, title: 'Motors' },
  { id: 'arming', number: 9, title: 'Arming' },
  { id: 'failsafe', number: 10, title: 'Failsafe' },
  { id: 'hover', number: 14, title: 'Hover proof' },
  { id: 'handover', number: 15, title: 'Handover' },
] as const
export type StationId = (typeof stations)[number]['id']

export const defineCheck = (check: Check): Check => check

/** Why a sheet does not need a check; null where it does. */
export const whyAbsent = (check: Pick<Check, 'id' | 'appliesTo'>, sheet: SheetPart): string | null => {
  const reason = whyLeftOut(sheet, check.id)
  if (reason !== null) return `left out by its sheet: ${reason}`
  return check.appliesTo?.(sheet) === false ? 'this type has nothing that it judges' : null
}

export const isNeeded = (check: Pick<Check, 'id' | 'appliesTo'>, sheet: SheetPart): boolean => whyAbsent(check, sheet) === null

/** A remedy that is the technician's to do as the words say, or work on the airframe where some is named. */
export const byHand = (act: string, work: readonly Work[] = []): Remedy =>
  work.length === 0 ? { by: 'technician', act } : { by: 'work', act, work: [...work] }

/** The finding of evidence that proves nothing: why, and what to do. */
export const refusal = (why: string, act: string, work?: readonly Work[]): Finding[] => [
  { key: 'refused', value: why, unit: '', verdict: 'refused', remedy: byHand(act, work) },
]

/** A finding that is measured and not judged. */
export const shown = (key: string, value: Finding['value'], unit: string): Finding => ({ key, value, unit, verdict: 'shown' })

/** A finding judged by its limit, with its remedy where it fails. */
export const judged = (key: string, value: number, unit: string, limit: Limit, remedy: Remedy): Finding =>
  isWithin(value, limit) ? { key, value, unit, limit, verdict: 'pass' } : { key, value, unit, limit, verdict: 'fail', remedy }

/** A finding that must be one value, with its remedy where it is another and one is known. */
export const judgedAs = (key: string, value: string | number, wanted: string | number, remedy?: Remedy): Finding => {
  const found = { key, value, unit: '', limit: { equals: wanted } }
  if (value === wanted) return { ...found, verdict: 'pass' }
  return { ...found, verdict: 'fail', ...(remedy === undefined ? {} : { remedy }) }
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

/** What the board answered during a take, all segments together. */
export const reportsOf = (evidence: Evidence): Reports =>
  Object.assign({}, ...evidence.segments.map((s) => s.reports ?? {})) as Reports

/** The stream of a segment, or null. */
export const imuOf = (evidence: Evidence, label: string) => evidence.segments.find((s) => s.label === label)?.streams.imu ?? null
