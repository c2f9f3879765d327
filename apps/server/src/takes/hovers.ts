import type { Entry, FlownHover, SheetPart, TakeBody } from '@taraf/contract'
import { checkById, hoverProof, standingsOf } from '@taraf/core'
import type { Database } from '../database/database'
import { earlierTakes } from './earlier'

/** What a hover proof measured, as evidence names it; null where it did not. */
const flownIn = (tag: string, values: Readonly<Record<string, unknown>>): FlownHover | null => {
  const { hoverThrottle: command, volts } = values
  return typeof command === 'number' && typeof volts === 'number' ? { tag, command, volts } : null
}

/** The hover proof of the airframe of a card, over all of its cards, where it still stands, and those of others of its type. */
export const hoversOf = async (db: Database, job: string, sheet: SheetPart): Promise<FlownHover[]> => {
  const [own, others] = await Promise.all([ownHover(db, job, sheet), earlierTakes(db, job, hoverProof, 'pass')])
  return [own, ...others.map(({ tag, values }) => flownIn(tag, values))].flatMap((flown) => flown ?? [])
}

const ownHover = async (db: Database, job: string, sheet: SheetPart): Promise<FlownHover | null> => {
  const check = checkById(hoverProof)
  if (check === undefined) return null
  const rows = await db.select<{ tag: string; body: Entry }>(
    `SELECT a.tag, e.body FROM jobs mine JOIN airframes a ON a.id = mine.airframe_id JOIN jobs j ON j.airframe_id = a.id
     JOIN job_entries e ON e.job_id = j.id
     WHERE mine.id = $job AND (e.body->'body'->>'kind' = 'change'
       OR (e.body->'body'->>'kind' = 'take' AND e.body->'body'->>'check' = $check))
     ORDER BY j.number, e.seq`,
    { job, check: hoverProof },
  )
  // Cards of an airframe follow each other: numbered through, what was changed on a later one meets what was flown on an earlier one.
  const entries = rows.map(({ body }, i): Entry => {
    const seq = i + 1
    return { ...body, seq, body: body.body.kind === 'take' ? { ...body.body, began: seq - 1 } : body.body }
  })
  const standing = standingsOf([check], sheet, entries)[hoverProof]
  if (standing?.state !== 'pass') return null
  const take = entries.find(({ seq }) => seq === standing.take)?.body as TakeBody
  return flownIn(rows[0]?.tag ?? '', Object.fromEntries(take.findings.map(({ key, value }) => [key, value])))
}
