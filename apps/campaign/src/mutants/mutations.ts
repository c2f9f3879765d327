import type { Column, Evidence, Segment } from '@taraf/contract'
import { limits } from '@taraf/core'
import type { Random } from '@taraf/rig'

/** One way to bend a document. Returns the bent one: parts that it does not touch are shared with the old. */
export type Mutation = (document: Evidence, random: Random) => Evidence

type Loose = Record<string, unknown>
const pick = <T>(random: Random, from: readonly T[]): T | undefined => from[random.below(from.length)]
const factors = [-1, 0, 0.5, 0.9, 1.1, 2, 10, 1e3, 1e9, -1e-3]
const offsets = [1e-3, -0.01, 0.05, -0.3, 1, -3, 20, 1e4, -1e6]

/** A column of some stream of some segment, bent. */
const atColumn =
  (bend: (column: number[], random: Random) => (number | null)[]): Mutation =>
  (document, random) => {
    const places = document.segments.flatMap((segment, s) =>
      Object.entries(segment.streams).flatMap(([name, stream]) =>
        Object.keys(stream as object)
          .filter((key) => typeof (stream as Loose)[key] === 'object')
          .map((key) => ({ s, name, key })),
      ),
    )
    const place = pick(random, places)
    if (place === undefined) return document
    return atStream(document, place, (stream) => ({
      ...stream,
      [place.key]: bend(Array.from(stream[place.key] as Column), random),
    }))
  }

/** A whole stream, bent. */
const atSomeStream =
  (bend: (stream: Loose, random: Random) => Loose): Mutation =>
  (document, random) => {
    const place = pick(
      random,
      document.segments.flatMap((segment, s) => Object.keys(segment.streams).map((name) => ({ s, name }))),
    )
    return place === undefined ? document : atStream(document, place, (stream) => bend(stream, random))
  }

const atStream = (document: Evidence, { s, name }: { s: number; name: string }, bend: (stream: Loose) => Loose): Evidence => ({
  ...document,
  segments: document.segments.map((segment, i) =>
    i === s
      ? { ...segment, streams: { ...segment.streams, [name]: bend((segment.streams as Record<string, Loose>)[name] ?? {}) } }
      : segment,
  ),
})

const withSegments =
  (bend: (segments: readonly Segment[], random: Random) => readonly Segment[]): Mutation =>
  (document, random) => ({ ...document, segments: [...bend(document.segments, random)] })

/** The times of a stream; none where an earlier mutation has taken them. */
const timesOf = (stream: Loose): Column => (stream.t as Column | undefined) ?? []

/** Every row from one on, for so long, of all columns. */
const rowsOf = (stream: Loose, keep: (i: number, n: number) => number): Loose => {
  const n = timesOf(stream).length
  const rows = Array.from({ length: n }, (_, i) => keep(i, n)).filter((i) => i >= 0)
  return Object.fromEntries(
    Object.entries(stream).map(([key, value]) =>
      typeof value === 'object' ? [key, rows.map((i) => (value as Column)[i] as number)] : [key, value],
    ),
  )
}
const stretch = (random: Random, n: number): readonly [from: number, to: number] => {
  const from = random.below(Math.max(1, n))
  return [from, from + 1 + random.below(Math.max(1, n >> random.below(6)))]
}

/** A value somewhere in what was answered, observed or set: another one of its kind. */
const otherValue = (value: unknown, random: Random): unknown => {
  if (typeof value === 'number') return pick(random, [0, -1, value + 1, value * 2, -value, value + 0.3, 1e9, NaN])
  if (typeof value === 'boolean') return !value
  if (typeof value === 'string') return pick(random, ['', 'x', 'rear', 'left', '3.3', 'free', 'receiver', `${value} `])
  if (Array.isArray(value)) {
    const list = value as unknown[]
    const i = random.below(Math.max(1, list.length))
    return random.below(3) === 0 ? list.filter((_, k) => k !== i) : list.map((v, k) => (k === i ? otherValue(v, random) : v))
  }
  if (typeof value === 'object' && value !== null) {
    const key = pick(random, Object.keys(value))
    if (key === undefined) return value
    if (random.below(5) === 0) return Object.fromEntries(Object.entries(value).filter(([k]) => k !== key))
    return { ...value, [key]: otherValue((value as Loose)[key], random) }
  }
  return value
}
const within =
  (key: 'board' | 'observations' | 'sheet' | 'written'): Mutation =>
  (document, random) =>
    document[key] === undefined ? document : ({ ...document, [key]: otherValue(document[key], random) } as Evidence)

const numbers = [-5, -0.1, 0, 0.01, 0.3, 1, 8, 1e6]

