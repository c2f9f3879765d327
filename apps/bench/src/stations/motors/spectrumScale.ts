import { wholeBand } from '@taraf/core/spectrum'

const mostMultiples = 6

/** The turning rate and its multiples that are on the drawing, Hz. */
export const multiplesOf = (turningHz: number, toHz: number): number[] =>
  turningHz <= 0 ? [] : Array.from({ length: mostMultiples }, (_, i) => (i + 1) * turningHz).filter((hz) => hz <= toHz)

/** A scale by powers of ten, from a thousandth of the strongest up to it: every value lies from 0 to 1 on it. */
export const scaleOf = (values: readonly number[]) => {
  const top = Math.ceil(Math.log10(Math.max(1e-3, ...values)))
  const bottom = top - 3
  return {
    toHz: wholeBand.toHz,
    decades: [0, 1, 2, 3].map((i) => Number((10 ** (bottom + i)).toPrecision(1))),
    share: (value: number): number => Math.min(1, Math.max(0, (Math.log10(Math.max(value, 1e-12)) - bottom) / (top - bottom))),
  }
}
