import type { Column, Evidence, Segment } from '@taraf/contract'

/** Rules for losses of signal by which a pass is impossible, written apart from the core. */

type Rule = (document: Evidence) => string | null
interface Told {
  readonly t: number
  readonly what: string
  readonly phase?: string
}

const rowsOf = (t: Column, from: number, to: number): number[] =>
  [...Array(t.length).keys()].filter((i) => (t[i] as number) >= from && (t[i] as number) <= to)

/** The longest silence between two whole frames, s. */
const silenceOf = ({ streams: { radio } }: Segment): { from: number; to: number } => {
  let [longest, before] = [{ from: 0, to: 0 }, NaN]
  for (let i = 0; i < (radio?.t.length ?? 0); i++) {
    if (((radio?.quality?.[i] as number | undefined) ?? 1) <= 0) continue
    const t = radio?.t[i] as number
    if (t - before > longest.to - longest.from) longest = { from: before, to: t }
    before = t
  }
  return longest
}

const turnsAt = (outputs: object, row: number): boolean =>
  Object.entries(outputs as Record<string, Column>).some(([name, column]) => /^o\d+$/.test(name) && (column[row] as number) > 0)

const responseRule: Rule = ({ segments, sheet }) => {
  const losses = segments.filter(({ label }) => !/^(arm|sky)-/.test(label))
  if (!losses.some(({ label }) => label === 'idle') || !losses.some(({ label }) => label === 'disarmed'))
    return 'a class is missing'
  const hover = sheet.rotor?.hover ?? 0.39
  for (const segment of losses) {
    const { label, streams } = segment
    const { outputs } = streams
    if (outputs === undefined) return `${label}: nothing was told of the outputs`
    const silence = silenceOf(segment)
    if (silence.to - silence.from < 0.3) return `${label}: the signal never went`
    const told = (segment.events ?? []) as readonly Told[]
    const at = (phase: string, since: number) =>
      told.find((one) => one.what === 'loss' && one.phase === phase && one.t >= since - 0.03)?.t ?? Infinity
    const [wait, act] = [at('wait', silence.from), at('act', silence.from)]
    if (wait - silence.from > 1.02) return `${label}: noticed after ${wait - silence.from} s`
    if (label === 'disarmed') {
      if (rowsOf(outputs.t, 0, Infinity).some((row) => turnsAt(outputs, row))) return 'disarmed, an output is driven'
      continue
    }
    if (act - wait > 2.02) return `${label}: acted after ${act - wait} s`
    if (at('none', silence.to) - silence.to > 1.02) return `${label}: given back late`
    const until = Math.min(at('end', act), at('recover', act))
    const acting = rowsOf(outputs.t, act, until)
    if (acting.filter((row) => !turnsAt(outputs, row)).length > acting.length / 2) return `${label}: nothing turns while it acts`
    const command = (outputs as { command?: Column }).command
    const during = acting.map((row) => command?.[row] as number)
    const above = during.filter((share) => share >= hover - 0.015).length
    const below = during.filter((share) => share <= hover - 0.085).length
    if (Math.max(above, below) > during.length / 2) return `${label}: not a little under hover`
  }
  return null
}

const segmentOf = ({ segments }: Evidence, label: string) => segments.find((segment) => segment.label === label)
const toldIn = (segment: Segment | undefined) => (segment?.events ?? []) as readonly Told[]
const middle = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? NaN

/** Outputs of a side of a plan, by the board's map, else by the sheet: positions are counted boom by boom. */
const sideOf = ({ sheet, board }: Evidence, isThere: (bearing: number) => boolean): number[] => {
  const motors = (sheet.geometry?.booms ?? []).flatMap((boom) =>
    boom.motors.map((motor) => ({ bearing: boom.bearingDeg, ...motor })),
  )
  return motors.flatMap(({ bearing, output }, i) => {
    if (!isThere(((bearing % 360) + 360) % 360)) return []
    const mapped = Array.from({ length: 12 }, (_, o) => o + 1).filter((o) => board.settings?.[`output.${o}.position`] === i + 1)
    return mapped.length > 0 ? mapped : [output]
  })
}
const meanOf = (segment: Segment, outputs: readonly number[], from: number, to: number): number => {
  const stream = segment.streams.outputs
  if (stream === undefined) return NaN
  const rows = rowsOf(stream.t, from, to)
  let sum = 0
  for (const output of outputs)
    for (const row of rows) sum += ((stream as Record<string, Column>)[`o${output}`]?.[row] as number) ?? 0
  return sum / (rows.length * outputs.length)
}

