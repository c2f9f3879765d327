import { sha256 } from '@noble/hashes/sha2.js'
import { bytesToHex } from '@noble/hashes/utils.js'
import type { Firmware } from '../airframe'

/** Where an image may lie, and where its identity block must: fixed for the target. */
export interface FlashMap {
  readonly start: number
  readonly bytes: number
  readonly identityAt: number
  readonly blockBytes: number
}
export const flashMap: FlashMap = { start: 0x0800_8000, bytes: 2048 * 1024 - 0x8000, identityAt: 0x0800_8200, blockBytes: 1024 }
const identityBytes = 256
const erased = 0xff

export type LoaderRefusal = 'not-loading' | 'address' | 'identity' | 'hash' | 'target'

/**
 * The loader in the board's flash: it takes an image block by block, keeps what it has when it is cut off, and starts the
 * image only once its identity block and its hash are right.
 */
export class Loader {
  /** Null while an image runs. */
  private flash: Uint8Array | null = null
  private written = 0

  constructor(private readonly target: string) {}

  get loading(): boolean {
    return this.flash !== null
  }

  /** Where an image goes, and how far one has been written since the last erasure. */
  get map(): FlashMap & { readonly written: number } {
    return { ...flashMap, written: this.loading ? this.written : 0 }
  }

  /** Erases what was there; from now on the board stays in its loader until an image is whole. */
  begin(): void {
    this.flash = new Uint8Array(flashMap.bytes).fill(erased)
    this.written = 0
  }

  write(address: number, data: Uint8Array): LoaderRefusal | null {
    if (this.flash === null) return 'not-loading'
    const at = address - flashMap.start
    if (at < 0 || at + data.length > flashMap.bytes || data.length > flashMap.blockBytes) return 'address'
    this.flash.set(data, at)
    this.written = Math.max(this.written, at + data.length)
    return null
  }

  read(address: number, length: number): Uint8Array | LoaderRefusal {
    if (this.flash === null) return 'not-loading'
    const at = address - flashMap.start
    if (at < 0 || at + length > flashMap.bytes || length > flashMap.blockBytes) return 'address'
    return this.flash.slice(at, at + length)
  }

  /** Proves the image from the start of flash to the last byte written. The firmware that it is, or what is wrong with it. */
  end(hash: string): Firmware | LoaderRefusal {
    if (this.flash === null) return 'not-loading'
    if (bytesToHex(sha256(this.flash.subarray(0, this.written))) !== hash) return 'hash'
    const at = flashMap.identityAt - flashMap.start
    const identity = readIdentity(this.flash.subarray(at, at + identityBytes))
    if (identity === null) return 'identity'
    if (identity.target !== this.target) return 'target'
    this.flash = null
    return identity.firmware
  }
}

/** The identity block: UTF-8 lines of target, name, version, and features parted by commas, then noughts. */
export const identityBlock = (target: string, { name, version, features }: Firmware): Uint8Array => {
  const block = new Uint8Array(identityBytes)
  block.set(new TextEncoder().encode(`${['image', target, name, version, features.join(',')].join('\n')}\n`))
  return block
}

const readIdentity = (block: Uint8Array): { target: string; firmware: Firmware } | null => {
  const end = block.indexOf(0)
  const [kind, target, name, version, features] = new TextDecoder().decode(block.subarray(0, end < 0 ? 0 : end)).split('\n')
  if (kind !== 'image' || !target || !name || !version || features === undefined) return null
  return { target, firmware: { name, version, features: features === '' ? [] : features.split(',') } }
}
