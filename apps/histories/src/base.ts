import { mkdtempSync, rmSync } from 'node:fs'
import { randomUUID } from 'node:crypto'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { checks } from '@taraf/core'
import { sheetOf } from '@taraf/demo'
import { addAirframes } from '@taraf/server/airframes/register'
import { configFrom, type Config } from '@taraf/server/config'
import { openDatabase, type Database } from '@taraf/server/database/database'
import { migrate } from '@taraf/server/database/migrations/index'
import { addPerson } from '@taraf/server/people/people'
import { auditRecord } from '@taraf/server/record/audit/audit'
import { openKeys, wantKey } from '@taraf/server/record/keys'
import { shopOf } from '@taraf/server/record/shop'
import { addSheet } from '@taraf/server/sheets/sheets'
import type { Sheet } from '@taraf/contract'
import pg from 'pg'
import { Postgres } from './postgres'
import { plainPasswords } from './serverPart'

/** When each history begins. */
export const begins = new Date('2026-03-02T08:00:00.000Z')

/** Who works in the shop, and what they sign in with. */
export const people = [
  { login: 'ines', role: 'technician', password: 'saltmarsh' },
  { login: 'joren', role: 'technician', password: 'dunegrass' },
  { login: 'maud', role: 'lead', password: 'springtide' },
] as const

/** What is taken in a history: steps that are still, that are moved, that write, in which motors turn, and in which it is armed. */
export const taken = [
  'sensors.gyroRest',
  'orientation.level',
  'motors.order',
  'motors.start',
  'arming.arms',
  'arming.idle',
  'failsafe.motorCut',
] as const

/** The sheet of both airframes: all else is left out. */
export const sheet: Sheet = {
  ...sheetOf('N4'),
  leavesOut: Object.fromEntries(
    checks.flatMap(({ id }) => (taken.some((one) => one === id) ? [] : [[id, 'no part of these histories']])),
  ),
}

/** Two airframes, each on its bench. */
export const benches = ['north', 'south'] as const

/** The urls of a cluster, by role. */
export interface Urls {
  readonly superuser: string
  readonly owner: string
  readonly server: string
}

/** A database that every history begins with alike, and what belongs to it. */
export class ShopBase {
  private constructor(
    /** The id of each bench, in their order. */
    readonly benchIds: readonly string[],
    readonly config: (name: string) => Config,
    readonly postgres: Postgres,
    private readonly admin: pg.Client,
    private readonly restore: string,
    private readonly owner: Database,
    private readonly keysFolder: string,
  ) {}

  static async make(urls: Urls, name: string): Promise<ShopBase> {
    const at = (url: string) => url.replace(/\/[^/]*$/, `/${name}`)
    const superuser = new pg.Client({ connectionString: urls.superuser })
    await superuser.connect()
    // What this cluster holds is thrown away: nothing of it has to outlive a loss of power.
    for (const setting of ['fsync', 'full_page_writes', 'autovacuum', 'jit'])
      await superuser.query(`ALTER SYSTEM SET ${setting} = off`)
    await superuser.query('SELECT pg_reload_conf()')
    await superuser.query(`DROP DATABASE IF EXISTS ${name}`)
    await superuser.query(`CREATE DATABASE ${name} OWNER taraf_owner`)
    // What is called now() is the time of the shop.
    await superuser.query(`ALTER DATABASE ${name} SET search_path = public, simulated, pg_catalog`)
    await superuser.query(`ALTER DATABASE ${name} SET taraf.now = '${begins.toISOString()}'`)
    await superuser.query(`ALTER DATABASE ${name} SET synchronous_commit = off`)
    await superuser.end()
    const admin = new pg.Client({ connectionString: at(urls.superuser) })
    await admin.connect()
    await admin.query('CREATE SCHEMA simulated; GRANT USAGE ON SCHEMA simulated TO public')
    await admin.query(
      `CREATE FUNCTION simulated.now() RETURNS timestamptz LANGUAGE sql STABLE AS $$ SELECT current_setting('taraf.now')::timestamptz $$`,
    )
    const keysFolder = mkdtempSync(join(tmpdir(), 'taraf-histories-'))
    wantKey(keysFolder, begins)
    const benchIds = await furnish(at(urls.owner), keysFolder)
    const restore = await keep(admin)
    const config = (server: string) =>
      configFrom({
        TARAF_DATABASE_URL: at(urls.server),
        TARAF_SESSION_SECRET: 'a secret of histories only',
        TARAF_KEYS: keysFolder,
        TARAF_RIG_URL: 'ws://rig',
        TARAF_PEER_ADDRESS: `ws://${server}`,
      })
    const postgres = await Postgres.open(at(urls.server), at(urls.superuser))
    return new ShopBase(benchIds, config, postgres, admin, restore, openDatabase(at(urls.owner)), keysFolder)
  }

