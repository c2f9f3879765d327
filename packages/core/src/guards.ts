import { findings as findingsSchema, streamNames, streams } from '@taraf/contract'
import type { Column, Evidence, Finding, Sampled, Segment, StreamEntry, StreamName, Streams } from '@taraf/contract'
import type { Check } from './check'
import { discontinuity } from './continuity'
import { limitsAgainst } from './sheets/wrongLimits'
import { planOf } from './plan'
import { degrees } from './rotation'
import { mean } from './statistics'
import { findMovement, movedIn } from './stillness'

/** Why evidence proves nothing, and what to do. */
export interface Unproved {
  readonly why: string
  readonly act: string
}

/**
 * The guards that every check stands behind, run for every segment that it asks for before it looks at anything. What they refuse proves
 * nothing, whatever the check would make of it.
 */
export const unproved = (check: Check, evidence: Evidence): Unproved | null => {
  const asked = askedOf(check, evidence)
  return badLimit(evidence) ?? wrongSegments(asked, evidence) ?? wrongStage(check, evidence) ?? inSegments(asked, evidence)
}

/** A finding that is no number, or no finding at all: nothing of it leaves an evaluation. */
export const unsaid = (found: readonly Finding[]): Unproved | null => {
  const wrong = found.find((f) => !findingsSchema.shape.findings.element.safeParse(f).success)
  if (found.length > 0 && wrong === undefined) return null
  return {
    why: wrong === undefined ? 'this evidence gives no finding' : `this evidence gives no figure for ${wrong.key}`,
    act: 'Run it again.',
  }
}

const badLimit = ({ sheet }: Evidence): Unproved | null => {
  const [first] = limitsAgainst(sheet.limits ?? {})
  return first === undefined
    ? null
    : { why: `the sheet contradicts itself at ${first.place}: ${first.why}`, act: 'Correct the build sheet, then run it again.' }
}

/** What a check asks for as samples, and what it may come with beside that. */
interface Asked {
  readonly must: readonly Sampled[]
  readonly may: readonly Sampled[]
  readonly labels: ReadonlySet<string>
}
const askedOf = ({ take, proof, optional = [], stepsOf }: Check, evidence: Evidence): Asked => {
  const { sheet, written } = evidence
  const own = stepsOf?.(evidence) ?? null
  if (own !== null) return { must: own, may: [], labels: new Set(own.map(({ label }) => label)) }
  const may = optional.filter((want) => 'streams' in want)
  const plan = planOf({ take }, sheet)
  const samples = plan.filter((want) => 'streams' in want && !may.some((m) => m.label === want.label)) as Sampled[]
  const must = written === undefined || proof === undefined ? samples : [...samples, proof]
  return { must, may, labels: new Set([...plan, ...must, ...optional].map((want) => want.label)) }
}

const wrongSegments = ({ must, labels: asked }: Asked, evidence: Evidence): Unproved | null => {
  const act = 'Run it again.'
  const labels = evidence.segments.map((s) => s.label)
  const twice = labels.find((label, i) => labels.indexOf(label) < i)
  if (twice !== undefined) return { why: `the segment "${twice}" is there twice`, act }
  // A check that samples nothing is only answered: it finds what it asks for by what that is.
  if (must.length === 0) return null
  const missing = must.find((want) => !labels.includes(want.label))
  if (missing !== undefined) return { why: `the segment "${missing.label}" is missing`, act }
  const unasked = labels.find((label) => !asked.has(label))
  return unasked === undefined ? null : { why: `nobody asked for the segment "${unasked}"`, act }
}

/** Samples of another stage than the check reads prove nothing, whatever they say. */
const wrongStage = ({ stages: wanted }: Check, { segments }: Evidence): Unproved | null => {
  if (wanted === null) return null
  for (const { label, streams: found } of segments)
    for (const name of ['imu', 'imuBurst'] as const) {
      const stage = found[name]?.stage
      if (stage !== undefined && !wanted.includes(stage)) {
        const right = wanted.join(' or ')
        return {
          why: `the ${name} stream of "${label}" is in stage ${stage}, not ${right}`,
          act: `Capture it in stage ${right}.`,
        }
      }
    }
  return null
}

const inSegments = ({ must, may }: Asked, evidence: Evidence): Unproved | null => {
  // Where there is one segment, its name says nothing to anybody.
  const isAlone = must.length === 1 && may.length === 0
  for (const want of [...must, ...may]) {
    const segment = evidence.segments.find((s) => s.label === want.label)
    if (segment === undefined) continue
    for (const name of streamNames) {
      const stream = segment.streams[name]
      if (!want.streams.includes(name) || (stream === undefined && want.mayLack?.includes(name) === true)) continue
      const wrong = inStream(name, stream, want)
      if (wrong !== null) return { why: `${isAlone ? '' : `"${want.label}", `}${name}: ${wrong}`, act: acts[name] }
    }
    const moved = movedOrFrozen(want, segment.streams)
    if (moved !== null) return isAlone ? moved : { ...moved, why: `"${want.label}": ${moved.why}` }
  }
  return null
}

