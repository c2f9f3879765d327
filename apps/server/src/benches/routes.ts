import { holdRequest } from '@taraf/contract'
import { Router } from 'express'
import { z } from 'zod'
import type { Database } from '../database/database'
import { allow, personOf } from '../http/guard'
import type { Once } from '../http/once'
import { ProblemError } from '@taraf/contract'
import type { Links } from '../links/links'
import type { Benches } from './benches'

export const benchRoutes = (db: Database, once: Once, benches: Benches, links: Links): Router => {
  const router = Router()
  const bench = (params: Record<string, unknown>) => z.uuid('is no bench').parse(params.bench)
  router.get('/', async (_request, response) => void response.json(await benches.list()))
  router.post(
    '/:bench/hold',
    allow('technician', 'lead'),
    once(async (request) => {
      const { job } = holdRequest.parse(request.body)
      const row = await db.jobs.findByPk(job)
      if (row === null) throw new ProblemError('not-found', 'There is no such job card.')
      if (row.get('closedAt') !== null) throw new ProblemError('job-closed', 'This job card is handed over; it needs no bench.')
      return { body: await benches.hold(bench(request.params), job, personOf(request)) }
    }),
  )
  router.delete(
    '/:bench/hold',
    allow('technician', 'lead'),
    once(async (request) => {
      await benches.release(bench(request.params), personOf(request))
      return { body: null }
    }),
  )
  // Whoever sees danger may end it: no role is asked, and no key.
  router.post('/:bench/stop', async (request, response) => {
    await links.stopAll(bench(request.params))
    response.json(null)
  })
  return router
}
