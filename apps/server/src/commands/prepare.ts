import { parseArgs } from 'node:util'
import { Sequelize } from 'sequelize'
import { z } from 'zod'
import { machineClock } from '../clock'
import { openDatabase } from '../database/database'
import { loadDemo } from '../demo/load'
import { migrate } from '../database/migrations'
import { adopt } from '../record/adopt'
import { renewListings } from '../record/renewListings'
import { knowsKey, openKeys, wantKey } from '../record/keys'
import { shopOf } from '../record/shop'

/**
 * Makes the two roles, the database and the key of the record where they are missing, migrates, and with `--demo` loads the demo into an empty
 * one. The server's role owns nothing: it gets what the migrations grant.
 */
// Whoever started it is gone, or does not want it any more.
process.on('disconnect', () => process.exit(1))

const env = z
  .object({
    TARAF_SUPERUSER_URL: z.url(),
    TARAF_OWNER_URL: z.url(),
    TARAF_KEYS: z.string().min(1),
    TARAF_KEYS_LOST: z.stringbool().default(false),
    TARAF_PASSWORDS: z.string().transform((text) => z.object({ owner: z.string(), server: z.string() }).parse(JSON.parse(text))),
  })
  .parse(process.env)
const { values } = parseArgs({ options: { demo: { type: 'boolean' } } })

const superuser = new Sequelize(env.TARAF_SUPERUSER_URL, { dialect: 'postgres', logging: false })
for (const [role, password] of [
  ['taraf_owner', env.TARAF_PASSWORDS.owner],
  ['taraf_server', env.TARAF_PASSWORDS.server],
] as const) {
  const [found] = await superuser.query(`SELECT 1 FROM pg_roles WHERE rolname = '${role}'`)
  if (found.length === 0) await superuser.query(`CREATE ROLE ${role} LOGIN PASSWORD ${superuser.escape(password)}`)
}
const [databases] = await superuser.query(`SELECT 1 FROM pg_database WHERE datname = 'taraf'`)
if (databases.length === 0) await superuser.query('CREATE DATABASE taraf OWNER taraf_owner')
await superuser.close()

const db = openDatabase(env.TARAF_OWNER_URL)
await migrate(db.sequelize)
const used = await db.select<{ id: string }>('SELECT DISTINCT key_id AS id FROM shop_entries')
const missing = used.filter(({ id }) => !knowsKey(env.TARAF_KEYS, id))
if (missing.length > 0 && !env.TARAF_KEYS_LOST) {
  console.error(
    `The record was sealed with a key that is not in ${env.TARAF_KEYS}/public: ${missing.map((m) => m.id).join(', ')}. Nothing was changed.
Put that folder back from a backup. Where there is none, start once with TARAF_KEYS_LOST=1: what was sealed until now can then no longer be proved.`,
  )
  process.exit(1)
}
wantKey(env.TARAF_KEYS, machineClock.date())
if (values.demo) await loadDemo(db, env.TARAF_OWNER_URL, env.TARAF_KEYS)
await renewListings(db)
await adopt(db, shopOf(db, openKeys(env.TARAF_KEYS), machineClock))
await db.close()
process.exit(0)
