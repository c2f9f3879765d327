import type { Settings, SheetPart } from '@taraf/contract'

/** The command in hover: as the sheet says, else as the board is set. */
export const hoverOf = (sheet: SheetPart, settings: Settings | undefined): number | null =>
  sheet.settings?.['rotor.hover'] ?? settings?.['rotor.hover'] ?? null
