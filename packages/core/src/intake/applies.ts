import type { SheetPart } from '@taraf/contract'

/** Whether a sheet wants a check of the intake: it does where it says what board is built in, unless it sets the check aside. */
export const applies =
  (id: string) =>
  (sheet: SheetPart): boolean =>
    sheet.board !== undefined && !sheet.setAside?.includes(id)
