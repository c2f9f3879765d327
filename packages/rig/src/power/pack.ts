export type Chemistry = 'LiPo' | 'Li-ion' | 'LiHV'

export interface PackBuild {
  cells: number
  chemistry: Chemistry
  capacityMah: number
  /** Ohm a cell. */
  cellResistance: number
  /** 0 empty, 1 full. */
  charge: number
}

/**
 * Open-circuit volts of a cell over its charge, in tenths (common practice: curves of this shape are in every maker's
 * datasheet; values from memory).
 */
const restingVolts: Readonly<Record<Chemistry, readonly number[]>> = {
  LiPo: [3.27, 3.61, 3.69, 3.73, 3.77, 3.82, 3.87, 3.95, 4.03, 4.11, 4.2],
  'Li-ion': [2.9, 3.22, 3.37, 3.46, 3.53, 3.6, 3.69, 3.79, 3.9, 4.03, 4.2],
  LiHV: [3.3, 3.63, 3.71, 3.76, 3.81, 3.86, 3.93, 4.03, 4.13, 4.23, 4.35],
}

export const cellVolts = (chemistry: Chemistry, charge: number): number => {
  const at = Math.max(0, Math.min(1, charge)) * 10
  const i = Math.min(9, Math.floor(at))
  const [low, high] = [restingVolts[chemistry][i] as number, restingVolts[chemistry][i + 1] as number]
  return low + (high - low) * (at - i)
}

/** Volts at the terminals under a current: each cell sags by its resistance. */
export const packVolts = ({ cells, chemistry, charge, cellResistance }: PackBuild, amps: number): number =>
  Math.max(0, cells * (cellVolts(chemistry, charge) - amps * cellResistance))

/** Charge left after a current for a time. */
export const drained = ({ charge, capacityMah }: PackBuild, amps: number, seconds: number): number =>
  Math.max(0, charge - (amps * seconds) / (capacityMah * 3.6))
