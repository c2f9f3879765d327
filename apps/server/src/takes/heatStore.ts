import type { HeatStore } from '@taraf/takes'
import type { Database } from '../database/database'

/** How long motors have turned without cooling, in the database: by its clock they cool, whichever server asks, and after whatever restart. */
export const heatStoreOf = (db: Database): HeatStore => ({
  async read(board) {
    const [row] = await db.select<{ warmS: number }>(
      `SELECT greatest(0, warm_s - extract(epoch FROM now() - at))::float8 AS "warmS" FROM motor_heat WHERE board = $board`,
      { board },
    )
    return row?.warmS ?? 0
  },
  async keep(board, warmS) {
    await db.sequelize.query(
      `INSERT INTO motor_heat (board, warm_s) VALUES ($board, $warmS)
       ON CONFLICT (board) DO UPDATE SET warm_s = excluded.warm_s, at = now()`,
      { bind: { board, warmS } },
    )
  },
})
