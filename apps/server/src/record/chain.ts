import { createHash } from 'node:crypto'
import { entry as entrySchema, type Entry, type EntryBody, type ShopEntry, type StoredEntry } from '@taraf/contract'
import { readEntry } from '@taraf/contract/readEntry'
import canonicalize from 'canonicalize'
import type { Transaction } from 'sequelize'
import type { Database } from '../database/database'
import type { JobEntryRow } from '../database/models/jobs'
import type { Keys } from './keys'

export const noHash = Buffer.alloc(32)

/** The text of an entry that is hashed and stored: RFC 8785. */
export const canonicalText = (entry: Entry | ShopEntry): string => {
  const text = canonicalize(entry)
  if (text === undefined) throw new Error('an entry has no canonical form')
  return text
}

export const linkHash = (prevHash: Buffer, canonical: string): Buffer =>
  createHash('sha256').update(prevHash).update(canonical, 'utf8').digest()

export const storedEntryOf = (row: Pick<JobEntryRow, 'canonical' | 'hash'>): StoredEntry => ({
  ...readEntry(JSON.parse(row.canonical)),
  hash: row.hash.toString('hex'),
})

/** The entries of a job card in order. */
export const readChain = async (db: Database, job: string, transaction: Transaction | null = null): Promise<StoredEntry[]> => {
  const rows = await db.jobEntries.findAll({ where: { jobId: job }, order: ['seq'], transaction })
  return rows.map((row) => storedEntryOf(row.get({ plain: true })))
}

/** Keeps others from appending to the job card until the transaction ends. */
export const lockChain = async (db: Database, job: string, transaction: Transaction): Promise<void> => {
  await db.sequelize.query('SELECT pg_advisory_xact_lock(hashtextextended($job, 0))', { bind: { job }, transaction })
}

/** Appends one entry behind the head, sealed. The caller holds the chain's lock. */
export const appendLink = async (
  db: Database,
  keys: Keys,
  transaction: Transaction,
  head: StoredEntry | undefined,
  link: { job: string; by: string; at: Date; body: EntryBody; requestKey: string | null },
): Promise<StoredEntry> => {
  const prevHash = head === undefined ? noHash : Buffer.from(head.hash, 'hex')
  const seq = (head?.seq ?? 0) + 1
  const { job, by, body } = link
  const canonical = canonicalText(entrySchema.parse({ format: 2, job, seq, at: link.at.toISOString(), by, body }))
  const hash = linkHash(prevHash, canonical)
  await db.jobEntries.create(
    { jobId: job, seq, canonical, prevHash, hash, requestKey: link.requestKey, ...keys.seal('card', hash) },
    { transaction, returning: false },
  )
  return storedEntryOf({ canonical, hash })
}
