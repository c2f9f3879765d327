import type { Firmware } from '@taraf/contract'
import { writeHex } from '@taraf/core/intelHex'
import { identityBlock, randomFrom } from '@taraf/rig'
import { flashByTarget } from './partModels'

/** The firmware of the demo's boards. */
export const goodFirmware: Firmware = {
  name: 'shoreline',
  version: '3.2.0',
  features: ['position', 'compass', 'video', 'gimbal'],
}
const images: readonly Firmware[] = [goodFirmware, { ...goodFirmware, version: '3.1.2' }, { ...goodFirmware, version: '3.3.0' }]

/** The bytes of an image, from the start of the target's flash on: made up, but for its identity block. */
export const imageBytes = (target: string, of: Firmware, length = 96 * 1024): Uint8Array<ArrayBuffer> => {
  const map = flashByTarget[target]
  if (map === undefined) throw new Error(`the demo has no target ${target}`)
  const random = randomFrom(
    [...`${target}${of.version}${of.features.join()}`].reduce((h, c) => Math.imul(h ^ c.charCodeAt(0), 16777619), 7),
  )
  const bytes = Uint8Array.from({ length }, () => random.below(256))
  bytes.set(identityBlock(target, of), map.identityAt - map.start)
  return bytes
}

/** An image as Intel HEX. */
export const imageHex = (target: string, of: Firmware, length?: number): string =>
  writeHex([{ address: flashByTarget[target]?.start ?? 0, data: imageBytes(target, of, length) }])

/** The images that the demo's shop keeps. */
export const demoImages = (): { name: string; hex: string }[] =>
  images.map((of) => ({ name: `${of.name}-${of.version}.hex`, hex: imageHex('TIDEBOARD-4', of) }))
