import type { EarlierTakes, TakeBody, Verdict } from '@taraf/contract'
import type { Database } from '../database/database'

const most = 60

/**
 * What a check last found on other airframes of the same type, newest first: the numbers of each take that proved something.
 *
 * @param verdict of such takes alone, where it is said
 */
export const earlierTakes = async (
  db: Database,
  job: string,
  check: string,
  verdict: Verdict | null = null,
): Promise<EarlierTakes> => {
  const rows = await db.select<{ tag: string; at: string; findings: TakeBody['findings'] }>(
    `WITH mine AS (
       SELECT a.id, s.type FROM jobs j JOIN airframes a ON a.id = j.airframe_id JOIN sheets s ON s.id = j.sheet_id WHERE j.id = $job
     )
     SELECT tag, at, findings FROM (
       SELECT DISTINCT ON (a.id) a.tag, e.body->>'at' AS at, e.body->'body'->'findings' AS findings
       FROM mine JOIN sheets s ON s.type = mine.type JOIN jobs j ON j.sheet_id = s.id JOIN airframes a ON a.id = j.airframe_id
       JOIN job_entries e ON e.job_id = j.id
       WHERE a.id <> mine.id AND e.body->'body'->>'kind' = 'take' AND e.body->'body'->>'check' = $check
         AND e.body->'body'->>'verdict' <> 'refused' AND ($verdict = '' OR e.body->'body'->>'verdict' = $verdict)
       ORDER BY a.id, j.number DESC, e.seq DESC
     ) newest ORDER BY at DESC LIMIT ${most}`,
    { job, check, verdict: verdict ?? '' },
  )
  return rows.map(({ tag, at, findings }) => ({
    tag,
    at,
    values: Object.fromEntries(findings.flatMap(({ key, value }) => (typeof value === 'number' ? [[key, value]] : []))),
  }))
}
