import { randomUUID } from 'node:crypto'
import {
  sheet as sheetSchema,
  sheetVariant,
  type BoardSetting,
  type Person,
  type Sheet,
  type SheetRow,
  type SheetView,
} from '@taraf/contract'
import { contradictionsIn } from '@taraf/core/contradictions'
import { firstIssue } from '@taraf/contract/firstIssue'
import { resolveVariant } from '@taraf/core/compareSheets'
import type { Transaction } from 'sequelize'
import { findByTag } from '../record/findByTag'
import { isDuplicate, type Database } from '../database/database'
import { ProblemError } from '@taraf/contract'
import { sheetHash, type Shop } from '../record/shop'

const used = 'EXISTS (SELECT 1 FROM jobs WHERE jobs.sheet_id = s.id)'

/** The newest version of every sheet. */
export const listSheets = async (db: Database): Promise<SheetRow[]> => {
  const rows = await db.select<Omit<SheetRow, 'madeAt' | 'airframes'> & { madeAt: Date; airframes: string }>(
    `WITH built AS (
       SELECT v.type, sum(a.count) AS airframes
       FROM (SELECT sheet_id, count(*) FROM airframes GROUP BY sheet_id) a JOIN sheets v ON v.id = a.sheet_id GROUP BY v.type
     )
     SELECT DISTINCT ON (s.type) s.type, s.version, s.body->>'title' AS title, s.body->'variantOf'->>'type' AS "variantOf", ${used} AS used,
       coalesce(built.airframes, 0) AS airframes,
       s.made_at AS "madeAt", p.name AS "madeBy", s.body->>'why' AS why
     FROM sheets s LEFT JOIN people p ON p.id = s.made_by LEFT JOIN built ON built.type = s.type ORDER BY s.type, s.version DESC`,
  )
  return rows.map((row) => ({ ...row, airframes: Number(row.airframes), madeAt: row.madeAt.toISOString() }))
}

export const viewSheet = async (db: Database, type: string, version: number): Promise<SheetView> => {
  const [found] = await db.select<{ sheet: Sheet; used: boolean; versions: number[] }>(
    `SELECT s.body AS sheet, ${used} AS used, (SELECT json_agg(v.version ORDER BY v.version DESC) FROM sheets v WHERE v.type = s.type) AS versions
     FROM sheets s WHERE s.type = $type AND s.version = $version`,
    { type, version },
  )
  if (found === undefined) throw new ProblemError('not-found', `There is no build sheet ${type} version ${version}.`)
  return found
}

const newestOf = async (db: Database, type: string): Promise<Sheet | null> =>
  (await db.select<{ body: Sheet }>('SELECT body FROM sheets WHERE type = $type ORDER BY version DESC LIMIT 1', { type }))[0]
    ?.body ?? null

/** Adds a sheet that is known to be whole. Returns its id. */
export const addSheet = async (
  db: Database,
  shop: Shop,
  transaction: Transaction,
  body: Sheet,
  by: string | null,
  requestKey: string | null = null,
): Promise<string> => {
  const { type, version } = body
  const id = randomUUID()
  await db.sheets.create({ id, type, version, body, madeBy: by, madeAt: shop.now() }, { transaction })
  await shop.append(transaction, by, { kind: 'sheet', id, type, version, sha256: sheetHash(body) }, requestKey)
  return id
}

/**
 * Makes the next version of a sheet, or the first of a new type. A variant is written as what differs from its parent. Refuses one
 * that is malformed or contradicts itself, with the place.
 */
export const makeSheet = async (
  db: Database,
  shop: Shop,
  written: unknown,
  by: Person,
  requestKey: string,
): Promise<{ type: string; version: number }> => {
  const wrong = (why: string) => new ProblemError('sheet-wrong', why)
  const whole = sheetSchema.safeParse(written)
  let sheet: Sheet
  if (whole.success) sheet = whole.data
  else {
    const variant = sheetVariant.safeParse(written)
    if (!variant.success) throw wrong(firstIssue(whole.error))
    const { type, version } = variant.data.variantOf
    sheet = resolveVariant((await viewSheet(db, type, version)).sheet, variant.data)
    if (sheet.type === type) throw wrong(`type: a variant of ${type} needs its own type`)
  }
  const newest = await newestOf(db, sheet.type)
  const version = (newest?.version ?? 0) + 1
  if (newest !== null && (sheet.why ?? '').trim().length < 3) throw wrong('why: say why this version is made')
  sheet = { ...sheet, version }
  const found = contradictionsIn(sheet, await knownSettings(db, sheet.board?.target))
  if (found.length > 0)
    throw wrong(
      found
        .slice(0, 6)
        .map(({ place, why }) => `${place}: ${why}`)
        .join('\n'),
    )
  try {
    await db.within((transaction) => addSheet(db, shop, transaction, sheet, by.id, requestKey))
  } catch (error) {
    if (isDuplicate(error)) throw wrong(`version: somebody made version ${version} just now; look at it and send yours again`)
    throw error
  }
  return { type: sheet.type, version }
}

/** What boards of a target said last that their settings are, or null where none was ever seen. */
const knownSettings = async (db: Database, target: string | undefined): Promise<BoardSetting[] | null> =>
  target === undefined
    ? null
    : ((
        await db.select<{ settings: BoardSetting[] }>(
          'SELECT settings FROM board_settings WHERE target = $target ORDER BY at DESC LIMIT 1',
          { target },
        )
      )[0]?.settings ?? null)

/** Gives an airframe another version of a sheet. One whose job card is open keeps its own until it is handed over. */
export const giveSheet = async (
  db: Database,
  shop: Shop,
  tag: string,
  type: string,
  version: number,
  by: Person,
): Promise<void> => {
  const [sheet] = await db.select<{ id: string }>('SELECT id FROM sheets WHERE type = $type AND version = $version', {
    type,
    version,
  })
  if (sheet === undefined) throw new ProblemError('not-found', `There is no build sheet ${type} version ${version}.`)
  await db.within(async (transaction) => {
    const airframe = await findByTag(db, tag, transaction)
    if (airframe === null) throw new ProblemError('not-found', `No airframe has the tag ${tag}.`)
    const { id, board, tag: ownTag } = airframe
    const [open] = await db.select('SELECT 1 FROM jobs WHERE airframe_id = $id AND closed_at IS NULL', { id }, transaction)
    if (open !== undefined)
      throw new ProblemError('job-open', `${ownTag} is worked on to another version; hand its job card over first.`)
    await db.airframes.update({ sheetId: sheet.id }, { where: { id }, transaction })
    await shop.append(transaction, by.id, { kind: 'airframes', airframes: [{ id, tag: ownTag, board, sheet: sheet.id }] })
  })
}
