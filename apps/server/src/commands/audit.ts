import { existsSync } from 'node:fs'
import { z } from 'zod'
import { openDatabase } from '../database/database'
import { auditRecord } from '../record/audit/audit'
import { openPublicKeys } from '../record/keys'

/** Proves the whole record and names what differs. Exit 1 where anything does. */
const stop = (why: string, todo: string): never => {
  console.error(`${why}\nWhat to do: ${todo}`)
  process.exit(1)
}
const env = z.object({ TARAF_DATABASE_URL: z.url(), TARAF_KEYS: z.string().min(1) }).safeParse(process.env)
if (!env.success) stop('The database does not run.', 'start it with: npm start, or set TARAF_DATABASE_URL and TARAF_KEYS')
else {
  const { TARAF_DATABASE_URL: url, TARAF_KEYS: folder } = env.data
  if (!existsSync(`${folder}/public`))
    stop(`There are no public keys in ${folder}.`, 'set TARAF_KEYS to the folder of the keys of this record')
  const db = openDatabase(url)
  const { jobs, entries, judgedEarlier, differences } = await auditRecord(db, openPublicKeys(folder))
  await db.close()
  for (const difference of differences) console.log(difference)
  if (judgedEarlier > 0)
    console.log(`${judgedEarlier} takes were judged by an earlier version of their check: sealed, and not judged again`)
  console.log(
    `${jobs} job cards, ${entries} entries: ${differences.length === 0 ? 'all whole' : `${differences.length} differences`}`,
  )
  process.exitCode = differences.length === 0 ? 0 : 1
}
