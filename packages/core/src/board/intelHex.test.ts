import fc from 'fast-check'
import { imageFor, isRefused, parseHex, writeHex, type FlashPlace, type HexFile, type Image } from './intelHex'

const record = (type: number, offset: number, ...bytes: number[]): string => {
  const all = [bytes.length, offset >> 8, offset & 0xff, type, ...bytes]
  const check = -all.reduce((sum, b) => sum + b, 0) & 0xff
  return `:${[...all, check].map((b) => b.toString(16).padStart(2, '0')).join('')}`
}
const end = record(1, 0)
const why = (...lines: string[]) => {
  const found = parseHex(lines.join('\n'))
  return isRefused(found) ? `${found.line}: ${found.why}` : 'read'
}
const read = (...lines: string[]): HexFile => {
  const found = parseHex(lines.join('\n'))
  if (isRefused(found)) throw new Error(found.why)
  return found
}

describe('reading', () => {
  test('records in any order and case, ending in LF or CR LF, become blocks in order', () => {
    const file = read(record(0, 0x20, 3, 4).toUpperCase() + '\r', record(0, 0x10, 1, 2), record(0, 0x12, 9) + '\r', end, '')
    expect(file.blocks.map(({ address, data }) => [address, [...data]])).toEqual([
      [0x10, [1, 2, 9]],
      [0x20, [3, 4]],
    ])
  })
  test('a linear address sets the upper half, a segment sixteen times itself and runs round within 64 KB', () => {
    expect(read(record(4, 0, 0x08, 0x00), record(0, 0x8000, 7), end).blocks[0]?.address).toBe(0x0800_8000)
    const segment = read(record(2, 0, 0x12, 0x34), record(0, 0xffff, 1, 2), end).blocks
    expect(segment.map((b) => b.address)).toEqual([0x12340, 0x12340 + 0xffff])
    expect(read(record(4, 0, 0, 1), record(0, 0xffff, 1, 2), end).blocks[0]?.data).toHaveLength(2)
  })
  test('where execution starts is told both ways', () => {
    expect(read(record(5, 0, 0x08, 0, 0x81, 0), end).start).toEqual({ linear: 0x0800_8100 })
    expect(read(record(3, 0, 0x12, 0x34, 0, 0x10), end).start).toEqual({ segment: 0x1234, offset: 0x10 })
  })
  test.each([
    ['1: it does not begin with a colon', ['hello', end]],
    ['1: it has an odd number of digits', [`${record(0, 0, 1)}0`, end]],
    ['1: it is shorter than any record', [':00', end]],
    ['1: it has a character that is no hexadecimal digit', [':0100000001FG', end]],
    ['1: it says that it has 2 bytes and has 1', [':0200000001FD', end]],
    ['1: its checksum is wrong', [':0100000001FF', end]],
    ['1: there is no record of type 6', [record(6, 0), end]],
    ['1: a record of type 4 has 2 bytes, this one 1', [record(4, 0, 8), end]],
    ['1: a record of type 4 has no offset, this one 1', [record(4, 1, 8, 0), end]],
    ['1: the record that ends the file is missing', [record(0, 0, 1)]],
    ['2: something follows the end of the file in line 1', [end, record(0, 0, 1)]],
    ['3: its bytes at 0x11 were given in line 1 already', [record(0, 0x10, 1, 2), record(0, 0x20, 1), record(0, 0x11, 5), end]],
    ['2: its bytes are beyond the last address', [record(4, 0, 0xff, 0xff), record(0, 0xffff, 1, 2), end]],
  ] as [string, string[]][])('%s', (expected, lines) => expect(why(...lines)).toContain(expected))
  test('fifty megabytes are refused unread', () => {
    expect(parseHex(':'.padEnd(50_000_000, '0'))).toMatchObject({ why: expect.stringContaining('50 MB') as string })
  })
})

const blocks = fc
  .array(fc.tuple(fc.integer({ min: 0, max: 0x3ffff }), fc.uint8Array({ minLength: 1, maxLength: 70 })), {
    minLength: 1,
    maxLength: 5,
  })
  .map((list) => {
    const sorted = list.sort(([a], [b]) => a - b)
    return sorted
      .filter(([address], i) => i === 0 || sorted.slice(0, i).every(([before, data]) => address > before + data.length))
      .map(([address, data]) => ({ address, data }))
  })

test('what is written is read again as it was', () => {
  fc.assert(
    fc.property(blocks, (wanted) => {
      const found = read(writeHex(wanted))
      expect(found.blocks.map(({ address, data }) => [address, [...data]])).toEqual(
        wanted.map(({ address, data }) => [address, [...data]]),
      )
    }),
  )
})

test('one bit flipped anywhere, or the file cut off anywhere, is refused or changes nothing', () => {
  fc.assert(
    fc.property(blocks, fc.nat(), fc.integer({ min: 0, max: 6 }), fc.boolean(), (wanted, place, bit, cut) => {
      const whole = writeHex(wanted)
      const at = place % whole.length
      const text = cut
        ? whole.slice(0, at)
        : whole.slice(0, at) + String.fromCharCode(whole.charCodeAt(at) ^ (1 << bit)) + whole.slice(at + 1)
      const found = parseHex(text)
      if (isRefused(found)) return
      expect(found.blocks.map(({ address, data }) => [address, [...data]])).toEqual(
        wanted.map(({ address, data }) => [address, [...data]]),
      )
    }),
    { numRuns: 2_000 },
  )
})

describe('an image for a board', () => {
  const place: FlashPlace = { start: 0x0800_8000, bytes: 480 * 1024, identityAt: 0x0800_8200 }
  const identity = (target: string) =>
    Uint8Array.from([...new TextEncoder().encode(`image\n${target}\nshoreline\n3.2.0\nposition,compass\n`), 0])
  const file = (target = 'TIDEBOARD-4', more: HexFile['blocks'] = []): HexFile => ({
    blocks: [
      { address: place.start, data: Uint8Array.of(1, 2, 3) },
      { address: place.identityAt, data: identity(target) },
      ...more,
    ],
    start: null,
  })
  const refusal = (found: HexFile) => {
    const image = imageFor(found, place, 'TIDEBOARD-4')
    return isRefused(image) ? image.why : 'taken'
  }
  test('says what it is, and is filled with what erased flash reads', () => {
    const image = imageFor(file(), place, 'TIDEBOARD-4') as Image
    expect(image.identity).toEqual({
      target: 'TIDEBOARD-4',
      name: 'shoreline',
      version: '3.2.0',
      features: ['position', 'compass'],
    })
    expect([...image.data.subarray(0, 5)]).toEqual([1, 2, 3, 255, 255])
    expect(image.data).toHaveLength(0x200 + identity('TIDEBOARD-4').length)
  })
  test('for another target, outside the flash, without identity or empty it is refused', () => {
    expect(refusal(file('TIDEBOARD-3'))).toContain('it is for target TIDEBOARD-3')
    expect(refusal(file('TIDEBOARD-4', [{ address: 0x0810_0000, data: Uint8Array.of(1) }]))).toContain('0x8100000 on lie outside')
    expect(refusal({ ...file(), blocks: [{ address: place.start - 1, data: Uint8Array.of(1) }] })).toContain('outside the flash')
    expect(refusal({ ...file(), blocks: file().blocks.slice(0, 1) })).toContain('no identity block at 0x8008200')
    expect(refusal({ ...file(), blocks: [] })).toBe('it holds no bytes')
  })
})
