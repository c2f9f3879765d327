import { randomUUID } from 'node:crypto'
import type { JobView, Person } from '@taraf/contract'
import { checks, listingOf, overallOf, standingsOf } from '@taraf/core'
import { isDuplicate, type Database } from '../database/database'
import { ProblemError } from '@taraf/contract'
import type { Benches } from '../benches/benches'
import type { Notices } from '../database/notices'
import type { People } from '../people/people'
import { findByTag } from '../record/findByTag'
import { partsOf } from '../airframes/parts'
import { inspectionsFor } from '../batch/notes'
import type { Cards } from '../record/cards'
import { readChain } from '../record/chain'
import type { Shop } from '../record/shop'

export interface Jobs {
  open(tag: string, by: Person, requestKey?: string | null): Promise<string>
  view(id: string): Promise<JobView>
}

export const jobsOf = (db: Database, people: People, benches: Benches, notices: Notices, cards: Cards, shop: Shop): Jobs => {
  return {
    async open(tag, by, requestKey = null) {
      const id = randomUUID()
      try {
        await db.within(async (transaction) => {
          const airframe = await findByTag(db, tag, transaction)
          if (airframe === null) throw new ProblemError('not-found', `No airframe has the tag ${tag}.`)
          const { id: airframeId, sheetId, board, tag: ownTag } = airframe
          const sheet = (await db.sheets.findByPk(sheetId, { transaction, rejectOnEmpty: true })).get({ plain: true }).body
          const number = (await db.jobs.count({ where: { airframeId }, transaction })) + 1
          const standings = standingsOf(checks, sheet, [])
          const overall = overallOf(standings, [])
          const openedAt = shop.now()
          const opened = {
            id,
            airframeId,
            sheetId,
            number,
            openedBy: by.id,
            openedAt,
            closedAt: null,
            overall,
            standings,
            length: 0,
            listing: listingOf(checks, standings, []),
          }
          await db.jobs.create(opened, { transaction })
          await db.airframes.update({ touchedAt: openedAt, touchedBy: by.id }, { where: { id: airframeId }, transaction })
          const placed = { airframe: airframeId, tag: ownTag, board, sheet: sheetId, number }
          await shop.append(
            transaction,
            by.id,
            { kind: 'opened', job: id, ...placed, openedBy: by.id, openedAt: openedAt.toISOString() },
            requestKey,
          )
          const asked = await inspectionsFor(db, airframeId, transaction)
          if (asked.length > 0)
            await cards.change(
              id,
              async (job) => {
                for (const item of asked) await job.append(by.id, item)
              },
              transaction,
            )
          await notices.changed(id, transaction)
        })
      } catch (error) {
        if (isDuplicate(error)) throw new ProblemError('job-open', `${tag} already has an open job card.`)
        throw error
      }
      return id
    },

    async view(id) {
      const found = await cards.find(id)
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
        shop: found.closedAt === null ? null : await closingOf(db, found.id),
      }
    },
  }
}

/** The entry of the shop's chain that closed a card. */
const closingOf = async (db: Database, job: string): Promise<{ no: number; hash: string } | null> =>
  (
    await db.select<{ no: number; hash: string }>(
      `SELECT no::int AS no, encode(hash, 'hex') AS hash FROM shop_entries WHERE body->>'job' = $job AND body->>'kind' = 'closed'`,
      { job },
    )
  )[0] ?? null
