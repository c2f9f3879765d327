import { z } from 'zod'
import { openDatabase } from '../database/database'
import { auditRecord } from '../record/audit'

/** Recomputes the whole record and names what differs. Exit 1 where anything does. */
const env = z.object({ TARAF_DATABASE_URL: z.url('the database does not run; start it with: npm start') }).safeParse(process.env)
if (!env.success) {
  console.error('The database does not run.\nWhat to do: start it with: npm start, or set TARAF_DATABASE_URL')
  process.exit(1)
}
const db = openDatabase(env.data.TARAF_DATABASE_URL)
const { jobs, entries, differences } = await auditRecord(db)
await db.close()
for (const difference of differences) console.log(difference)
console.log(
  `${jobs} job cards, ${entries} entries: ${differences.length === 0 ? 'all whole' : `${differences.length} differences`}`,
)
process.exitCode = differences.length === 0 ? 0 : 1
