import { entryOf, type SheetPart } from '@taraf/contract'

export const hasBoard = (sheet: SheetPart): boolean => sheet.board !== undefined

export const hasMotors = (sheet: SheetPart): boolean => sheet.geometry !== undefined && sheet.escs !== undefined

/** What is armed has motors, and a transmitter with switches. */
export const canBeArmed = (sheet: SheetPart): boolean => hasMotors(sheet) && sheet.switches !== undefined

/** Why a sheet leaves a check out; null where it does not. */
export const whyLeftOut = ({ leavesOut = {}, setAside = [] }: SheetPart, id: string): string | null =>
  entryOf(leavesOut, id) ?? (setAside.includes(id) ? 'no reason given' : null)
