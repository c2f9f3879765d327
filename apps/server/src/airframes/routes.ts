import { airframeQuery } from '@taraf/contract'
import { Router } from 'express'
import type { Database } from '../database'
import { allow, personOf } from '../http/guard'
import { once } from '../http/once'
import type { Jobs } from '../jobs/jobs'
import { listAirframes, viewAirframe } from './airframes'

export const airframeRoutes = (db: Database, jobs: Jobs): Router => {
  const router = Router()
  router.get('/', async (request, response) => void response.json(await listAirframes(db, airframeQuery.parse(request.query))))
  router.get('/:tag', async (request, response) => void response.json(await viewAirframe(db, request.params.tag)))
  router.post(
    '/:tag/jobs',
    allow('technician', 'lead'),
    once(db, async (request) => ({ status: 201, body: { id: await jobs.open(String(request.params.tag), personOf(request)) } })),
  )
  return router
}
