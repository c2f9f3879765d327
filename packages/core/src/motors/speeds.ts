import type { Column, Evidence, Remedy, Segment } from '@taraf/contract'
import { byHand } from '../check'
import { ofOutput } from '../escs/read'
import { median } from '../statistics'

/** Slower than this a motor does not turn: it twitches, or the reply is noise (common practice). */
export const leastRpm = 300

/** What the ESC at an output tells of its speed in a segment, rpm: the middle of it; zero where it tells nothing. */
export const rpmOf = ({ escs }: Segment['streams'], output: number): number => {
  const rpm = ofOutput(escs, 'rpm', output)
  return rpm === undefined || rpm.length === 0 ? 0 : median(rpm)
}

/** Why no speed can be read in a segment, or null: a motor that must turn does not, or one that must stand turns. */
export const notAlone = (streams: Segment['streams'], output: number, outputs: readonly number[]): string | null => {
  if (rpmOf(streams, output) < leastRpm) return `the motor at output ${output} did not turn, or its ESC does not tell how fast`
  const beside = outputs.find((other) => other !== output && rpmOf(streams, other) >= leastRpm)
  return beside === undefined ? null : `output ${beside} turned while output ${output} was to turn alone`
}

export const outputColumn = ({ outputs }: Segment['streams'], output: number): Column | undefined =>
  (outputs as Readonly<Record<string, Column | undefined>> | undefined)?.[`o${output}`]

export const streamsOf = ({ segments }: Pick<Evidence, 'segments'>, label: string): Segment['streams'] =>
  segments.find((s) => s.label === label)?.streams ?? {}

/** How one motor came to turn: from when on it turned to the end, and at which command; or why it never did. */
export type Began = { readonly t: number; readonly command: number } | 'stands' | 'stutters' | 'silent' | 'turned before'

/** @param streams `escs` and `outputs` of a segment in which the command rose from zero, on one clock */
export const beganIn = (streams: Segment['streams'], output: number): Began => {
  const { escs, outputs } = streams
  const [rpm, errors] = [ofOutput(escs, 'rpm', output), ofOutput(escs, 'err', output)]
  const command = outputColumn(streams, output)
  if (escs === undefined || outputs === undefined || rpm === undefined || command === undefined) return 'silent'
  const lastStill = rpm.findLastIndex((one) => one < leastRpm)
  if (lastStill < 0) return 'turned before'
  if (lastStill === rpm.length - 1) {
    if (rpm.some((one) => one >= leastRpm)) return 'stutters'
    return errors !== undefined && errors.length > 0 && median(errors) > 0.5 ? 'silent' : 'stands'
  }
  const t = escs.t[lastStill + 1] as number
  let most = 0
  for (let i = 0; i < outputs.t.length && (outputs.t[i] as number) <= t; i++) most = Math.max(most, command[i] as number)
  return { t, command: most }
}

interface Speed {
  readonly output: number
  readonly rpm: number
}
/** How far the fastest and the slowest lie from each other, % of the middle one. */
export const apart = (speeds: readonly Speed[]): number => {
  const rpms = speeds.map(({ rpm }) => rpm)
  return (100 * (Math.max(...rpms) - Math.min(...rpms))) / Math.max(leastRpm, median(rpms))
}

/** The outputs without which the rest turn alike: the one furthest from the middle first. */
export const oddOnes = (speeds: readonly Speed[], most: number): number[] => {
  const odd: number[] = []
  let left = [...speeds]
  while (left.length > 2 && apart(left) > most) {
    const middle = median(left.map(({ rpm }) => rpm))
    const [worst] = [...left].sort((a, b) => Math.abs(b.rpm - middle) - Math.abs(a.rpm - middle))
    if (worst === undefined) break
    odd.push(worst.output)
    left = left.filter((one) => one !== worst)
  }
  return odd.sort((a, b) => a - b)
}

/** What repairs motors that turn alike, and none of them as its KV would have it. */
export const otherKv = (kv: number): Remedy =>
  byHand(
    `All of them turn alike, and none as a motor of KV ${kv} would. Read what is printed on the motors: if it is another KV, the wrong ones are fitted, or the sheet is wrong.`,
  )
