import { imageRequest } from '@taraf/contract'
import { Router } from 'express'
import { z } from 'zod'
import type { Database } from '../database/database'
import { allow, personOf } from '../http/guard'
import type { Once } from '../http/once'
import { bytesOf, fileBody } from '../http/fileBody'
import type { FileWork } from '../work/work'
import { keepImage, listImages } from './images'
import type { ImageWriting } from './writing'

const fileQuery = z.object({ file: z.string().min(1).max(120) })

export const imageRoutes = (db: Database, once: Once, files: FileWork): Router => {
  const router = Router()
  router.get('/', async (_request, response) => void response.json(await listImages(db)))
  router.post(
    '/',
    allow('technician', 'lead'),
    ...fileBody('9mb'),
    once(async (request) => ({
      status: 201,
      body: await keepImage(db, files, fileQuery.parse(request.query).file, bytesOf(request), personOf(request)),
    })),
  )
  return router
}

/** `/api/jobs/:job/image`. */
export const imageWritingRoutes = (once: Once, writing: ImageWriting): Router => {
  const router = Router({ mergeParams: true })
  router.post(
    '/image',
    allow('technician', 'lead'),
    once(async (request) => {
      const { sha256, reason } = imageRequest.parse(request.body)
      await writing.start(String(request.params.job), sha256, reason, personOf(request))
      return { status: 202, body: null }
    }),
  )
  return router
}
