import { sha256 } from '@noble/hashes/sha2.js'
import { bytesToHex } from '@noble/hashes/utils.js'
import fc from 'fast-check'
import { flashMap, identityBlock, Loader } from './loader'

const firmware = { name: 'shoreline', version: '3.2.1', features: ['compass', 'position'] }

/** An image of so many bytes with its identity block where it must be. */
const imageOf = (bytes: number, target = 'SK-7', of = firmware): Uint8Array => {
  const image = Uint8Array.from({ length: bytes }, (_, i) => (i * 7) & 0xff)
  image.set(identityBlock(target, of), flashMap.identityAt - flashMap.start)
  return image
}
const hashOf = (image: Uint8Array) => bytesToHex(sha256(image))
const writeBlocks = (loader: Loader, image: Uint8Array, to = image.length) => {
  for (let at = 0; at < to; at += flashMap.blockBytes)
    expect(loader.write(flashMap.start + at, image.subarray(at, Math.min(to, at + flashMap.blockBytes)))).toBeNull()
}

describe('the loader', () => {
  test('takes an image block by block, gives it back, and names the firmware that it now runs', () => {
    const loader = new Loader('SK-7')
    const image = imageOf(20_000)
    loader.begin()
    expect(loader.loading).toBe(true)
    writeBlocks(loader, image)
    expect(loader.read(flashMap.start + 4096, 64)).toEqual(image.slice(4096, 4160))
    expect(loader.end(hashOf(image))).toEqual(firmware)
    expect(loader.loading).toBe(false)
  })

  test('refuses what lies outside its flash, a block that is too large, and anything before it was begun', () => {
    const loader = new Loader('SK-7')
    expect(loader.write(flashMap.start, new Uint8Array(4))).toBe('not-loading')
    expect(loader.end('00')).toBe('not-loading')
    loader.begin()
    expect(loader.write(flashMap.start - 1, new Uint8Array(4))).toBe('address')
    expect(loader.write(flashMap.start + flashMap.bytes - 2, new Uint8Array(4))).toBe('address')
    expect(loader.write(flashMap.start, new Uint8Array(flashMap.blockBytes + 1))).toBe('address')
    expect(loader.read(flashMap.start + flashMap.bytes, 1)).toBe('address')
  })

  test('refuses an image without identity and one for another board, and stays in the loader', () => {
    const loader = new Loader('SK-7')
    loader.begin()
    const plain = Uint8Array.from({ length: 9000 }, () => 0x11)
    writeBlocks(loader, plain)
    expect(loader.end(hashOf(plain))).toBe('identity')
    loader.begin()
    const other = imageOf(9000, 'SK-9')
    writeBlocks(loader, other)
    expect(loader.end(hashOf(other))).toBe('target')
    expect(loader.loading).toBe(true)
  })

  test('cut off at any byte it is never taken for whole, and can be gone on with', () => {
    const image = imageOf(6_000)
    fc.assert(
      fc.property(fc.integer({ min: 0, max: image.length - 1 }), (cut) => {
        const loader = new Loader('SK-7')
        loader.begin()
        writeBlocks(loader, image, cut)
        expect(loader.end(hashOf(image))).toBe('hash')
        expect(loader.loading).toBe(true)
        writeBlocks(loader, image)
        expect(loader.end(hashOf(image))).toEqual(firmware)
      }),
      { numRuns: 60 },
    )
  })

  test('one flipped bit anywhere is a wrong hash', () => {
    const image = imageOf(3_000)
    fc.assert(
      fc.property(fc.integer({ min: 0, max: image.length - 1 }), fc.integer({ min: 0, max: 7 }), (at, bit) => {
        const loader = new Loader('SK-7')
        loader.begin()
        const flipped = image.slice()
        flipped[at] = (flipped[at] ?? 0) ^ (1 << bit)
        writeBlocks(loader, flipped)
        expect(loader.end(hashOf(image))).toBe('hash')
      }),
      { numRuns: 60 },
    )
  })
})