const again = 'then run it again.'
const acts: Readonly<Record<StreamName, string>> = {
  imu: `Check the cable, ${again} If it says so again, see at the station Board whether every sensor answers.`,
  attitude: `Check the cable, ${again}`,
  imuBurst: `Check the cable, ${again}`,
  mag: `Make sure the compass answers and that its lead is fully in, ${again}`,
  radio: `Make sure the receiver hears the transmitter, ${again}`,
  outputs: `Check the cable, ${again}`,
  escs: `Make sure the battery is in and that the ESCs answer, ${again}`,
  power: `Make sure the board measures voltage and current, ${again}`,
  baro: `Make sure the barometer answers, ${again}`,
  fix: `Make sure the position receiver is plugged in and its socket set, ${again}`,
  meter: `Make sure the meter is on, and clipped on the right way round, ${again}`,
}

const inStream = (
  name: StreamName,
  stream: Streams[StreamName],
  { kind, seconds, enoughS = seconds, alive = [] }: Sampled,
): string | null => {
  if (stream === undefined) return 'the stream is missing'
  const entry: StreamEntry = streams[name]
  if (stream.t.length === 0) return 'the stream is empty'
  // What is watched ends with the event that is waited for, however soon that comes.
  return discontinuity(stream.t, kind === 'watch' ? 0 : enoughS, entry) ?? outside(entry, stream) ?? frozen(entry, stream, alive)
}

const columnsOf = (entry: StreamEntry, stream: object): [name: string, column: Column][] =>
  entry.columns.flatMap((name): [string, Column][] => {
    const column = (stream as Readonly<Record<string, Column | undefined>>)[name]
    return column === undefined ? [] : [[name, column]]
  })

/** A value that such a sensor cannot say. */
const outside = (entry: StreamEntry, stream: object): string | null => {
  for (const [name, column] of columnsOf(entry, stream)) {
    const [least, most] = entry.spans[name] ?? entry.spans[name.replace(/\d+$/, '')] ?? [-Infinity, Infinity]
    for (const value of column) {
      if (!(value >= least && value <= most))
        return `${name} reads ${value}: no such sensor says ${value < least ? `less than ${least}` : `more than ${most}`}`
    }
  }
  return null
}

/** One column that stands for so long is a dead one; common practice: a live one changes with nearly every row. */
const columnStandsS = 1
const columnStandsRows = 50
const rowStandsRows = 6

/** A live sensor trembles: rows that repeat were not measured, and a column that stands measures nothing. */
const frozen = (entry: StreamEntry, stream: { readonly t: Column }, alive: readonly string[]): string | null => {
  if (entry.trembles === undefined) return null
  const alone = new Set([...entry.trembles, ...alive])
  const columns = columnsOf(entry, stream)
  const { t } = stream
  const stood = (since: number, i: number) => (t[i] as number) - (t[since] as number)
  const since = new Int32Array(columns.length)
  for (let i = 1; i < t.length; i++) {
    let rowSince = 0
    for (const [k, [name, column]] of columns.entries()) {
      if (column[i] !== column[i - 1]) since[k] = i
      const from = since[k] as number
      rowSince = Math.max(rowSince, from)
      if (alone.has(name) && i - from + 1 >= columnStandsRows && stood(from, i) >= columnStandsS)
        return `${name} reads ${column[i] as number} for over ${columnStandsS} s on end: it is dead or frozen`
    }
    if (i - rowSince + 1 >= rowStandsRows && stood(rowSince, i) > (entry.longestGapS ?? Infinity))
      return `it says the same for over ${stood(rowSince, i).toFixed(2)} s on end: it is frozen`
  }
  return null
}

const movedOrFrozen = ({ still }: Sampled, { imu, attitude }: Segment['streams']): Unproved | null => {
  if (imu === undefined) return null
  if (attitude !== undefined && stoodWhileTurned(imu, attitude))
    return { why: 'the attitude stood still while the gyro read a turn: it is frozen', act: acts.attitude }
  if (still === 'laid') {
    const movement = findMovement(imu)
    return movement === null ? null : { why: movement.why, act: 'Lay it down, keep your hands off it and run it again.' }
  }
  const why = still === 'held' ? movedIn(imu) : null
  return why === null ? null : { why, act: 'Rest your arm on the bench, hold it still and run it again.' }
}

const turningRate = 5 // deg/s about the mean of a stream that holds more than one turn, or of its rest
const standsS = 0.5

/** Whether the reported attitude says the very same for half a second in which the gyro turned by more than any bias. */
const stoodWhileTurned = (imu: NonNullable<Streams['imu']>, attitude: NonNullable<Streams['attitude']>): boolean => {
  const n = Math.min(imu.t.length, attitude.t.length)
  let since = 0
  for (let i = 1; i < n; i++) {
    if (
      attitude.roll[i] !== attitude.roll[i - 1] ||
      attitude.pitch[i] !== attitude.pitch[i - 1] ||
      attitude.yaw[i] !== attitude.yaw[i - 1]
    )
      since = i
    if ((attitude.t[i] as number) - (attitude.t[since] as number) < standsS) continue
    const rate = Math.hypot(mean(imu.gx, since, i), mean(imu.gy, since, i), mean(imu.gz, since, i))
    if (degrees(rate) > turningRate) return true
    since = i
  }
  return false
}
