import { readEntry, type TransmitterCard } from '@taraf/contract'
import { transmitterCardsOf } from '@taraf/core'
import type { Database } from '../database/database'

/** What names a transmitter on a card: as the index of migration 0009 has it. */
const namesTransmitter = `(body->'body'->'change'->>'what' = 'transmitter' OR body->'body'->>'check' = 'radio.link')`
const most = 5000

/** The cards of all transmitters, by what job cards say of them; those that were used last come first. */
export const transmitterCards = async (db: Database): Promise<TransmitterCard[]> => {
  const rows = await db.select<{ canonical: string; tag: string; type: string; job: string; name: string }>(
    `SELECT e.canonical, a.tag, a.type, e.job_id AS job, p.name FROM
       (SELECT * FROM job_entries WHERE ${namesTransmitter} ORDER BY body->>'at' DESC LIMIT ${most}) e
     JOIN jobs j ON j.id = e.job_id JOIN airframes a ON a.id = j.airframe_id JOIN people p ON p.id::text = e.body->>'by'
     ORDER BY e.body->>'at', e.seq`,
  )
  const entries = rows.map(({ canonical, tag, type, job, name }) => {
    const { at, body } = readEntry(JSON.parse(canonical))
    return { tag, type, job, at, by: name, body }
  })
  return transmitterCardsOf(entries).sort((a, b) => b.at.localeCompare(a.at))
}
