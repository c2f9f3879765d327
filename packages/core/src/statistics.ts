import type { Column } from '@taraf/contract'

/** Arithmetic mean, in two passes so that a large offset costs no digits. NaN for no samples. */
export const mean = (x: Column, from = 0, to = x.length): number => {
  const n = to - from
  let sum = 0
  for (let i = from; i < to; i++) sum += x[i] as number
  const first = sum / n
  let rest = 0
  for (let i = from; i < to; i++) rest += (x[i] as number) - first
  return first + rest / n
}

/** Sample standard deviation (divisor n - 1), two-pass with the correction of Chan, Golub and LeVeque (1983). */
export const standardDeviation = (x: Column, from = 0, to = x.length): number => meanAndDeviation(x, from, to).deviation

/** Mean and sample standard deviation together, for the price of one pass less. */
export const meanAndDeviation = (x: Column, from = 0, to = x.length): { mean: number; deviation: number } => {
  const n = to - from
  const centre = mean(x, from, to)
  let squares = 0
  let rest = 0
  for (let i = from; i < to; i++) {
    const d = (x[i] as number) - centre
    squares += d * d
    rest += d
  }
  return { mean: centre, deviation: Math.sqrt((squares - (rest * rest) / n) / (n - 1)) }
}

/** The straight line that lies closest to points, by their squares: what it says at an x. */
export const lineThrough = (x: Column, y: Column): ((at: number) => number) => {
  const [middleX, middleY] = [mean(x), mean(y)]
  let [both, along] = [0, 0]
  for (let i = 0; i < x.length; i++) {
    const from = (x[i] as number) - middleX
    both += from * ((y[i] as number) - middleY)
    along += from * from
  }
  const slope = along > 0 ? both / along : 0
  return (at) => middleY + slope * (at - middleX)
}

/** Middle value; the mean of the two middle ones for an even count. */
export const median = (x: ArrayLike<number>): number => {
  const sorted = new Float64Array(x).sort()
  const half = sorted.length >> 1
  const upper = sorted[half] as number
  return sorted.length % 2 ? upper : ((sorted[half - 1] as number) + upper) / 2
}

/** A level of so many values is as sure as one of all of them. */
const enough = 20_000
const strideOf = (n: number): number => Math.max(1, Math.ceil(n / enough))

/** The middle value of a column of any length, of rows spread over all of it where they are very many. */
export const middleOf = (x: Column): number => {
  const every = strideOf(x.length)
  return every === 1
    ? median(x)
    : median(Float64Array.from({ length: Math.ceil(x.length / every) }, (_, i) => x[i * every] as number))
}

/**
 * White-noise level from the steps between neighbours, so that neither drift nor a few knocks raise it:
 * median |step| / (0.6745 sqrt 2), 0.6745 being the upper quartile of the normal distribution.
 */
export const noiseLevel = (x: Column): number => {
  const every = strideOf(x.length)
  const steps = new Float64Array(Math.max(0, Math.floor((x.length - 1) / every)))
  for (let i = 0; i < steps.length; i++) steps[i] = Math.abs((x[i * every + 1] as number) - (x[i * every] as number))
  return median(steps) / (0.6745 * Math.SQRT2)
}
