import type { EntryBody, Sheet, Standings, StoredEntry } from '@taraf/contract'
import { checks, listingOf, overallOf, standingsOf } from '@taraf/core'
import type { Transaction } from 'sequelize'
import { z } from 'zod'
import type { Database } from '../database/database'
import type { Notices } from '../database/notices'
import { ProblemError } from '@taraf/contract'
import { appendLink, lockChain, readChain } from './chain'
import type { Shop } from './shop'

/** A job card inside a transaction that holds its chain's lock. */
export interface LockedJob {
  readonly id: string
  readonly tag: string
  readonly board: string
  readonly airframeId: string
  readonly sheet: Sheet
  readonly entries: readonly StoredEntry[]
  readonly standings: Standings
  readonly transaction: Transaction
  /** Appends behind the head and renews the card's copy of its standings. */
  append(by: string, body: EntryBody, requestKey?: string | null): Promise<StoredEntry>
}

/** The record of job cards: each a chain that is only ever appended to. */
export interface Cards {
  find(id: string): Promise<Found>
  /** Runs `work` with the card's chain locked. A card that is handed over is refused. */
  change<T>(id: string, work: (job: LockedJob) => Promise<T>, within?: Transaction): Promise<T>
}

export interface Found {
  id: string
  number: number
  airframeId: string
  tag: string
  board: string
  sheet: Sheet
  openedAt: Date
  openedBy: string
  closedAt: Date | null
}

export const cardsOf = (db: Database, notices: Notices, shop: Shop): Cards => {
  const find = async (id: string, transaction: Transaction | null = null): Promise<Found> => {
    const [found] = !z.uuid().safeParse(id).success
      ? []
      : await db.select<Found>(
          `SELECT j.id, j.number, j.airframe_id AS "airframeId", a.tag, a.board, s.body AS sheet, j.opened_at AS "openedAt",
         p.name AS "openedBy", j.closed_at AS "closedAt"
       FROM jobs j JOIN airframes a ON a.id = j.airframe_id JOIN sheets s ON s.id = j.sheet_id JOIN people p ON p.id = j.opened_by
       WHERE j.id = $id`,
          { id },
          transaction,
        )
    if (found === undefined) throw new ProblemError('not-found', 'There is no such job card.')
    return found
  }

  const locked = async <T>(id: string, transaction: Transaction, work: (job: LockedJob) => Promise<T>): Promise<T> => {
    const found = await find(id, transaction)
    await lockChain(db, found.id, transaction)
    const entries = await readChain(db, found.id, transaction)
    if (entries.at(-1)?.body.kind === 'handover')
      throw new ProblemError('job-closed', `Job card ${found.number} of ${found.tag} is handed over.`)
    const job = {
      ...found,
      entries,
      standings: standingsOf(checks, found.sheet, entries),
      transaction,
      async append(by: string, body: EntryBody, requestKey: string | null = null) {
        const at = shop.now()
        const entry = await appendLink(db, shop.keys, transaction, entries.at(-1), { job: found.id, by, at, body, requestKey })
        entries.push(entry)
        job.standings = standingsOf(checks, found.sheet, entries)
        const closedAt = body.kind === 'handover' ? at : null
        const overall = overallOf(job.standings, entries)
        const listing = listingOf(checks, job.standings, entries)
        const copy = { standings: job.standings, overall, length: entries.length, closedAt, listing }
        await db.jobs.update(copy, { where: { id: found.id }, transaction })
        await db.airframes.update({ touchedAt: at, touchedBy: by }, { where: { id: found.airframeId }, transaction })
        if (closedAt !== null)
          await shop.append(transaction, by, { kind: 'closed', job: found.id, length: entry.seq, head: entry.hash, overall })
        await notices.changed(found.id, transaction)
        return entry
      },
    }
    return work(job)
  }

  return {
    find: (id) => find(id),
    change: (id, work, transaction) =>
      transaction === undefined ? db.within((own) => locked(id, own, work)) : locked(id, transaction, work),
  }
}
