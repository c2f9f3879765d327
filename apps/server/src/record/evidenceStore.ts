import { createHash } from 'node:crypto'
import { gunzipSync, gzipSync } from 'node:zlib'
import { evidence as evidenceSchema, type Evidence } from '@taraf/contract'
import { decode, encode } from '@taraf/contract/wire'
import type { Transaction } from 'sequelize'
import type { Database } from '../database/database'

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

export const storeEvidence = async (
  db: Database,
  transaction: Transaction,
  job: string,
  seq: number,
  packed: PackedEvidence,
): Promise<void> => {
  await db.evidence.create({ jobId: job, seq, ...packed }, { transaction, returning: false })
}

export const readEvidence = async (db: Database, job: string, seq: number): Promise<Evidence | null> => {
  const [row] = await db.select<{ data: Buffer }>('SELECT data FROM evidence WHERE job_id = $job AND seq = $seq', {
    job,
    seq,
  })
  return row === undefined ? null : unpackEvidence(row.data)
}

/** An evidence document in which columns are plain lists, as it leaves in JSON. */
export const plainEvidence = (evidence: Evidence): unknown =>
  JSON.parse(
    JSON.stringify(evidence, (_key, value: unknown) =>
      ArrayBuffer.isView(value) ? Array.from(value as unknown as ArrayLike<number>) : value,
    ),
  )

/** The same document with one stream of each segment alone. */
export const withStream = (evidence: Evidence, stream: keyof Evidence['segments'][number]['streams']): Evidence => ({
  ...evidence,
  segments: evidence.segments.map(({ streams, ...segment }) => ({
    ...segment,
    streams: streams[stream] === undefined ? {} : { [stream]: streams[stream] },
  })),
})
