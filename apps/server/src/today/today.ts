import type { Overall, Person, Standings, TodayView } from '@taraf/contract'
import { checks, nextCheck } from '@taraf/core'
import { listNotes } from '../batch/notes'
import type { Database } from '../database/database'
import type { Links } from '../links/links'
import { storedEntryOf } from '../record/chain'

const most = 40

interface OpenCard {
  job: string
  tag: string
  title: string
  overall: Overall
  standings: Standings
  parked: string | null
  signedBy: string | null
  signedName: string | null
}

/** Open cards that a person works on: opened by them, last touched by them, or on a bench that they use; of a reader, all. */
const cardsOf = (db: Database, by: Person): Promise<OpenCard[]> =>
  db.select<OpenCard>(
    `SELECT j.id AS job, a.tag, s.body->>'title' AS title, j.overall, j.standings,
       (SELECT e.body->'body'->>'reason' FROM job_entries e
        WHERE e.job_id = j.id AND e.body->'body'->>'kind' IN ('parked', 'resumed') ORDER BY e.seq DESC LIMIT 1) AS parked,
       CASE WHEN l.body->'body'->>'kind' = 'signature' THEN l.body->>'by' END AS "signedBy",
       CASE WHEN l.body->'body'->>'kind' = 'signature' THEN p.name END AS "signedName"
     FROM jobs j JOIN airframes a ON a.id = j.airframe_id JOIN sheets s ON s.id = j.sheet_id
     LEFT JOIN job_entries l ON l.job_id = j.id AND l.seq = j.length LEFT JOIN people p ON p.id::text = l.body->>'by'
     WHERE j.closed_at IS NULL AND (
       $role IN ('reader', 'lead') OR j.opened_by = $by::uuid OR l.body->>'by' = $by::text
       OR EXISTS (SELECT 1 FROM benches b WHERE b.held_job = j.id AND b.held_by = $by::uuid))
     ORDER BY a.touched_at DESC LIMIT ${most}`,
    { by: by.id, role: by.role },
  )

/** What is on the benches and waits for this person now. */
export const today = async (db: Database, links: Links, by: Person): Promise<TodayView> => {
  const cards = await cardsOf(db, by)
  const held = await db.select<{
    bench: string
    name: string
    job: string
    tag: string
    byId: string
    byName: string
    standings: Standings
  }>(
    `SELECT b.id AS bench, b.name, j.id AS job, a.tag, p.id AS "byId", p.name AS "byName", j.standings
     FROM benches b JOIN jobs j ON j.id = b.held_job JOIN airframes a ON a.id = j.airframe_id JOIN people p ON p.id = b.held_by
     ORDER BY b.name`,
  )
  const stale = cards.filter(({ standings }) => Object.values(standings).some(({ state }) => state === 'stale'))
  return {
    benches: held.map(({ byId, byName, standings, ...bench }) => ({
      ...bench,
      by: { id: byId, name: byName },
      next: nextCheck(checks, standings)?.id ?? null,
      motors: links.linkOf(bench.bench)?.state?.motors ?? null,
    })),
    cards: cards.map(({ job, tag, title, overall, standings, parked }) => ({
      job,
      tag,
      title,
      overall,
      next: nextCheck(checks, standings)?.id ?? null,
      parked,
    })),
    toSign: cards.flatMap(({ job, tag, overall, parked, signedBy, signedName }): TodayView['toSign'] =>
      signedBy !== null
        ? by.role === 'lead' && signedBy !== by.id
          ? [{ job, tag, as: 'lead', after: signedName }]
          : []
        : overall === 'ready' && parked === null && by.role !== 'reader'
          ? [{ job, tag, as: 'technician', after: null }]
          : [],
    ),
    stale: await Promise.all(stale.map((card) => staleOf(db, card))),
    notes: (await listNotes(db))
      .filter((note) => note.open.length > 0)
      .map(({ id, part, lotFrom, lotTo, defect, open }) => ({
        id,
        words: `${part}, lot ${lotFrom === lotTo ? lotFrom : `${lotFrom} to ${lotTo}`}: ${defect}`,
        cards: open,
      })),
  }
}

/** How many checks of a card are stale, and the entry that made the last of them so. */
const staleOf = async (db: Database, { job, tag, standings }: OpenCard): Promise<TodayView['stale'][number]> => {
  const states = Object.values(standings).filter(({ state }) => state === 'stale')
  const seq = Math.max(0, ...states.map((one) => one.by ?? 0))
  const row = seq === 0 ? null : await db.jobEntries.findOne({ where: { jobId: job, seq } })
  return { job, tag, checks: states.length, by: row === null ? null : storedEntryOf(row.get({ plain: true })) }
}
