import type { AnswerOf } from '@taraf/contract'

/** Where an image lies in the flash of each target that Taraf writes, from the maker's data sheet of the (made-up) boards. */
export type FlashMap = Omit<AnswerOf<'image.map'>, 'written'>

export const targets: Readonly<Record<string, FlashMap>> = {
  'TIDEBOARD-3': { start: 0x0800_4000, bytes: 496 * 1024, identityAt: 0x0800_4200, blockBytes: 512 },
  'TIDEBOARD-4': { start: 0x0800_8000, bytes: 2016 * 1024, identityAt: 0x0800_8200, blockBytes: 1024 },
}
