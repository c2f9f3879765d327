import type { Entry, HandoverBody, SheetPart, Standings } from '@taraf/contract'
import { whyAbsent, type Check } from '../check'
import { stands } from '../standing'

/** An airframe passes when every check stands; anything open, failed or stale fails it. */
export const outcomeOf = (standings: Standings): HandoverBody['outcome'] =>
  Object.values(standings).every(stands) ? 'pass' : 'fail'

/** The record's line for each check: what it is worth, by which take, and the reason of what was set aside. */
export const recordLines = (
  checks: readonly Check[],
  sheet: SheetPart,
  standings: Standings,
  entries: readonly Entry[],
): HandoverBody['checks'] =>
  checks.map((check) => {
    const standing = standings[check.id] ?? { state: 'open' as const }
    const by = entries.find((e) => e.seq === standing.by)?.body
    const reason = by?.kind === 'aside' ? by.reason : by?.kind === 'change' ? by.cause : (whyAbsent(check, sheet) ?? undefined)
    return {
      check: check.id,
      title: check.title,
      state: standing.state,
      take: standing.take ?? null,
      ...(reason === undefined ? {} : { reason }),
    }
  })

/** The newest technician's signature that still covers the whole chain: given over the head before it. */
export const signatureInForce = (
  entries: readonly (Entry & { hash: string })[],
): { role: 'technician' | 'lead'; by: string; seq: number } | null => {
  const last = entries.at(-1)
  const before = entries.at(-2)
  if (last?.body.kind !== 'signature' || last.body.over !== before?.hash) return null
  return { role: last.body.role, by: last.by, seq: last.seq }
}
