import sharp from 'sharp'
import { ProblemError } from '@taraf/contract'

const mostSide = 1600
/** Somewhat more than the cameras of phones have. */
const mostPixels = 64_000_000

// Only what a camera makes is decoded: a drawing or a document can ask for any amount of work.
sharp.block({ operation: ['VipsForeignLoad'] })
sharp.unblock({
  operation: ['VipsForeignLoadJpegBuffer', 'VipsForeignLoadPngBuffer', 'VipsForeignLoadWebpBuffer', 'VipsForeignLoadHeifBuffer'],
})
sharp.cache(false)
sharp.concurrency(1)

/** A photo as it is kept: decoded whole, upright, no larger than a screen shows, and without what a camera adds. */
export const shrinkPicture = async (bytes: Buffer): Promise<Buffer> => {
  try {
    const picture = sharp(bytes, { failOn: 'error', limitInputPixels: mostPixels, pages: 1 })
    return await picture
      .rotate()
      .resize({ width: mostSide, height: mostSide, fit: 'inside', withoutEnlargement: true })
      .jpeg({ quality: 82 })
      .toBuffer()
  } catch (error) {
    if (error instanceof Error && error.message.includes('pixel limit'))
      throw new ProblemError('file-wrong', `The picture has more than ${mostPixels / 1e6} million pixels: take it smaller.`)
    throw new ProblemError('file-wrong', 'This is no picture that can be read: take it again as JPEG, PNG or WebP.')
  }
}
