import type { Evidence, Finding, Verdict } from '@taraf/contract'
import { openItems, type Check } from '@taraf/core'
import type { Database } from '../database/database'
import type { LockedJob } from './cards'
import { storeEvidence } from './evidenceStore'
import { type PackedEvidence } from '../files/packEvidence'

/** Appends a take with its evidence, and opens what it leaves to be put back or done later, unless that is open already. */
export const keepTake = async (
  db: Database,
  locked: LockedJob,
  take: {
    check: Check
    /** The length of the chain when the take began. */
    began: number
    by: string
    verdict: Verdict
    findings: readonly Finding[]
    evidence: Evidence | null
    packed: PackedEvidence | null
    bench: string
    board: string
    requestKey: string | null
  },
): Promise<number> => {
  const { check, began, by, verdict, findings, evidence, packed, bench, board, requestKey } = take
  const entry = await locked.append(
    by,
    {
      kind: 'take',
      check: check.id,
      checkVersion: check.version,
      began,
      verdict,
      findings: [...findings],
      evidenceSha256: packed?.sha256.toString('hex') ?? null,
      bench,
      board,
    },
    requestKey,
  )
  if (packed !== null) await storeEvidence(db, locked.transaction, locked.id, entry.seq, packed)
  if (evidence === null || verdict === 'refused') return entry.seq
  for (const item of check.opens?.(evidence) ?? [])
    if (!openItems(locked.entries).some((open) => open.words === item.words))
      await locked.append(by, { kind: 'item', ...item, check: check.id })
  return entry.seq
}
