import { createHash } from 'node:crypto'
import type { FlashMap, ImageView, Person } from '@taraf/contract'
import type { Database } from '../database/database'
import { ProblemError } from '@taraf/contract'
import type { FileWork } from '../work/work'

export interface KeptImage extends ImageView {
  readonly data: Buffer
}
type Row = Omit<KeptImage, 'sha256' | 'at'> & { sha256: Buffer; at: Date }

const view = `i.sha256, i.file, i.target, i.name, i.version, i.features, length(i.data) AS bytes, i.at, p.name AS by`

const viewOf = ({ sha256, at, ...rest }: Omit<Row, 'data'>): ImageView => ({
  ...rest,
  sha256: sha256.toString('hex'),
  at: at.toISOString(),
})

export const listImages = async (db: Database): Promise<ImageView[]> =>
  (
    await db.select<Omit<Row, 'data'>>(
      `SELECT ${view} FROM images i JOIN people p ON p.id = i.by ORDER BY i.name, i.version DESC`,
    )
  ).map(viewOf)

export const readImage = async (db: Database, sha256: string): Promise<KeptImage> => {
  const [row] = await db.select<Row>(`SELECT ${view}, i.data FROM images i JOIN people p ON p.id = i.by WHERE i.sha256 = $sha`, {
    sha: Buffer.from(sha256, 'hex'),
  })
  if (row === undefined) throw new ProblemError('not-found', 'The shop keeps no such image.')
  const { data, ...rest } = row
  return { ...viewOf(rest), data }
}

/** Where images are in the flash of each target that a build sheet is for, by the newest sheet that says it. */
const flashOfTargets = (db: Database): Promise<{ target: string; flash: FlashMap }[]> =>
  db.select(
    `SELECT DISTINCT ON (body->'board'->>'target') body->'board'->>'target' AS target, body->'board'->'flash' AS flash
     FROM sheets WHERE body->'board'->'flash' IS NOT NULL ORDER BY body->'board'->>'target', made_at DESC`,
  )

/** Keeps the image of an Intel HEX file: every record is proved, and it must be whole for a target of the shop's sheets. */
export const keepImage = async (db: Database, files: FileWork, file: string, bytes: Buffer, by: Person): Promise<ImageView> => {
  const known = await flashOfTargets(db)
  if (known.length === 0)
    throw new ProblemError(
      'file-wrong',
      `${file}: no build sheet says where images are in the flash of its board: add that to the board of a sheet first.`,
    )
  const { data, identity } = await files.image(file, bytes, known)
  const sha256 = createHash('sha256').update(data).digest()
  await db.sequelize.query(
    `INSERT INTO images (sha256, file, target, name, version, features, data, by)
     VALUES ($sha, $file, $target, $name, $version, $features::jsonb, $data, $by) ON CONFLICT (sha256) DO NOTHING`,
    {
      bind: {
        sha: sha256,
        file,
        target: identity.target,
        name: identity.name,
        version: identity.version,
        features: JSON.stringify(identity.features),
        data: Buffer.from(data),
        by: by.id,
      },
    },
  )
  const { data: _, ...kept } = await readImage(db, sha256.toString('hex'))
  return kept
}
