import type { Column } from '@taraf/contract'

export interface Extremes {
  readonly lowest: number
  readonly highest: number
}

/**
 * The lowest and the highest mean over any stretch of so many seconds: what a mean over the whole, or a look at both ends, hides.
 * Where the whole is shorter than a stretch it is the one stretch. Rows are taken from `from` to before `to`.
 */
export const worstStretch = (t: Column, x: Column, seconds: number, from = 0, to = t.length): Extremes => {
  const least = seconds * 0.999
  let sum = 0
  let first = from
  let lowest = Infinity
  let highest = -Infinity
  for (let i = from; i < to; i++) {
    const now = t[i] as number
    sum += x[i] as number
    for (; now - (t[first + 1] ?? Infinity) >= least; first++) sum -= x[first] as number
    const isWhole = now - (t[first] as number) >= least
    if (!isWhole && !(i === to - 1 && lowest === Infinity)) continue
    const mean = sum / (i - first + 1)
    lowest = Math.min(lowest, mean)
    highest = Math.max(highest, mean)
  }
  return { lowest, highest }
}

/**
 * How much a column swings in its worst stretch of so many seconds, rms, by the steps from row to row, so that neither a drift nor a lasting
 * step raises it much: a mean hides what goes up and down about it.
 */
export const worstSwing = (t: Column, x: Column, seconds: number, from = 0, to = t.length): number => {
  const squares = new Float64Array(t.length)
  for (let i = from + 1; i < to; i++) squares[i] = ((x[i] as number) - (x[i - 1] as number)) ** 2 / 2
  return from + 1 < to ? Math.sqrt(worstStretch(t, squares, seconds, from + 1, to).highest) : 0
}

/** The highest value of a column, of any length. */
export const highestOf = (x: Column, from = 0, to = x.length): number => {
  let most = -Infinity
  for (let i = from; i < to; i++) most = Math.max(most, x[i] as number)
  return most
}
