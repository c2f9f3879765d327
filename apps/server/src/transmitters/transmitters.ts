import type { TransmitterCard } from '@taraf/contract'
import { transmitterCardsOf, type OnCard } from '@taraf/core/transmitterCards'
import type { Database } from '../database/database'

/** What names a transmitter on a card: as the index of migration 0009 has it. */
const namesTransmitter = `(body->'body'->'change'->>'what' = 'transmitter' OR body->'body'->>'check' = 'radio.link')`
/** Of the newest entries; what is older says nothing that a newer one does not. */
const most = 5000
const found = (key: string) =>
  `(SELECT f->'value' FROM jsonb_array_elements(e.body->'body'->'findings') f WHERE f->>'key' = '${key}' LIMIT 1)`

/**
 * The cards of all transmitters, by what job cards say of them; those that were used last come first. The database picks what names one: no
 * entry is read as a whole.
 */
export const transmitterCards = async (db: Database): Promise<TransmitterCard[]> => {
  const rows = await db.select<OnCard>(
    `SELECT * FROM (
       SELECT a.tag, a.type, e.job_id AS job, e.body->>'at' AS at, p.name AS by,
         coalesce(e.body->'body'->'change'->>'transmitter', ${found('transmitter')}#>>'{}') AS transmitter,
         coalesce(e.body->'body'->'change'->'model', ${found('model')})::int AS model,
         coalesce(e.body->'body'->'change'->'set', '[]') AS set, e.seq
       FROM (SELECT * FROM job_entries WHERE ${namesTransmitter} ORDER BY body->>'at' DESC LIMIT ${most}) e
       JOIN jobs j ON j.id = e.job_id JOIN airframes a ON a.id = j.airframe_id JOIN people p ON p.id::text = e.body->>'by'
     ) named WHERE transmitter IS NOT NULL AND model IS NOT NULL ORDER BY at, seq`,
  )
  return transmitterCardsOf(rows).sort((a, b) => b.at.localeCompare(a.at))
}
