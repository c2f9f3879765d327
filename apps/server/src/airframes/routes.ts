import { airframeQuery, partsRequest, registerRequest } from '@taraf/contract'
import { Router } from 'express'
import { z } from 'zod'
import type { Database } from '../database/database'
import { allow, personOf } from '../http/guard'
import type { Once } from '../http/once'
import { bytesOf, fileBody } from '../http/fileBody'
import type { Cards } from '../record/cards'
import type { Shop } from '../record/shop'
import { giveSheet } from '../sheets/sheets'
import type { FileWork } from '../work/work'
import { listAirframes, viewAirframe } from './airframes'
import { changeParts } from './changeParts'
import { importCsv, previewCsv, register } from './register'

const sheetRequest = z.strictObject({ type: z.string().min(1), version: z.int().min(1) })
const mostCsv = '4mb'

export const airframeRoutes = (db: Database, once: Once, cards: Cards, shop: Shop, files: FileWork): Router => {
  const router = Router()
  router.get('/', async (request, response) => void response.json(await listAirframes(db, airframeQuery.parse(request.query))))
  router.post(
    '/',
    allow('technician', 'lead'),
    once(async (request, key) => ({
      status: 201,
      body: { tags: await register(db, shop, registerRequest.parse(request.body).airframes, personOf(request), key) },
    })),
  )
  // A preview changes nothing, and its file may come again and again: no key is asked.
  router.post('/preview', allow('technician', 'lead'), ...fileBody(mostCsv), async (request, response) => {
    response.type('json').send(await previewCsv(db, files, bytesOf(request)))
  })
  router.post(
    '/import',
    allow('technician', 'lead'),
    ...fileBody(mostCsv),
    once(async (request, key) => ({
      status: 201,
      body: { tags: await importCsv(db, shop, files, bytesOf(request), personOf(request), key) },
    })),
  )
  router.post(
    '/:tag/sheet',
    allow('lead'),
    once(async (request) => {
      const { type, version } = sheetRequest.parse(request.body)
      await giveSheet(db, shop, String(request.params.tag), type, version, personOf(request))
      return { body: null }
    }),
  )
  router.post(
    '/:tag/parts',
    allow('technician', 'lead'),
    once(async (request, key) => {
      const { parts, cause } = partsRequest.parse(request.body)
      await changeParts(db, cards, String(request.params.tag), parts, cause, personOf(request), key)
      return { body: null }
    }),
  )
  router.get('/:tag', async (request, response) => void response.json(await viewAirframe(db, request.params.tag)))
  return router
}
