/** A number with so many decimals, and never a minus before nothing. */
export const fixed = (value: number, decimals: number): string => value.toFixed(decimals).replace(/^-(0(\.0*)?)$/, '$1')

/** Three figures of a measured value, to the thousandth at most; more only where fewer would put it on a bound, or beyond one, that it is not. */
export const figure = (value: number, bounds: readonly number[] = []): string => {
  if (Number.isInteger(value)) return String(value)
  const isTold = (text: string) => bounds.every((bound) => Math.sign(Number(text) - bound) === Math.sign(value - bound))
  let decimals = Math.max(0, Math.min(3, 2 - Math.floor(Math.log10(Math.abs(value)))))
  while (decimals < mostDecimals && !isTold(fixed(value, decimals))) decimals++
  return fixed(value, decimals)
}
const mostDecimals = 6

/** A bound in figures: as it was written, or four of those that were computed. */
export const boundFigure = (value: number): string =>
  Number.isInteger(value) || Math.abs(value) >= 1000 ? fixed(value, 0) : String(Number(value.toPrecision(4)))
