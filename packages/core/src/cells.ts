import type { Settings } from '@taraf/contract'

/** Volts that no lithium cell passes, a fresh one with a high ending charge counted in (common practice). */
const fullestCell = 4.4
/** A lithium polymer cell half way through its charge, V: its nominal voltage (common practice). */
const midCell = 3.7

/** Cells of a pack: as the board is set, else as many as its most volts want. */
export const cellsOf = (settings: Settings | undefined, most: number): number => {
  const set = settings?.['power.cells'] ?? 0
  return set > 0 ? set : Math.max(1, Math.ceil(most / fullestCell))
}

/** The voltage of a pack of so many cells at the middle of its charge, V. */
export const midPackVolts = (cells: number): number => cells * midCell
