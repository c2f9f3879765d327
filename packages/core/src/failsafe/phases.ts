import type { Column, EvidenceEvent, Segment } from '@taraf/contract'
import { driven } from '../arming/account'
import { median } from '../statistics'

/** The longest time without frames in a segment, s: from the last frame before it to the first one after it. */
export interface Gap {
  readonly from: number
  readonly to: number
}

/** Shorter than this no board calls it a loss, s. */
const lossS = 0.3

/** The longest gap, or why there is none that proves anything. */
export const gapIn = ({ streams: { radio }, events = [] }: Segment, leastGapS = lossS): Gap | string => {
  if (radio === undefined) return 'no frame of the radio was sampled'
  const t = Array.from(radio.t).filter((_, row) => radio.quality === undefined || (radio.quality[row] as number) > 0)
  let gap: Gap | null = null
  for (let i = 1; i < t.length; i++) {
    const [from, to] = [t[i - 1] as number, t[i] as number]
    if (gap === null || to - from > gap.to - gap.from) gap = { from, to }
  }
  const last = t[t.length - 1]
  if (last === undefined) return 'no frame was received'
  const end = Math.max(...events.map((event) => event.t), radio.t[radio.t.length - 1] as number)
  if (end - last > leastGapS && end - last > (gap === null ? 0 : gap.to - gap.from)) return 'no frame came after the loss'
  return gap === null || gap.to - gap.from <= leastGapS ? 'the signal never went' : gap
}

/** When each phase of one loss began, s; null where it never did. */
export interface Phases {
  readonly wait: number | null
  readonly act: number | null
  /** What came after the act. */
  readonly next: number | null
  readonly end: number | null
  readonly recover: number | null
  /** The sticks count again. */
  readonly none: number | null
}

/** Times are those of frames and events: an event may be told a moment before the frame that it followed. */
const slackS = 0.02

export const phasesOf = (events: readonly EvidenceEvent[], gap: Gap): Phases => {
  const told = events.filter((event) => event.what === 'loss')
  const first = (phase: string | null, since: number | null): number | null =>
    since === null
      ? null
      : (told.find((event) => event.t >= since && (phase === null || (event as { phase?: string }).phase === phase))?.t ?? null)
  const wait = first('wait', gap.from - slackS)
  const act = first('act', wait)
  const after = act === null ? null : act + 1e-9
  return {
    wait,
    act,
    next: first(null, after),
    end: first('end', after),
    recover: first('recover', after),
    none: first('none', gap.to - slackS),
  }
}

/** The mode that was longest in force between two times. */
export const modeIn = (events: readonly EvidenceEvent[], before: string, from: number, to: number): string => {
  const told = events.flatMap((event) =>
    event.what === 'mode' ? [{ t: event.t, mode: (event as { mode?: string }).mode ?? before }] : [],
  )
  const starts = [
    { t: from, mode: told.findLast(({ t }) => t <= from + 1e-9)?.mode ?? before },
    ...told.filter(({ t }) => t > from + 1e-9 && t < to),
  ]
  const lasted = new Map<string, number>()
  starts.forEach(({ t, mode }, i) => lasted.set(mode, (lasted.get(mode) ?? 0) + (starts[i + 1]?.t ?? to) - t))
  return [...lasted].reduce((most, one) => (one[1] > most[1] ? one : most))[0]
}

type Outputs = NonNullable<Segment['streams']['outputs']>
export const rowsIn = ({ t }: Outputs, from: number, to: number): number[] =>
  Array.from({ length: t.length }, (_, i) => i).filter((i) => (t[i] as number) >= from && (t[i] as number) <= to)

/** The middle of the collective between two times, 0..1; null where it was not sampled. */
export const commandIn = (outputs: Outputs, from: number, to: number): number | null => {
  const column = (outputs as { command?: Column }).command
  const rows = rowsIn(outputs, from, to)
  return column === undefined || rows.length === 0 ? null : median(rows.map((i) => column[i] as number))
}

/** The largest step of any output at a time: from its middle in the tenth of a second before to any sample in that after, 0..1. */
export const jumpAt = (outputs: Outputs, t: number): number | null => {
  const before = rowsIn(outputs, t - aroundS, t - 1e-9)
  const after = rowsIn(outputs, t, t + aroundS)
  if (before.length === 0 || after.length === 0) return null
  return Math.max(
    0,
    ...driven(outputs).map(([, column]) => {
      const was = median(before.map((i) => column[i] as number))
      return Math.max(...after.map((i) => Math.abs((column[i] as number) - was)))
    }),
  )
}
const aroundS = 0.1

/** The outputs of some that are told nothing between two times, while others turn. */
export const standingIn = (outputs: Outputs, of: readonly number[], from: number, to: number): number[] => {
  const rows = rowsIn(outputs, from, to)
  const columns = new Map(driven(outputs))
  const standing = of.filter((output) => rows.every((i) => (columns.get(`o${output}`)?.[i] ?? 0) === 0))
  return standing.length === of.length ? [] : standing
}

/** Whether any output is told to turn between two times; null where none was sampled. */
export const turnsIn = (outputs: Outputs | undefined, from: number, to: number): boolean | null => {
  if (outputs === undefined) return null
  const rows = rowsIn(outputs, from, to)
  return rows.length === 0 ? null : driven(outputs).some(([, column]) => rows.some((i) => (column[i] as number) > 0))
}

/** The longest time on end between two times in which the collective is under a least one, or no output is driven, s. */
export const fallsFor = (outputs: Outputs, of: readonly number[], least: number, from: number, to: number): number => {
  const command = (outputs as { command?: Column }).command
  const columns = driven(outputs).filter(([name]) => of.includes(Number(name.slice(1))))
  let [longest, since] = [0, NaN]
  for (const i of rowsIn(outputs, from, to)) {
    const falls = (command?.[i] ?? Infinity) < least || (columns.length > 0 && columns.every(([, column]) => column[i] === 0))
    const t = outputs.t[i] as number
    if (!falls) since = NaN
    else if (Number.isNaN(since)) since = t
    else longest = Math.max(longest, t - since)
  }
  return longest
}
