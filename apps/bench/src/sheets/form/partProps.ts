import type { Sheet } from '@taraf/contract'

/** A part of the form of a sheet: the sheet as it is entered so far, and how it changes. */
export interface PartProps {
  readonly sheet: Sheet
  readonly set: (news: Partial<Sheet>) => void
}
