import { randomUUID } from 'node:crypto'
import type { BuiltPart, NewAirframe, Person } from '@taraf/contract'
import type { Transaction } from 'sequelize'
import { isDuplicate, type Database } from '../database/database'
import { ProblemError } from '@taraf/contract'
import type { Shop } from '../record/shop'
import type { FileWork } from '../work/work'
import { namedBy, wrongWith, type Known, type Named } from '../files/airframesCsv'

const known = async (db: Database, { tags, boards, serials }: Named): Promise<Known> => {
  const sheets = await db.select<{ id: string; type: string; version: number; parts: { part: string; model: string }[] | null }>(
    `SELECT id, type, version, body->'parts' AS parts FROM sheets ORDER BY type, version`,
  )
  const taken = await db.select<{ tag: string; board: string }>(
    'SELECT tag, board FROM airframes WHERE lower(tag) IN (SELECT lower(t) FROM unnest($tags::text[]) t) OR board = ANY($boards::text[])',
    { tags, boards },
  )
  const parts = await db.select<{ serial: string }>(
    `SELECT part || '/' || model || '/' || serial AS serial FROM airframe_parts WHERE serial = ANY($serials::text[])`,
    { serials },
  )
  return {
    sheets: new Map(
      sheets.flatMap(({ id, type, version, parts: built }) => {
        const found = { id, models: new Map((built ?? []).map(({ part, model }) => [part, model])) }
        return [
          [`${type}/${version}`, found],
          [type, found],
        ]
      }),
    ),
    tags: new Set(taken.map((a) => a.tag.toUpperCase())),
    boards: new Set(taken.map((a) => a.board)),
    serials: new Set(parts.map((p) => p.serial)),
  }
}

/** Adds airframes, which are known to be whole, to the tables and to the shop's chain. */
export const addAirframes = async (
  db: Database,
  shop: Shop,
  transaction: Transaction,
  by: string | null,
  airframes: readonly { tag: string; sheetId: string; board: string; parts: readonly BuiltPart[] }[],
  { touchedAt = shop.now(), requestKey = null }: { touchedAt?: Date; requestKey?: string | null } = {},
): Promise<void> => {
  const rows = airframes.map((a) => ({ id: randomUUID(), ...a }))
  await db.airframes.bulkCreate(
    rows.map(({ id, tag, sheetId, board }) => ({ id, tag, sheetId, board, boardSettings: null, boardRuns: null, touchedAt })),
    { transaction, returning: false },
  )
  const parts = rows.flatMap(({ id, parts: built }) => built.map((part, place) => ({ airframeId: id, place, ...part })))
  if (parts.length > 0) await db.airframeParts.bulkCreate(parts, { transaction, returning: false })
  const registered = rows.map(({ id, tag, board, sheetId }) => ({ id, tag, board, sheet: sheetId }))
  await shop.append(transaction, by, { kind: 'airframes', airframes: registered }, requestKey)
}

/** Registers airframes, all or none. */
export const register = async (
  db: Database,
  shop: Shop,
  airframes: readonly NewAirframe[],
  by: Person,
  requestKey: string | null = null,
): Promise<string[]> => {
  const knows = await known(db, namedBy(airframes))
  const wrong = wrongWith(airframes, knows)
  const first = wrong.findIndex((w) => w.length > 0)
  if (first >= 0) throw new ProblemError('airframe-wrong', `${airframes[first]?.tag ?? ''}: ${wrong[first]?.join('; ') ?? ''}.`)
  const rows = airframes.map(({ tag, type, version, board, parts }) => ({
    tag,
    sheetId: knows.sheets.get(version === undefined ? type : `${type}/${version}`)?.id ?? '',
    board,
    parts,
  }))
  try {
    await db.within((transaction) => addAirframes(db, shop, transaction, by.id, rows, { requestKey }))
  } catch (error) {
    if (isDuplicate(error)) throw new ProblemError('airframe-wrong', 'Somebody registered one of these just now.')
    throw error
  }
  return airframes.map((a) => a.tag)
}

/** A file of airframes as it would be taken, with what is wrong with each row, as the text of an answer. Takes nothing. */
export const previewCsv = async (db: Database, files: FileWork, bytes: Buffer): Promise<string> =>
  files.preview(bytes, await known(db, await files.named(bytes)))

/** Takes a whole file, or nothing of it. */
export const importCsv = async (
  db: Database,
  shop: Shop,
  files: FileWork,
  bytes: Buffer,
  by: Person,
  requestKey: string,
): Promise<string[]> => {
  const { rows, wrong, airframes } = await files.register(bytes, await known(db, await files.named(bytes)))
  const first = rows.find((r) => r.wrong.length > 0)
  if (first !== undefined)
    throw new ProblemError('file-wrong', `${wrong} rows cannot be taken; line ${first.line}: ${first.wrong.join('; ')}.`)
  return register(db, shop, airframes, by, requestKey)
}
