/**
 * Intel HEX (Hexadecimal Object File Format Specification, revision A, 1988): text in which every record proves itself by a
 * checksum. Read strictly: whatever is not whole and unambiguous is refused with the line in which it is.
 */

/** Bytes that lie together. */
export interface HexBlock {
  readonly address: number
  readonly data: Uint8Array
}
export interface HexFile {
  /** In order of their addresses; none touches the next. */
  readonly blocks: readonly HexBlock[]
  /** Where the file says that execution starts: a linear address, or code segment and instruction pointer. */
  readonly start: { readonly linear: number } | { readonly segment: number; readonly offset: number } | null
}
/** Why a file is refused. `line` counts from 1; 0 stands for the file as a whole. */
export interface HexRefusal {
  readonly line: number
  readonly why: string
}

export const isRefused = <T extends object>(found: T | HexRefusal): found is HexRefusal => 'why' in found

const data = 0x00
const endOfFile = 0x01
const extendedSegment = 0x02
const startSegment = 0x03
const extendedLinear = 0x04
const startLinear = 0x05

interface Run {
  readonly line: number
  readonly address: number
  readonly bytes: Uint8Array
}

/** Reads a whole file. `mostChars` keeps what cannot be an image for any board from being read at all. */
export const parseHex = (text: string, mostChars = 8_000_000): HexFile | HexRefusal => {
  if (text.length > mostChars)
    return {
      line: 0,
      why: `it is ${(text.length / 1e6).toFixed(0)} MB long; an image for any board that Taraf writes needs less than ${mostChars / 1e6} MB`,
    }
  const runs: Run[] = []
  let base = 0
  let segmented = false
  let start: HexFile['start'] = null
  let ended = 0
  let number = 0
  for (let at = 0; at < text.length;) {
    number += 1
    const newline = text.indexOf('\n', at)
    const end = newline < 0 ? text.length : newline
    const line = text.slice(at, end > at && text[end - 1] === '\r' ? end - 1 : end)
    at = end + 1
    if (line === '' && at >= text.length) break
    if (ended > 0) return { line: number, why: `something follows the end of the file in line ${ended}` }
    const record = readRecord(line)
    if (typeof record === 'string') return { line: number, why: record }
    const { type, offset, bytes } = record
    const wrong = lengthWrong(type, offset, bytes.length)
    if (wrong !== null) return { line: number, why: wrong }
    const word = (i: number) => ((bytes[i] as number) << 8) | (bytes[i + 1] as number)
    switch (type) {
      case data:
        // Within a segment an offset runs over its end to its beginning; a linear address does not.
        if (offset + bytes.length <= 0x10000 || !segmented) {
          if (base + offset + bytes.length > 2 ** 32) return { line: number, why: 'its bytes are beyond the last address' }
          runs.push({ line: number, address: base + offset, bytes })
        } else {
          const fits = 0x10000 - offset
          runs.push({ line: number, address: base + offset, bytes: bytes.subarray(0, fits) })
          runs.push({ line: number, address: base, bytes: bytes.subarray(fits) })
        }
        break
      case endOfFile:
        ended = number
        break
      case extendedSegment:
        base = word(0) * 16
        segmented = true
        break
      case extendedLinear:
        base = word(0) * 0x10000
        segmented = false
        break
      case startSegment:
        start = { segment: word(0), offset: word(2) }
        break
      case startLinear:
        start = { linear: word(0) * 0x10000 + word(2) }
        break
    }
  }
  if (ended === 0) return { line: number, why: 'the record that ends the file is missing: it was cut off' }
  const blocks = joined(runs)
  return isRefused(blocks) ? blocks : { blocks, start }
}

interface HexRecord {
  readonly type: number
  readonly offset: number
  readonly bytes: Uint8Array
}

/** One record, or what is wrong with it. */
const readRecord = (line: string): HexRecord | string => {
  if (!line.startsWith(':')) return 'it does not begin with a colon'
  const digits = line.length - 1
  if (digits % 2 !== 0) return 'it has an odd number of digits'
  if (digits < 10) return 'it is shorter than any record'
  const all = new Uint8Array(digits / 2)
  let sum = 0
  for (let i = 0; i < all.length; i++) {
    const value = digit(line.charCodeAt(2 * i + 1)) * 16 + digit(line.charCodeAt(2 * i + 2))
    if (Number.isNaN(value)) return 'it has a character that is no hexadecimal digit'
    all[i] = value
    sum += value
  }
  const [count, high, low, type] = all as unknown as [number, number, number, number]
  if (all.length !== count + 5) return `it says that it has ${count} bytes and has ${all.length - 5}`
  if ((sum & 0xff) !== 0) return 'its checksum is wrong: the line was changed'
  if (type > startLinear) return `there is no record of type ${type}`
  return { type, offset: (high << 8) | low, bytes: all.subarray(4, 4 + count) }
}

const digit = (code: number): number => {
  if (code >= 48 && code <= 57) return code - 48
  if (code >= 65 && code <= 70) return code - 55
  if (code >= 97 && code <= 102) return code - 87
  return NaN
}