export const mutations: Readonly<Record<string, Mutation>> = {
  scaled: atColumn((x, r) => {
    const by = pick(r, factors) ?? 1
    return x.map((v) => v * by)
  }),
  offset: atColumn((x, r) => {
    const by = (pick(r, offsets) ?? 0) * (0.5 + r.uniform())
    return x.map((v) => v + by)
  }),
  ramp: atColumn((x, r) => {
    const by = pick(r, offsets) ?? 0
    return x.map((v, i) => v + (by * i) / x.length)
  }),
  wave: atColumn((x, r) => {
    const [by, turns] = [pick(r, offsets) ?? 0, 1 + r.below(60)]
    return x.map((v, i) => v + by * Math.sin((2 * Math.PI * turns * i) / x.length))
  }),
  stands: atColumn((x, r) => {
    const [from, to] = stretch(r, x.length)
    return x.map((v, i) => (i > from && i < to ? (x[from] as number) : v))
  }),
  dead: atColumn((x, r) => {
    const [from, to] = r.below(2) === 0 ? [0, x.length] : stretch(r, x.length)
    return x.map((v, i) => (i >= from && i < to ? 0 : v))
  }),
  spike: atColumn((x, r) => {
    const at = r.below(Math.max(1, x.length))
    return x.map((v, i) => (i === at ? v + (pick(r, offsets) ?? 0) : v))
  }),
  step: atColumn((x, r) => {
    const [from, to] = stretch(r, x.length)
    const by = pick(r, offsets) ?? 0
    return x.map((v, i) => (i >= from && i < to ? v + by : v))
  }),
  noNumber: atColumn((x, r) => {
    const at = r.below(Math.max(1, x.length))
    return x.map((v, i) => (i === at ? (pick(r, [NaN, Infinity, -Infinity, null]) ?? null) : v))
  }),
  reversed: atColumn((x) => x.reverse()),
  shorter: atColumn((x, r) => x.slice(0, r.below(Math.max(1, x.length)))),
  slower: atSomeStream((s, r) => {
    const by = 0.1 + 4 * r.uniform()
    return { ...s, t: Array.from(timesOf(s), (v) => v * by) }
  }),
  swappedColumns: atSomeStream((s, r) => {
    const names = Object.keys(s).filter((k) => typeof s[k] === 'object' && k !== 't')
    const [a, b] = [pick(r, names), pick(r, names)]
    return a === undefined || b === undefined ? s : { ...s, [a]: s[b], [b]: s[a] }
  }),
  copiedColumn: atSomeStream((s, r) => {
    const names = Object.keys(s).filter((k) => typeof s[k] === 'object' && k !== 't')
    const [a, b] = [pick(r, names), pick(r, names)]
    return a === undefined || b === undefined ? s : { ...s, [a]: s[b] }
  }),
  lostColumn: atSomeStream((s, r) => {
    const name = pick(r, Object.keys(s))
    return Object.fromEntries(Object.entries(s).filter(([k]) => k !== name))
  }),
  lostRows: atSomeStream((s, r) => {
    const [from, to] = stretch(r, timesOf(s).length)
    return rowsOf(s, (i) => (i >= from && i < to ? -1 : i))
  }),
  thinned: atSomeStream((s, r) => {
    const every = 2 + r.below(40)
    return rowsOf(s, (i) => (i % every === 0 ? i : -1))
  }),
  frozenRows: atSomeStream((s, r) => {
    const [from, to] = stretch(r, timesOf(s).length)
    const frozen = rowsOf(s, (i) => (i >= from && i < to ? from : i))
    return { ...frozen, t: timesOf(s) }
  }),
  turnedRows: atSomeStream((s) => ({ ...rowsOf(s, (i, n) => n - 1 - i), t: timesOf(s) })),
  emptied: atSomeStream((s) => rowsOf(s, () => -1)),
  stage: atSomeStream((s, r) => ('stage' in s ? { ...s, stage: pick(r, ['raw', 'calibrated', 'body', 'warm']) } : s)),
  lostStream: withSegments((segments, r) =>
    segments.map((s, i) => {
      const name = pick(r, Object.keys(s.streams))
      return i === r.below(segments.length)
        ? ({ ...s, streams: Object.fromEntries(Object.entries(s.streams).filter(([k]) => k !== name)) } as Segment)
        : s
    }),
  ),
  lostSegment: withSegments((segments, r) => {
    const at = r.below(segments.length)
    return segments.filter((_, i) => i !== at)
  }),
  twice: withSegments((segments, r) => [...segments, ...segments.slice(r.below(Math.max(1, segments.length))).slice(0, 1)]),
  labelled: withSegments((segments, r) => {
    const at = r.below(segments.length)
    const label = pick(r, ['', 'rest', 'first', 'level', 'proof', 'after', 'other', ...segments.map((s) => s.label)]) ?? ''
    return segments.map((s, i) => (i === at ? { ...s, label } : s))
  }),
  swappedLabels: withSegments((segments, r) => {
    const [a, b] = [r.below(segments.length), r.below(segments.length)]
    return segments.map((s, i) => (i === a || i === b ? { ...s, label: segments[i === a ? b : a]?.label ?? '' } : s))
  }),
  otherOrder: withSegments((segments) => [...segments].reverse()),
  report: withSegments((segments, r) =>
    segments.map((s) =>
      s.reports === undefined ? s : { ...s, reports: otherValue(s.reports, r) as NonNullable<Segment['reports']> },
    ),
  ),
  board: within('board'),
  observation: within('observations'),
  sheet: within('sheet'),
  written: within('written'),
  limit: (document, r) => {
    const name = pick(r, [...Object.keys(limits), 'wing.flap']) ?? ''
    const limit = {
      ...(r.below(2) === 0 ? { min: pick(r, numbers) } : {}),
      ...(r.below(2) === 0 ? { max: pick(r, numbers) } : {}),
      reason: 'because',
    }
    return { ...document, sheet: { ...document.sheet, limits: { ...document.sheet.limits, [name]: limit } } } as Evidence
  },
}
