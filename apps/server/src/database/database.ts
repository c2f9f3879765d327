import type { Duplex } from 'node:stream'
import { QueryTypes, Sequelize, type Transaction } from 'sequelize'
import { defineAirframes } from './models/airframes'
import { defineJobs } from './models/jobs'
import { defineBenches } from './models/benches'
import { definePeople } from './models/people'

/**
 * The database: its tables as models, and plain queries where a set is wanted.
 *
 * @param wire makes the stream of a connection, where it is not TCP
 */
export const openDatabase = (url: string, wire?: () => Duplex) => {
  const sequelize = new Sequelize(url, {
    dialect: 'postgres',
    logging: false,
    // A new connection is a new process at the database, over which a busy machine may take longer than a lease lasts: they are kept for a while.
    pool: { max: 12, idle: 300_000, acquire: 4_000 },
    dialectOptions: { connectionTimeoutMillis: 2_000, stream: wire },
    define: { timestamps: false, underscored: true },
  })
  return {
    sequelize,
    ...definePeople(sequelize),
    ...defineAirframes(sequelize),
    ...defineJobs(sequelize),
    ...defineBenches(sequelize),
    /** The rows of a query with `$name` binds. */
    select: <Row extends object>(sql: string, bind: Record<string, unknown> = {}, transaction: Transaction | null = null) =>
      sequelize.query<Row>(sql, { type: QueryTypes.SELECT, bind, transaction }),
    within: <T>(work: (transaction: Transaction) => Promise<T>): Promise<T> => sequelize.transaction(work),
    close: () => sequelize.close(),
  }
}
export type Database = ReturnType<typeof openDatabase>

const awayCodes = new Set(['ECONNREFUSED', 'ECONNRESET', 'EPIPE', '57P01', '57P02', '57P03', '08006', '08003', '08001'])

/** Whether an error says that the database cannot be reached now, by whichever of the libraries it came. */
export const isDatabaseAway = (error: unknown): boolean => {
  if (!(error instanceof Error)) return false
  if (/^SequelizeConnection/.test(error.name)) return true
  const code = 'code' in error ? String(error.code) : ''
  if (awayCodes.has(code) || /Connection terminated|timeout exceeded when trying to connect|is not queryable/.test(error.message))
    return true
  return ('parent' in error && isDatabaseAway(error.parent)) || isDatabaseAway(error.cause)
}

/** Whether an error says that a unique index forbids the row. */
export const isDuplicate = (error: unknown): boolean => error instanceof Error && error.name === 'SequelizeUniqueConstraintError'