/** A frame held at a tilt while it acts: the lower side must be asked for more than the upper one. */
const levelsRule: Rule = (document) => {
  const tilts = [
    ['held-right-down', (b: number) => b > 10 && b < 170, (b: number) => b > 190 && b < 350],
    ['held-nose-up', (b: number) => b > 100 && b < 260, (b: number) => b < 80 || b > 280],
  ] as const
  for (const [label, isLow, isHigh] of tilts) {
    const segment = segmentOf(document, label)
    if (segment === undefined) return `${label} is missing`
    const silence = silenceOf(segment)
    if (silence.to - silence.from < 0.3) return `${label}: the signal never went`
    const acts = toldIn(segment).find((one) => one.what === 'loss' && one.phase === 'act' && one.t > silence.from - 0.03)
    if (acts === undefined) return `${label}: it never acts`
    const until = Math.min(
      acts.t + 1.5,
      ...toldIn(segment)
        .filter((one) => one.what === 'loss' && one.t > acts.t)
        .map(({ t }) => t),
    )
    const [low, high] = [isLow, isHigh].map((is) => meanOf(segment, sideOf(document, is), acts.t + 0.1, until)) as [
      number,
      number,
    ]
    if (!(low > high)) return `${label}: nothing pushes it back`
  }
  return null
}

const waitsRule: Rule = (document) => {
  for (const label of ['held-roll-pitch', 'held-yaw']) {
    const segment = segmentOf(document, label)
    if (segment === undefined) return `${label} is missing`
    const silence = silenceOf(segment)
    if (silence.to - silence.from < 0.3) return `${label}: the signal never went`
    if (!toldIn(segment).some((one) => one.what === 'loss' && one.phase === 'act')) return `${label}: it never acts`
  }
  const drop = segmentOf(document, 'drop-out')
  if (drop === undefined) return 'the drop-out is missing'
  const silence = silenceOf(drop)
  if (toldIn(drop).some((one) => one.what === 'loss' && one.phase === 'act' && one.t > silence.from - 0.03))
    return 'it acts at a drop-out'
  return toldIn(drop).some(({ what }) => what === 'disarmed') ? 'it disarms at a drop-out' : null
}

const switchRule: Rule = ({ segments, sheet }) => {
  const tried = segments.filter(({ label }) => label.startsWith('by-'))
  if (tried.length === 0) return 'no mode was tried'
  for (const segment of tried) {
    const silence = silenceOf(segment)
    if (silence.to - silence.from > 0.32) return `${segment.label}: the signal went`
    const acts = toldIn(segment).find((one) => one.what === 'loss' && one.phase === 'act')
    const back = toldIn(segment).find((one) => one.what === 'loss' && one.t > (acts?.t ?? Infinity))
    const { outputs } = segment.streams
    if (acts === undefined || back === undefined || outputs === undefined)
      return `${segment.label}: it never acts, or never lets go`
    const command = (outputs as { command?: Column }).command
    const during = middle(rowsOf(outputs.t, acts.t, back.t).map((row) => command?.[row] as number))
    if (!(Math.abs(during - (sheet.rotor?.hover ?? 0.39) + 0.05) < 0.035)) return `${segment.label}: not a little under hover`
  }
  return null
}

const cutRule: Rule = (document) => {
  const segment = segmentOf(document, 'down')
  const { radio, outputs } = segment?.streams ?? {}
  if (segment === undefined || radio === undefined || outputs === undefined) return 'throttle was not tried'
  if (document.sheet.settings?.['loss.throttleCuts'] === 1 || document.sheet.settings?.['motors.turnWhenArmed'] === 0) return null
  const last = outputs.t[outputs.t.length - 1] as number
  const throttle = (radio as unknown as Record<string, Column>)[`ch${document.board.settings?.['radio.throttle.channel'] ?? 3}`]
  if (throttle === undefined) return 'throttle was not received'
  let raised = NaN
  for (let i = 0; i < throttle.length; i++) if (Math.abs((throttle[i] as number) - 1500) < 150) raised = radio.t[i] as number
  // The moment after throttle was last near its middle: the middle of what is told from then on.
  const rows = rowsOf(outputs.t, raised + 0.5, Math.min(last, raised + 1.9))
  const told = Object.entries(outputs as unknown as Record<string, Column>).filter(([name]) => /^o\d+$/.test(name))
  const standing = rows.filter((row) => told.every(([, column]) => (column[row] as number) === 0)).length
  return rows.length > 0 && standing > rows.length / 2 ? 'the motors stand with throttle down' : null
}

const aloneRule: Rule = (document) => {
  const log = toldIn(segmentOf(document, 'log'))
  const arms = log.filter(({ what }) => what === 'armed')
  const ends = log.filter(({ what }) => what === 'disarmed')
  if (arms.length < 2 || ends.length < 2) return 'the log does not hold two armings and their ends'
  if (!log.some(({ what }) => what === 'refusing')) return 'the log holds no refusal'
  const acts = log.findLast((one) => one.what === 'loss' && one.phase === 'act')
  if (acts === undefined) return 'the log holds no loss'
  return arms.some(({ t }) => t > Math.max(...ends.map((one) => one.t))) ? 'it is armed at the end of the log' : null
}

export const ofFailsafe: Readonly<Record<string, Rule>> = {
  'failsafe.response': responseRule,
  'failsafe.levels': levelsRule,
  'failsafe.waits': waitsRule,
  'failsafe.bySwitch': switchRule,
  'failsafe.motorCut': cutRule,
  'failsafe.finalForm': aloneRule,
}
