import { createHash } from 'node:crypto'
import type { Person } from '@taraf/contract'
import type { Database } from '../database/database'
import { ProblemError } from '@taraf/contract'
import type { FileWork } from '../work/work'

/** Keeps a photo with a job card. */
export const keepPhoto = async (db: Database, files: FileWork, job: string, bytes: Buffer, by: Person): Promise<string> => {
  const data = Buffer.from(await files.picture(bytes))
  const sha = createHash('sha256').update(data).digest()
  await db.sequelize.query(
    'INSERT INTO photos (job_id, sha256, data, by) VALUES ($job, $sha, $data, $by) ON CONFLICT (job_id, sha256) DO NOTHING',
    { bind: { job, sha, data, by: by.id } },
  )
  return sha.toString('hex')
}

export const readPhoto = async (db: Database, job: string, sha256: string): Promise<Buffer> => {
  const [row] = await db.select<{ data: Buffer }>('SELECT data FROM photos WHERE job_id = $job AND sha256 = $sha', {
    job,
    sha: Buffer.from(sha256, 'hex'),
  })
  if (row === undefined) throw new ProblemError('not-found', 'There is no such photo on this job card.')
  return row.data
}
