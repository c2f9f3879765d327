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
  const losses = segments.filter(({ label }) => !label.startsWith('arm-'))
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
    const command = (outputs as { command?: Column }).command
    const during = rowsOf(outputs.t, act, until).map((row) => command?.[row] as number)
    const above = during.filter((share) => share >= hover - 0.015).length
    const below = during.filter((share) => share <= hover - 0.085).length
    if (Math.max(above, below) > during.length / 2) return `${label}: not a little under hover`
  }
  return null
}

export const ofFailsafe: Readonly<Record<string, Rule>> = { 'failsafe.response': responseRule }
