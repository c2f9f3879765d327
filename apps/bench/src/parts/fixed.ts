/** A number with so many decimals, and never a minus before nothing. */
export const fixed = (value: number, decimals: number): string => value.toFixed(decimals).replace(/^-(0(\.0*)?)$/, '$1')
