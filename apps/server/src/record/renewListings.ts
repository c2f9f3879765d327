import type { Sheet } from '@taraf/contract'
import { checks, listingOf, standingsOf } from '@taraf/core'
import type { Database } from '../database/database'
import { readChain } from './chain'

/** Makes what lists show of a card for those that have none: cards from before lists showed it. */
export const renewListings = async (db: Database): Promise<void> => {
  const jobs = await db.select<{ id: string; sheet: Sheet }>(
    'SELECT j.id, s.body AS sheet FROM jobs j JOIN sheets s ON s.id = j.sheet_id WHERE j.listing IS NULL',
  )
  for (const { id, sheet } of jobs) {
    const entries = await readChain(db, id)
    await db.jobs.update({ listing: listingOf(checks, standingsOf(checks, sheet, entries), entries) }, { where: { id } })
  }
}