  /** Everything as it was before the history. */
  async reset(): Promise<void> {
    await this.postgres.clear()
    await this.admin.query(this.restore)
  }

  /** The rows of a query over the whole record. */
  async look<Row extends object>(sql: string): Promise<Row[]> {
    return (await this.admin.query<Row>(sql)).rows
  }

  async audit(): Promise<readonly string[]> {
    return (await auditRecord(this.owner, openKeys(this.keysFolder))).differences
  }

  async close(): Promise<void> {
    await this.postgres.close()
    await this.admin.end()
    await this.owner.close()
    rmSync(this.keysFolder, { recursive: true, force: true })
  }
}

/** People, a sheet that wants what is taken here, two airframes and their benches. */
const furnish = async (ownerUrl: string, keysFolder: string): Promise<readonly string[]> => {
  const db = openDatabase(ownerUrl)
  await migrate(db.sequelize)
  const clock = { date: () => begins }
  const shop = shopOf(db, openKeys(keysFolder), clock)
  for (const person of people)
    await db.within((transaction) => addPerson(db, shop, plainPasswords, transaction, { ...person, name: person.login }))
  const sheetId = await db.within((transaction) => addSheet(db, shop, transaction, sheet, null))
  const ids = benches.map(() => randomUUID())
  for (const [i, bench] of benches.entries()) {
    const airframe = { tag: `T-${i + 1}`, sheetId, board: `TB-${i + 1}`, parts: [] }
    await db.within((transaction) => addAirframes(db, shop, transaction, null, [airframe]))
    const nobody = { heldBy: null, heldJob: null, heldSince: null, serverId: null, leaseUntil: null }
    await db.benches.create({ id: ids[i] as string, name: bench, address: `rig:${bench}`, ...nobody })
  }
  await db.close()
  return ids
}

/** Keeps a copy of every table; returns what puts it back. */
const keep = async (admin: pg.Client): Promise<string> => {
  const { rows: tables } = await admin.query<{ name: string; columns: string }>(
    `SELECT t.table_name AS name, string_agg(quote_ident(c.column_name), ', ') AS columns
     FROM information_schema.tables t JOIN information_schema.columns c USING (table_schema, table_name)
     WHERE t.table_schema = 'public' AND t.table_type = 'BASE TABLE' AND c.is_generated = 'NEVER' AND t.table_name <> 'migrations'
     GROUP BY t.table_name ORDER BY t.table_name`,
  )
  await admin.query('CREATE SCHEMA kept')
  for (const { name, columns } of tables) await admin.query(`CREATE TABLE kept.${name} AS SELECT ${columns} FROM public.${name}`)
  // Triggers that keep a record from being changed stand aside for the superuser who goes back to its begin.
  return [
    'BEGIN; SET LOCAL session_replication_role = replica',
    `TRUNCATE ${tables.map(({ name }) => `public.${name}`).join(', ')}`,
    ...tables.map(({ name, columns }) => `INSERT INTO public.${name} (${columns}) SELECT ${columns} FROM kept.${name}`),
    'COMMIT',
  ].join('; ')
}
