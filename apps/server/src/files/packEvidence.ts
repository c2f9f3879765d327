import { createHash } from 'node:crypto'
import { gunzipSync, gzipSync } from 'node:zlib'
import { evidence as evidenceSchema, type Evidence } from '@taraf/contract'
import { decode, encode } from '@taraf/contract/wire'

export interface PackedEvidence {
  readonly data: Buffer
  readonly sha256: Buffer
}

/** Evidence as it is kept: columns as CBOR typed arrays (RFC 8746), compressed (RFC 1952), with its hash. */
export const packEvidence = (evidence: Evidence): PackedEvidence => {
  const data = gzipSync(encode(evidence))
  return { data, sha256: createHash('sha256').update(data).digest() }
}

/** Reads kept evidence. Throws where the bytes are not a whole evidence document. */
export const unpackEvidence = (data: Buffer): Evidence => evidenceSchema.parse(decode(gunzipSync(data)))
