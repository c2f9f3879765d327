import type { Database } from '../../database/database'
import type { Keys } from '../keys'
import { auditCard, readCard } from './auditCard'
import { auditGuards } from './auditGuards'
import { auditShop } from './auditShop'

export interface AuditReport {
  readonly jobs: number
  readonly entries: number
  /** Takes that an earlier version of their check judged: their seals were proved, their verdicts were not computed again. */
  readonly judgedEarlier: number
  /** What differs, each in one sentence that names the job card and the entry. */
  readonly differences: string[]
}

/**
 * Proves the whole record: every chain with its hashes and seals, every copy in the tables against the chains, every verdict against its
 * evidence, every handover's words, signatures and photos, and the guards that the migrations made. Changes nothing.
 */
export const auditRecord = async (db: Database, keys: Pick<Keys, 'wrongWith'>): Promise<AuditReport> => {
  const shop = await auditShop(db, keys)
  const differences = [...(await auditGuards(db)), ...shop.differences]
  const jobs = await db.select<{ id: string }>(
    'SELECT j.id FROM jobs j LEFT JOIN airframes a ON a.id = j.airframe_id ORDER BY a.tag, j.number',
  )
  let [entries, judgedEarlier] = [0, 0]
  // One card at a time: their evidence together is more than fits into memory.
  for (const { id } of jobs) {
    const card = await readCard(db, id)
    if (card === null) {
      differences.push(`job card ${id} has no airframe or no build sheet`)
      continue
    }
    const found = await auditCard(db, keys, card, shop)
    entries += card.rows.length
    judgedEarlier += found.judgedEarlier
    differences.push(...found.differences.map((what) => `${card.name}: ${what}`))
  }
  differences.push(...shop.boards.differences(), ...shop.missing(jobs.map((j) => j.id)))
  const listed = await db.select<{ tag: string; overall: string; wanted: string }>(
    `SELECT a.tag, a.overall, coalesce(j.overall, 'none') AS wanted FROM airframes a LEFT JOIN LATERAL (
       SELECT overall FROM jobs WHERE airframe_id = a.id ORDER BY number DESC LIMIT 1) j ON true
     WHERE a.overall <> coalesce(j.overall, 'none') ORDER BY a.tag`,
  )
  for (const { tag, overall, wanted } of listed)
    differences.push(`airframe ${tag} is listed as "${overall}", and its newest card is "${wanted}"`)
  const [orphans] = await db.select<{ count: number }>(
    'SELECT count(*)::int AS count FROM job_entries e LEFT JOIN jobs j ON j.id = e.job_id WHERE j.id IS NULL',
  )
  if ((orphans?.count ?? 0) > 0) differences.push(`${orphans?.count} entries belong to no job card`)
  return { jobs: jobs.length, entries, judgedEarlier, differences }
}
