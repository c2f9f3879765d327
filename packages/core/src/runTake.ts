import type {
  AsBuilt,
  Evidence,
  Finding,
  Findings,
  FlownHover,
  Place,
  Segment,
  Settings,
  SheetPart,
  Verdict,
  Want,
  Observation,
} from '@taraf/contract'
import type { Check } from './check'
import { documentOf } from './documentOf'
import { evaluate } from './evaluate'
import { standWatchOf, type StandWatch } from './motors/stands'
import type { Got, Written } from './take'

export { hoverOf } from './hover/known'

/** What the world gives a take beside what it wants. */
export interface Given {
  readonly at: Date
  readonly place: Place
  readonly sheet: SheetPart
  readonly airframe?: AsBuilt
  readonly settings: Settings
  /** What the board calls the choices of its settings, by name. */
  readonly choices?: Readonly<Record<string, readonly string[]>>
  /** Hover proofs on the record, where the check reads them. */
  readonly hovers?: readonly FlownHover[]
}
export interface TakeStep {
  /** How many wants were answered before. */
  readonly number: number
  /** Those of them that got what they waited for, by label. */
  readonly done: readonly string[]
  readonly want: Want
  /** The segments that there are. */
  readonly before: readonly Segment[]
  /** Watches a step that turns motors for one that does not; null where nobody tells how they turn. */
  readonly standing: StandWatch | null
  /** Whether the check can decide with this segment as it is so far. */
  readonly enough: (soFar: Segment) => boolean
}
export interface Taken {
  readonly evidence: Evidence
  readonly verdict: Verdict
  readonly findings: readonly Finding[]
}

/** Streams that come beside each other are told in blocks, one after the other, s. */
const blockS = 0.1

/**
 * The one engine of takes: goes through what a check wants, gathers what became of it, and judges it. Whoever drives it (the server on a
 * linked bench, the campaign on a rig, a test on a list of answers) does each step and hands back what came.
 */
export function* runTake(check: Check, given: Given): Generator<TakeStep, Taken, Got> {
  const segments: Segment[] = []
  const observations: Observation[] = []
  let written: Written | undefined
  const differs: string[] = []
  const done: string[] = []
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
      done: [...done],
      want: next.value,
      before: [...segments],
      standing: standWatchOf(next.value, given.sheet, given.settings, blockS),
      enough: (soFar) => judge([soFar]).verdict !== 'refused',
    }
    if (got.segment !== undefined) put(segments, got.segment)
    if (got.short !== true) done.push(next.value.label)
    observations.push(...(got.observations ?? []))
    written = got.written ?? written
    differs.push(...(got.written?.differs ?? []), ...(got.escs?.differs ?? []))
    // Where a motor does not turn as it is told, nothing turns any more.
    if (got.stood === true) break
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
  remedy: { by: 'technician', act: 'Something else was kept than was written. Look at it, then run it again.' },
})
