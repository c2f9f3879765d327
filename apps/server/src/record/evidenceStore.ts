import type { Evidence } from '@taraf/contract'
import type { Transaction } from 'sequelize'
import type { Database } from '../database/database'
import { unpackEvidence, type PackedEvidence } from '../files/packEvidence'

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
