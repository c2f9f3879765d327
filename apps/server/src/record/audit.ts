import { createHash } from 'node:crypto'
import { readEntry, type Entry } from '@taraf/contract'
import canonicalize from 'canonicalize'
import type { Database } from '../database/database'
import { linkHash, noHash } from './chain'

export interface AuditReport {
  readonly jobs: number
  readonly entries: number
  /** What differs, each in one sentence that names the job card and the entry. */
  readonly differences: string[]
}

interface Row {
  seq: number
  canonical: string
  prevHash: Buffer
  hash: Buffer
  evidence: Buffer | null
  sha256: Buffer | null
}

/** Recomputes every job card's chain and every evidence's hash from what is stored. */
export const auditRecord = async (db: Database): Promise<AuditReport> => {
  const jobs = await db.select<{ id: string; name: string; length: number; closed: boolean }>(
    `SELECT j.id, a.tag || ' job card ' || j.number AS name, j.length, j.closed_at IS NOT NULL AS closed
     FROM jobs j JOIN airframes a ON a.id = j.airframe_id ORDER BY a.tag, j.number`,
  )
  const differences: string[] = []
  let entries = 0
  for (const job of jobs) {
    const rows = await db.select<Row>(
      `SELECT e.seq, e.canonical, e.prev_hash AS "prevHash", e.hash, v.data AS evidence, v.sha256
       FROM job_entries e LEFT JOIN evidence v ON v.job_id = e.job_id AND v.seq = e.seq WHERE e.job_id = $job ORDER BY e.seq`,
      { job: job.id },
    )
    entries += rows.length
    differences.push(...auditJob(job, rows).map((what) => `${job.name}: ${what}`))
  }
  const [orphans] = await db.select<{ count: string }>(
    'SELECT count(*) FROM job_entries e LEFT JOIN jobs j ON j.id = e.job_id WHERE j.id IS NULL',
  )
  if (Number(orphans?.count ?? 0) > 0) differences.push(`${orphans?.count} entries belong to no job card`)
  return { jobs: jobs.length, entries, differences }
}

const auditJob = (job: { id: string; length: number; closed: boolean }, rows: readonly Row[]): string[] => {
  const found: string[] = []
  let before: Buffer = noHash
  rows.forEach((row, i) => {
    const name = `entry ${row.seq}`
    if (row.seq !== i + 1) found.push(`${name} stands where entry ${i + 1} is wanted`)
    if (!row.prevHash.equals(before)) found.push(`${name} does not follow the entry before it`)
    if (!linkHash(row.prevHash, row.canonical).equals(row.hash)) found.push(`${name} was changed: its text has another hash`)
    found.push(...auditText(job.id, row).map((what) => `${name} ${what}`))
    before = row.hash
  })
  if (rows.length !== job.length) found.push(`${rows.length} entries where ${job.length} were appended`)
  const last = rows.at(-1)
  if (job.closed && (last === undefined || !last.canonical.includes('"kind":"handover"')))
    found.push('it is closed, but its last entry is no handover')
  return found
}

const auditText = (job: string, row: Row): string[] => {
  let json: unknown
  try {
    json = JSON.parse(row.canonical)
  } catch {
    return ['is not JSON']
  }
  let entry: Entry
  try {
    entry = readEntry(json)
  } catch {
    return ['is no entry of any format that was ever written']
  }
  const found: string[] = []
  if (canonicalize(json) !== row.canonical) found.push('is not in canonical form')
  if (entry.job !== job || entry.seq !== row.seq) found.push('names another place in the record')
  const { body } = entry
  const wanted = body.kind === 'take' ? body.evidenceSha256 : null
  const actual = row.evidence === null ? null : createHash('sha256').update(row.evidence).digest('hex')
  if (wanted !== actual)
    found.push(
      wanted === null
        ? 'has evidence that it does not name'
        : actual === null
          ? 'lacks its evidence'
          : 'has evidence with another hash',
    )
  return found
}
