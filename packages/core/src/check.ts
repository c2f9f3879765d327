import type { Evidence, Finding, Findings, ImuStage, SheetPart, Verdict } from '@taraf/contract'

export interface CaptureSegment {
  readonly label: string
  readonly seconds: number
  /** What the technician does before this segment starts, in one imperative sentence. */
  readonly ask: string
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
  readonly capture: { readonly stage: ImuStage; readonly segments: readonly CaptureSegment[] }
  readonly evaluate: (evidence: Evidence) => Finding[]
}

export const stations = [
  { id: 'sensors', number: 3, title: 'Sensors' },
  { id: 'orientation', number: 4, title: 'Orientation' },
  { id: 'handover', number: 15, title: 'Handover' },
] as const
export type StationId = (typeof stations)[number]['id']

export const defineCheck = (check: Check): Check => check

/** The finding of evidence that proves nothing: why, and what to do. */
export const refusal = (why: string, act: string): Finding[] => [
  { key: 'refused', value: why, unit: '', verdict: 'refused', remedy: { act } },
]

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

/** The stream of a segment, or null. */
export const imuOf = (evidence: Evidence, label: string) => evidence.segments.find((s) => s.label === label)?.streams.imu ?? null
