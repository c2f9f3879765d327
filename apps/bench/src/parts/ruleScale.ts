export interface Extremes {
  readonly least: number
  readonly most: number
}

/** The least and most of what was reached before and a new value; the same object where it is between them. */
export const extend = (before: Extremes | null, value: number): Extremes => {
  if (before === null) return { least: value, most: value }
  if (value >= before.least && value <= before.most) return before
  return { least: Math.min(before.least, value), most: Math.max(before.most, value) }
}

/**
 * The scale of a rule: the allowed span takes its middle half (or from the left edge two thirds, where there is only a
 * most), and values beyond the ends are at the ends.
 */
export const ruleScale = ({ min, max }: { min?: number; max: number }) => {
  const from = min === undefined ? 0 : min - (max - min) / 2
  const to = min === undefined ? max * 1.5 : max + (max - min) / 2
  return { from, to, share: (value: number): number => Math.max(0, Math.min(1, (value - from) / (to - from))) }
}

/** The scale of a rule that many values are on: the allowed span and all of them, with a tenth to spare on both sides. */
export const spreadScale = ({ min, max }: { min?: number; max?: number }, values: readonly number[]) => {
  const bounds = [min, max].filter((bound) => bound !== undefined)
  const all = [...values, ...bounds, ...(min === undefined ? [0] : [])]
  const [least, most] = [Math.min(...all), Math.max(...all)]
  const spare = Math.max((most - least) / 10, 1e-9)
  const [from, to] = [least - (min === undefined ? 0 : spare), most + spare]
  return { from, to, share: (value: number): number => Math.max(0, Math.min(1, (value - from) / (to - from))) }
}
