import { Router } from 'express'
import { z } from 'zod'
import type { Database } from '../database/database'
import { allow, personOf } from '../http/guard'
import type { Once } from '../http/once'
import type { Shop } from '../record/shop'
import { listSheets, makeSheet, viewSheet } from './sheets'

const sheetParams = z.object({ type: z.string().min(1), version: z.coerce.number().int().min(1) })

export const sheetRoutes = (db: Database, once: Once, shop: Shop): Router => {
  const router = Router()
  router.get('/', async (_request, response) => void response.json(await listSheets(db)))
  router.get('/:type/:version', async (request, response) => {
    const { type, version } = sheetParams.parse(request.params)
    response.json(await viewSheet(db, type, version))
  })
  router.post(
    '/',
    allow('lead'),
    once(async (request, key) => ({ status: 201, body: await makeSheet(db, shop, request.body, personOf(request), key) })),
  )
  return router
}
