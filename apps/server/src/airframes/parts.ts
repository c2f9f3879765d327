import type { AsBuilt, BuiltPart } from '@taraf/contract'
import type { Transaction } from 'sequelize'
import type { Database } from '../database/database'

/** What an airframe was built from, in the order in which it was registered. */
export const partsOf = async (db: Database, airframe: string, transaction: Transaction | null = null): Promise<BuiltPart[]> =>
  db.select<BuiltPart>(
    'SELECT part, model, serial, lot FROM airframe_parts WHERE airframe_id = $airframe ORDER BY place',
    { airframe },
    transaction,
  )

export const asBuilt = async (
  db: Database,
  { airframeId, tag, board }: { airframeId: string; tag: string; board: string },
): Promise<AsBuilt> => ({ tag, board, parts: await partsOf(db, airframeId) })

/** Puts a list of parts in place of the one before. */
export const setParts = async (
  db: Database,
  airframe: string,
  parts: readonly BuiltPart[],
  transaction: Transaction,
): Promise<void> => {
  await db.sequelize.query('DELETE FROM airframe_parts WHERE airframe_id = $airframe', { bind: { airframe }, transaction })
  await db.airframeParts.bulkCreate(
    parts.map((part, place) => ({ airframeId: airframe, place, ...part })),
    { transaction, returning: false },
  )
}
