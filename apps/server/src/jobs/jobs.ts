import { randomUUID } from 'node:crypto'
import type { EntryBody, JobView, Person, Sheet, Standings, StoredEntry } from '@taraf/contract'
import { checks, overallOf, standingsOf } from '@taraf/core'
import type { Transaction } from 'sequelize'
import { z } from 'zod'
import { isDuplicate, type Database } from '../database'
import { ProblemError } from '../http/problem'
import type { Benches } from '../links/benches'
import type { Notices } from '../live/notices'
import type { People } from '../people/people'
import { partsOf } from '../airframes/parts'
import { inspectionsFor } from '../batch/notes'
import { appendLink, lockChain, readChain } from './chain'

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

export interface Jobs {
  open(tag: string, by: Person): Promise<string>
  view(id: string): Promise<JobView>
  /** Runs `work` with the card's chain locked. A card that is handed over is refused. */
  change<T>(id: string, work: (job: LockedJob) => Promise<T>): Promise<T>
}

interface Found {
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

/** @param now the clock; the demo's history has one of its own */
export const jobsOf = (
  db: Database,
  people: People,
  benches: Benches,
  notices: Notices,
  now: () => Date = () => new Date(),
): Jobs => {
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
        const entry = await appendLink(db, transaction, entries.at(-1), { job: found.id, by, at: now(), body, requestKey })
        entries.push(entry)
        job.standings = standingsOf(checks, found.sheet, entries)
        const closedAt = body.kind === 'handover' ? now() : null
        const copy = {
          standings: job.standings,
          overall: overallOf(job.standings, entries),
          length: entries.length,
          closedAt,
        }
        await db.jobs.update(copy, { where: { id: found.id }, transaction })
        await db.airframes.update({ touchedAt: now() }, { where: { id: found.airframeId }, transaction })
        await notices.changed(found.id, transaction)
        return entry
      },
    }
    return work(job)
  }

  return {
    async open(tag, by) {
      const id = randomUUID()
      try {
        await db.within(async (transaction) => {
          const airframe = await db.airframes.findOne({ where: { tag }, transaction })
          if (airframe === null) throw new ProblemError('not-found', `No airframe has the tag ${tag}.`)
          const { id: airframeId, sheetId } = airframe.get({ plain: true })
          const sheet = (await db.sheets.findByPk(sheetId, { transaction, rejectOnEmpty: true })).get({ plain: true }).body
          const number = (await db.jobs.count({ where: { airframeId }, transaction })) + 1
          const standings = standingsOf(checks, sheet, [])
          const overall = overallOf(standings, [])
          const opened = {
            id,
            airframeId,
            sheetId,
            number,
            openedBy: by.id,
            openedAt: now(),
            closedAt: null,
            overall,
            standings,
            length: 0,
          }
          await db.jobs.create(opened, { transaction })
          await db.airframes.update({ touchedAt: now() }, { where: { id: airframeId }, transaction })
          const asked = await inspectionsFor(db, airframeId, transaction)
          if (asked.length > 0)
            await locked(id, transaction, async (job) => {
              for (const item of asked) await job.append(by.id, item)
            })
          await notices.changed(id, transaction)
        })
      } catch (error) {
        if (isDuplicate(error)) throw new ProblemError('job-open', `${tag} already has an open job card.`)
        throw error
      }
      return id
    },

    async view(id) {
      const found = await find(id)
      const entries = await readChain(db, found.id)
      const standings = standingsOf(checks, found.sheet, entries)
      return {
        id: found.id,
        number: found.number,
        tag: found.tag,
        board: found.board,
        parts: await partsOf(db, found.airframeId),
        sheet: found.sheet,
        openedAt: found.openedAt.toISOString(),
        openedBy: found.openedBy,
        closedAt: found.closedAt?.toISOString() ?? null,
        standings,
        overall: overallOf(standings, entries),
        entries,
        people: await people.names(entries.map((e) => e.by)),
        bench: await benches.heldFor(found.id),
      }
    },

    change: (id, work) => db.within((transaction) => locked(id, transaction, work)),
  }
}
