// The build of cbor-x that compiles no code at run time, so that the page can forbid `eval`.
import { Encoder } from 'cbor-x/index-no-eval'

const codec = new Encoder({ useRecords: false, mapsAsObjects: true, tagUint8Array: false, largeBigIntToFloat: true })

/** CBOR (RFC 8949) with typed arrays as RFC 8746 tags. */
export const encode = (value: unknown): Uint8Array => codec.encode(value)

/** The items of a CBOR sequence (RFC 8742), in order. Throws on anything malformed or cut short. */
export const decodeSequence = (bytes: Uint8Array): unknown[] => {
  const items: unknown[] = []
  codec.decodeMultiple(bytes, (item) => void items.push(item))
  return items
}

/** One CBOR item. Throws on anything malformed or cut short. */
export const decode = (bytes: Uint8Array): unknown => codec.decode(bytes)
