import type { SheetPart } from '@taraf/contract'

export type Switch = NonNullable<SheetPart['switches']>[number]

/** The segment in which one switch is moved through all of its positions. */
export const segmentOf = ({ channel }: Switch): string => `switch-${channel}`
