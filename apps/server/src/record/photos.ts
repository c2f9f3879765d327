import { createHash } from 'node:crypto'
import type { Person } from '@taraf/contract'
import sharp from 'sharp'
import type { Database } from '../database/database'
import { ProblemError } from '../http/problem'

const mostSide = 1600

/** Keeps a photo with a job card: decoded whole, upright, no larger than a screen shows, and without what a camera adds. */
export const keepPhoto = async (db: Database, job: string, bytes: Buffer, by: Person): Promise<string> => {
  let data: Buffer
  try {
    data = await sharp(bytes, { failOn: 'error', limitInputPixels: 100_000_000 })
      .rotate()
      .resize({ width: mostSide, height: mostSide, fit: 'inside', withoutEnlargement: true })
      .jpeg({ quality: 82 })
      .toBuffer()
  } catch {
    throw new ProblemError('file-wrong', 'This is no picture that can be read: take it again as JPEG, PNG or WebP.')
  }
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
