import { entryOf } from '@taraf/contract'

/** Flight modes as people say them. */
const words: Readonly<Record<string, string>> = {
  selfLevel: 'self-level',
  altitude: 'altitude hold',
  position: 'position hold',
  returnHome: 'return home',
}

export const modeName = (mode: string): string => entryOf(words, mode) ?? mode
