export interface OffsetMm {
  readonly ahead: number
  readonly right: number
  readonly up: number
}

/** What was typed, millimetres; null until all three are numbers. */
export const offsetMm = (text: Readonly<Record<keyof OffsetMm, string>>): OffsetMm | null => {
  const number = (typed: string) => (typed.trim() === '' ? NaN : Number(typed.replace(',', '.').replace('\u2212', '-')))
  const [ahead, right, up] = [number(text.ahead), number(text.right), number(text.up)]
  return [ahead, right, up].every((v) => Number.isFinite(v) && Math.abs(v) <= 3000) ? { ahead, right, up } : null
}

/** Where a sheet has the position antenna, as it is said at the bench. */
export const sheetAntenna = (settings: Readonly<Record<string, number>>): OffsetMm | null => {
  const [x, y, z] = ['X', 'Y', 'Z'].map((axis) => settings[`position.antenna${axis}`])
  if (x === undefined && y === undefined && z === undefined) return null
  const mm = (metres = 0) => Math.round(metres * 1000) + 0
  return { ahead: mm(x), right: mm(y), up: mm(z === undefined ? 0 : -z) }
}
