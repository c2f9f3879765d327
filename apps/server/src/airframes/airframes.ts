import type { AirframePage, AirframeQuery, AirframeRow, AirframeView, Overall, Sheet } from '@taraf/contract'
import type { Database } from '../database/database'
import { ProblemError } from '../http/problem'
import { partsOf } from './parts'

/** What each sort looks at first; the tag decides what that leaves equal. */
const sortKeys: Record<AirframeQuery['sort'], string> = {
  tag: 'tag',
  type: 'type',
  standing: `array_position(ARRAY['fail', 'stale', 'open', 'ready', 'failed', 'none', 'passed'], overall)`,
  touched: '"touchedAt"',
}

const newestJob = `LEFT JOIN LATERAL (SELECT id, overall FROM jobs WHERE airframe_id = a.id ORDER BY number DESC LIMIT 1) j ON true`

/** One page of the airframes that a search and a standing leave, in order, with how many there are. */
export const listAirframes = async (db: Database, query: AirframeQuery): Promise<AirframePage> => {
  const order = `${sortKeys[query.sort]} ${query.down ? 'DESC' : 'ASC'}, tag`
  const rows = await db.select<Omit<AirframeRow, 'touchedAt'> & { touchedAt: Date; total: string; job: string | null }>(
    `SELECT *, count(*) OVER () AS total, (
       SELECT e.body->'body'->>'reason' FROM job_entries e
       WHERE e.job_id = found.job AND e.body->'body'->>'kind' IN ('parked', 'resumed') ORDER BY e.seq DESC LIMIT 1
     ) AS parked FROM (
       SELECT j.id AS job, a.tag, s.type, s.body->>'title' AS title, a.board, coalesce(j.overall, 'none') AS overall, a.touched_at AS "touchedAt"
       FROM airframes a JOIN sheets s ON s.id = a.sheet_id ${newestJob}
       WHERE position(lower($search) IN lower(a.tag || ' ' || s.type || ' ' || (s.body->>'title') || ' ' || a.board)) > 0
     ) found
     WHERE $standing::text IS NULL OR overall = $standing
     ORDER BY ${order} LIMIT $limit OFFSET $offset`,
    { search: query.search.trim(), standing: query.standing ?? null, limit: query.limit, offset: query.offset },
  )
  return {
    total: Number(rows[0]?.total ?? 0),
    rows: rows.map(({ total: _, job: __, touchedAt, ...row }) => ({ ...row, touchedAt: touchedAt.toISOString() })),
  }
}

/** One airframe with its sheet and its job cards, newest first. */
export const viewAirframe = async (db: Database, tag: string): Promise<AirframeView> => {
  const [airframe] = await db.select<{ id: string; tag: string; board: string; sheet: Sheet }>(
    'SELECT a.id, a.tag, a.board, s.body AS sheet FROM airframes a JOIN sheets s ON s.id = a.sheet_id WHERE lower(a.tag) = lower($tag)',
    { tag },
  )
  if (airframe === undefined) throw new ProblemError('not-found', `No airframe has the tag ${tag}.`)
  const jobs = await db.select<{
    id: string
    number: number
    openedAt: Date
    openedBy: string
    closedAt: Date | null
    overall: Overall
  }>(
    `SELECT j.id, j.number, j.opened_at AS "openedAt", p.name AS "openedBy", j.closed_at AS "closedAt", j.overall
     FROM jobs j JOIN people p ON p.id = j.opened_by WHERE j.airframe_id = $airframe ORDER BY j.number DESC`,
    { airframe: airframe.id },
  )
  return {
    tag: airframe.tag,
    board: airframe.board,
    parts: await partsOf(db, airframe.id),
    sheet: airframe.sheet,
    jobs: jobs.map((job) => ({ ...job, openedAt: job.openedAt.toISOString(), closedAt: job.closedAt?.toISOString() ?? null })),
  }
}
