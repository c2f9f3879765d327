import intelHex from 'intel-hex'
import { uniformFrom } from '../../tests/poses'
import { isRefused, parseHex, writeHex, type HexFile } from './intelHex'

const read = (text: string): HexFile => {
  const found = parseHex(text)
  if (isRefused(found)) throw new Error(`${found.line}: ${found.why}`)
  return found
}

describe('Intel, Hexadecimal Object File Format Specification, revision A (1988)', () => {
  // The records that the specification writes out, each with the checksum that it gives (from memory).
  test('the end of file record', () => expect(read(':00000001FF').blocks).toEqual([]))
  test('an extended linear address of FFFF', () =>
    expect(read(':02000004FFFFFC\n:0100000055AA\n:00000001FF').blocks[0]?.address).toBe(0xffff0000))
  test('an extended segment address of 1200', () =>
    expect(read(':020000021200EA\n:0100000055AA\n:00000001FF').blocks[0]?.address).toBe(0x12000))
  test('a start linear address of 000000CD', () =>
    expect(read(':04000005000000CD2A\n:00000001FF').start).toEqual({ linear: 0xcd }))
  test('a start segment address of 0000:3800', () =>
    expect(read(':0400000300003800C1\n:00000001FF').start).toEqual({ segment: 0, offset: 0x3800 }))
})

test('the library intel-hex (MIT) reads what is written here to the same bytes, as this reader does', () => {
  const uniform = uniformFrom(88)
  for (let round = 0; round < 20; round++) {
    const length = 1 + Math.floor(uniform() * 100_000)
    const data = Uint8Array.from({ length }, () => Math.floor(uniform() * 256))
    const address = Math.floor(uniform() * 0x20000)
    const theirs = intelHex.parse(writeHex([{ address, data }]), address + length)
    expect(Buffer.compare(theirs.data.subarray(address), Buffer.from(data))).toBe(0)
    const ours = read(writeHex([{ address, data }]))
    expect(ours.blocks.map((b) => b.address)).toEqual([address])
    expect(Buffer.compare(Buffer.from(ours.blocks[0]?.data ?? []), Buffer.from(data))).toBe(0)
  }
})