const lengths: Readonly<Record<number, number>> = {
  [endOfFile]: 0,
  [extendedSegment]: 2,
  [startSegment]: 4,
  [extendedLinear]: 2,
  [startLinear]: 4,
}
const lengthWrong = (type: number, offset: number, length: number): string | null => {
  const wanted = lengths[type]
  if (wanted === undefined) return null
  if (length !== wanted) return `a record of type ${type} has ${wanted} bytes, this one ${length}`
  return offset === 0 ? null : `a record of type ${type} has no offset, this one ${offset}`
}

/** Runs put together to blocks; refused where two overlap. */
const joined = (runs: readonly Run[]): HexBlock[] | HexRefusal => {
  const sorted = [...runs].filter((r) => r.bytes.length > 0).sort((a, b) => a.address - b.address)
  const blocks: HexBlock[] = []
  for (let i = 0; i < sorted.length;) {
    const first = sorted[i] as Run
    let end = first.address
    let j = i
    for (; j < sorted.length; j++) {
      const run = sorted[j] as Run
      if (run.address > end) break
      if (run.address < end) {
        const before = sorted[j - 1] as Run
        return {
          line: Math.max(run.line, before.line),
          why: `its bytes at ${hex(run.address)} were given in line ${Math.min(run.line, before.line)} already`,
        }
      }
      end += run.bytes.length
    }
    const whole = new Uint8Array(end - first.address)
    for (const run of sorted.slice(i, j)) whole.set(run.bytes, run.address - first.address)
    blocks.push({ address: first.address, data: whole })
    i = j
  }
  return blocks
}

const hex = (value: number): string => `0x${value.toString(16).toUpperCase()}`

/** Writes blocks as records of 16 bytes, with extended linear addresses, ending in CR LF as the specification's examples. */
export const writeHex = (blocks: readonly HexBlock[]): string => {
  const lines: string[] = []
  const put = (type: number, offset: number, bytes: readonly number[]) => {
    const all = [bytes.length, offset >> 8, offset & 0xff, type, ...bytes]
    const check = -all.reduce((sum, b) => sum + b, 0) & 0xff
    lines.push(`:${[...all, check].map((b) => b.toString(16).toUpperCase().padStart(2, '0')).join('')}`)
  }
  let upper = 0
  for (const { address, data: bytes } of blocks)
    for (let i = 0; i < bytes.length;) {
      const at = address + i
      const page = Math.floor(at / 0x10000)
      if (page !== upper) {
        put(extendedLinear, 0, [page >> 8, page & 0xff])
        upper = page
      }
      const most = Math.min(16, bytes.length - i, 0x10000 - (at % 0x10000))
      put(data, at % 0x10000, [...bytes.subarray(i, i + most)])
      i += most
    }
  put(endOfFile, 0, [])
  return `${lines.join('\r\n')}\r\n`
}

/** Where an image may be in a board's flash, and where its identity block must. */
export interface FlashPlace {
  readonly start: number
  readonly bytes: number
  readonly identityAt: number
}
export interface Image {
  /** From the start of flash to the last byte of the file; 255 where it says nothing, as erased flash reads. */
  readonly data: Uint8Array
  readonly identity: {
    readonly target: string
    readonly name: string
    readonly version: string
    readonly features: readonly string[]
  }
}

const identityBytes = 256

/** The image that a file is for a board of this target, or why it is none. Nothing of a refused file may be written. */
export const imageFor = (file: HexFile, { start, bytes, identityAt }: FlashPlace, target: string): Image | HexRefusal => {
  const outside = file.blocks.find((b) => b.address < start || b.address + b.data.length > start + bytes)
  if (outside !== undefined)
    return {
      line: 0,
      why: `its bytes from ${hex(outside.address)} on lie outside the flash of this target, ${hex(start)} to ${hex(start + bytes - 1)}`,
    }
  const last = file.blocks[file.blocks.length - 1]
  if (last === undefined) return { line: 0, why: 'it holds no bytes' }
  const whole = new Uint8Array(last.address + last.data.length - start).fill(0xff)
  for (const { address, data: block } of file.blocks) whole.set(block, address - start)
  const identity = identityIn(whole.subarray(identityAt - start, identityAt - start + identityBytes))
  if (identity === null)
    return { line: 0, why: `it has no identity block at ${hex(identityAt)}: it is no image for this kind of board` }
  if (identity.target !== target) return { line: 0, why: `it is for target ${identity.target}, the board is ${target}` }
  return { data: whole, identity }
}

/** UTF-8 lines: "image", target, name, version, features parted by commas; then noughts. */
const identityIn = (block: Uint8Array): Image['identity'] | null => {
  const end = block.indexOf(0)
  let text
  try {
    text = new TextDecoder('utf-8', { fatal: true }).decode(block.subarray(0, Math.max(0, end)))
  } catch {
    return null
  }
  const [kind, target, name, version, features] = text.split('\n')
  if (kind !== 'image' || !target || !name || !version || features === undefined) return null
  return { target, name, version, features: features === '' ? [] : features.split(',') }
}
