import type { AirframePage, AirframeQuery, AirframeRow, AirframeView, Listing, Overall, Sheet } from '@taraf/contract'
import type { Database } from '../database/database'
import { ProblemError } from '@taraf/contract'
import { partsOf } from './parts'

/** What each sort looks at first, each behind an index; the tag decides what that leaves equal. */
const sortKeys: Record<AirframeQuery['sort'], string> = {
  tag: 'a.tag',
  type: 'a.type',
  standing: 'a.rank',
  touched: 'a.touched_at',
}

type Row = Omit<AirframeRow, keyof Listing | 'touchedAt'> & { touchedAt: Date; listing: Listing | null }

/** One page of the airframes that a search and a standing leave, in order, with how many there are. */
export const listAirframes = async (db: Database, query: AirframeQuery): Promise<AirframePage> => {
  const direction = query.down ? 'DESC' : 'ASC'
  const key = sortKeys[query.sort]
  // Both in one direction: an index is read forwards or backwards.
  const order = key === 'a.tag' ? `a.tag ${direction}` : `${key} ${direction}, a.tag ${direction}`
  const search = query.search.trim().toLowerCase()
  // Only what is asked for stands in the query: a condition that is always so hides an index.
  const where = [
    ...(search === '' ? [] : ['a.search LIKE $search']),
    ...(query.standing === undefined ? [] : ['a.overall = $standing']),
  ].map((condition, i) => `${i === 0 ? 'WHERE' : 'AND'} ${condition}`)
  const bind = {
    ...(search === '' ? {} : { search: `%${search.replace(/[\\%_]/g, '\\$&')}%` }),
    ...(query.standing === undefined ? {} : { standing: query.standing }),
  }
  const [count] = await db.select<{ total: number }>(`SELECT count(*)::int AS total FROM airframes a ${where.join(' ')}`, bind)
  const rows = await db.select<Row>(
    `SELECT a.tag, a.type, s.body->>'title' AS title, s.version, a.board, a.overall, j.listing, b.name AS bench,
       a.touched_at AS "touchedAt", p.name AS "touchedBy"
     FROM (SELECT * FROM airframes a ${where.join(' ')} ORDER BY ${order} LIMIT $limit OFFSET $offset) a
     JOIN sheets s ON s.id = a.sheet_id LEFT JOIN jobs j ON j.id = a.newest_job LEFT JOIN benches b ON b.held_job = j.id
     LEFT JOIN people p ON p.id = a.touched_by
     ORDER BY ${order}`,
    { ...bind, limit: query.limit, offset: query.offset },
  )
  return {
    total: count?.total ?? 0,
    rows: rows.map(({ listing, touchedAt, ...row }) => ({
      ...row,
      ...(listing ?? { next: null, openItems: 0, parked: null, route: [] }),
      ...(row.overall === 'passed' || row.overall === 'failed' ? { next: null } : {}),
      touchedAt: touchedAt.toISOString(),
    })),
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
