import type { Transaction } from 'sequelize'
import type { Database } from '../database/database'

/** The airframe of a tag, whatever its case, or null. */
export const findByTag = async (
  db: Database,
  tag: string,
  transaction: Transaction | null = null,
): Promise<{ id: string; tag: string; sheetId: string; board: string } | null> =>
  (
    await db.select<{ id: string; tag: string; sheetId: string; board: string }>(
      'SELECT id, tag, sheet_id AS "sheetId", board FROM airframes WHERE lower(tag) = lower($tag)',
      { tag },
      transaction,
    )
  )[0] ?? null
