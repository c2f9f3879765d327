import type { Sheet } from '@taraf/contract'
import type { Database } from '../database/database'
import { personBody, sheetHash, type Shop } from './shop'

/**
 * Puts on the shop's chain what was there before it: people, sheets, airframes and job cards as they are found. From then on nothing of it
 * changes without a trace. Does nothing where the chain has begun.
 */
export const adopt = (db: Database, shop: Shop): Promise<void> =>
  db.within(async (transaction) => {
    if ((await db.shopEntries.count({ transaction })) > 0) return
    for (const row of await db.people.findAll({ order: ['login'], transaction })) {
      const person = row.get({ plain: true })
      await shop.append(transaction, null, personBody(person, person.passwordHash, person.withdrawnAt !== null))
    }
    for (const row of await db.sheets.findAll({ order: ['type', 'version'], transaction })) {
      const { id, type, version, body } = row.get({ plain: true })
      await shop.append(transaction, null, { kind: 'sheet', id, type, version, sha256: sheetHash(body as Sheet) })
    }
    const airframes = (await db.airframes.findAll({ order: ['tag'], transaction })).map((row) => row.get({ plain: true }))
    for (let i = 0; i < airframes.length; i += 5_000)
      await shop.append(transaction, null, {
        kind: 'airframes',
        airframes: airframes.slice(i, i + 5_000).map(({ id, tag, board, sheetId }) => ({ id, tag, board, sheet: sheetId })),
      })
    const byId = new Map(airframes.map((a) => [a.id, a]))
    for (const row of await db.jobs.findAll({ order: ['openedAt', 'id'], transaction })) {
      const { id: job, airframeId, sheetId, number, openedBy, openedAt, length, closedAt, overall } = row.get({ plain: true })
      const { tag = '', board = '' } = byId.get(airframeId) ?? {}
      const at = openedAt.toISOString()
      await shop.append(transaction, null, {
        kind: 'opened',
        ...{ job, number, airframe: airframeId, tag, board, sheet: sheetId, openedBy, openedAt: at },
      })
      const last = await db.jobEntries.findOne({ where: { jobId: job }, order: [['seq', 'DESC']], transaction })
      const head = last === null ? null : (last.get('hash') as Buffer).toString('hex')
      await shop.append(transaction, null, { kind: 'adopted', job, length, head })
      if (closedAt !== null && head !== null) await shop.append(transaction, null, { kind: 'closed', job, length, head, overall })
    }
  })
