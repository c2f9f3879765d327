import { Router } from 'express'
import { z } from 'zod'
import type { Database } from '../database/database'
import { allow, personOf } from '../http/guard'
import { once } from '../http/once'
import { listSheets, makeSheet, viewSheet } from './sheets'

const sheetParams = z.object({ type: z.string().min(1), version: z.coerce.number().int().min(1) })

export const sheetRoutes = (db: Database): Router => {
  const router = Router()
  router.get('/', async (_request, response) => void response.json(await listSheets(db)))
  router.get('/:type/:version', async (request, response) => {
    const { type, version } = sheetParams.parse(request.params)
    response.json(await viewSheet(db, type, version))
  })
  router.post(
    '/',
    allow('lead'),
    once(db, async (request) => ({ status: 201, body: await makeSheet(db, request.body, personOf(request)) })),
  )
  return router
}
