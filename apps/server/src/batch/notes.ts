import type { BatchNote, BatchNoteRequest, ItemBody, Person } from '@taraf/contract'
import { isInLots } from '@taraf/core'
import type { Transaction } from 'sequelize'
import { v5 as uuid } from 'uuid'
import type { Database } from '../database/database'
import { ProblemError } from '@taraf/contract'
import type { Cards } from '../record/cards'

interface NoteRow {
  id: string
  part: string
  lotFrom: string
  lotTo: string
  defect: string
  inspection: string
  at: Date
  by: string
}

const select = `SELECT n.id, n.part, n.lot_from AS "lotFrom", n.lot_to AS "lotTo", n.defect, n.inspection, n.at, p.name AS by
  FROM batch_notes n JOIN people p ON p.id = n.by`

interface Affected {
  airframe: string
  tag: string
  lot: string
  job: string | null
  closedAt: Date | null
}

/** Airframes that have a part of the lots, each with its newest job card. */
const affectedBy = async (
  db: Database,
  { part, lotFrom, lotTo }: Pick<NoteRow, 'part' | 'lotFrom' | 'lotTo'>,
): Promise<Affected[]> => {
  const rows = await db.select<Affected>(
    `SELECT DISTINCT ON (a.tag, b.lot) a.id AS airframe, a.tag, b.lot, j.id AS job, j.closed_at AS "closedAt"
     FROM airframe_parts b JOIN airframes a ON a.id = b.airframe_id LEFT JOIN jobs j ON j.airframe_id = a.id
     WHERE b.part = $part AND b.lot IS NOT NULL ORDER BY a.tag, b.lot, j.number DESC`,
    { part },
  )
  const seen = new Set<string>()
  return rows.filter(({ lot, tag }) => isInLots(lot, lotFrom, lotTo) && !seen.has(tag) && seen.add(tag))
}

const itemOf = ({ id, part, lotFrom, lotTo, defect, inspection }: Omit<NoteRow, 'at' | 'by'>): ItemBody => ({
  kind: 'item',
  what: 'inspection',
  words: `${part}, lot ${lotFrom === lotTo ? lotFrom : `${lotFrom} to ${lotTo}`}: ${defect}. ${inspection}`.slice(0, 400),
  blocks: true,
  note: id,
})

/** The inspections that batch notes ask of an airframe when its job card is opened. */
export const inspectionsFor = async (db: Database, airframe: string, transaction: Transaction): Promise<ItemBody[]> => {
  const notes = await db.select<NoteRow & { lot: string }>(
    `${select.replace('SELECT', 'SELECT b.lot,')} JOIN airframe_parts b ON b.part = n.part AND b.lot IS NOT NULL
     WHERE b.airframe_id = $airframe ORDER BY n.at`,
    { airframe },
    transaction,
  )
  const asked = new Set<string>()
  return notes.filter((n) => isInLots(n.lot, n.lotFrom, n.lotTo) && !asked.has(n.id) && asked.add(n.id)).map(itemOf)
}

/** Writes a batch note: every open job card of an affected airframe gets its inspection at once. */
/** @param requestKey makes its id, so that a note whose server died halfway is gone on with, not written twice */
export const writeNote = async (
  db: Database,
  cards: Cards,
  request: BatchNoteRequest,
  by: Person,
  requestKey: string,
): Promise<BatchNote> => {
  const { part, lotFrom, lotTo } = request
  if (!isInLots(lotFrom, lotFrom, lotTo))
    throw new ProblemError('malformed', `lotTo: ${lotTo} comes before ${lotFrom}; write the first lot and the last.`)
  const id = uuid(`${by.id} ${requestKey}`, uuid.URL)
  await db.sequelize.query(
    `INSERT INTO batch_notes (id, part, lot_from, lot_to, defect, inspection, by) VALUES ($id, $part, $lotFrom, $lotTo, $defect, $inspection, $by) ON CONFLICT (id) DO NOTHING`,
    { bind: { id, part, lotFrom, lotTo, defect: request.defect, inspection: request.inspection, by: by.id } },
  )
  for (const { job, closedAt } of await affectedBy(db, request))
    if (job !== null && closedAt === null)
      await cards.change(job, async (locked) => {
        // A card that was opened meanwhile has asked for it itself.
        if (!locked.entries.some(({ body }) => body.kind === 'item' && body.note === id))
          await locked.append(by.id, itemOf({ id, ...request }))
      })
  const note = (await listNotes(db)).find((n) => n.id === id)
  if (note === undefined) throw new Error('the batch note was not kept')
  return note
}

/** All batch notes, newest first, each with the airframes that it concerns. */
export const listNotes = async (db: Database): Promise<BatchNote[]> => {
  const notes = await db.select<NoteRow>(`${select} ORDER BY n.at DESC`)
  return Promise.all(
    notes.map(async (note) => {
      const affected = await affectedBy(db, note)
      return {
        ...note,
        at: note.at.toISOString(),
        open: affected.flatMap(({ tag, job, closedAt }) => (job !== null && closedAt === null ? [{ tag, job }] : [])),
        handedOver: affected.flatMap(({ tag, closedAt }) =>
          closedAt === null ? [] : [{ tag, closedAt: closedAt.toISOString() }],
        ),
        waiting: affected.flatMap(({ tag, job }) => (job === null ? [tag] : [])),
      }
    }),
  )
}
