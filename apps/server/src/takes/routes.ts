import { remedyRequest, takeRequest } from '@taraf/contract'
import { Router } from 'express'
import { z } from 'zod'
import type { Database } from '../database'
import { allow, personOf } from '../http/guard'
import { once } from '../http/once'
import { ProblemError } from '../http/problem'
import { plainEvidence, readEvidence } from './evidenceStore'
import type { Takes } from './takes'

const evidenceParams = z.object({ job: z.uuid(), seq: z.coerce.number().int().min(1) })

/** Takes and remedies of one job card: `/api/jobs/:job/...`. */
export const takeRoutes = (db: Database, takes: Takes): Router => {
  const router = Router({ mergeParams: true })
  const job = (params: Record<string, unknown>) => String(params.job)
  const hands = allow('technician', 'lead')
  router.post(
    '/takes',
    hands,
    once(db, async (request, key) => {
      await takes.start(job(request.params), takeRequest.parse(request.body).check, personOf(request), key)
      return { status: 202, body: null }
    }),
  )
  router.post(
    '/takes/next',
    hands,
    once(db, async (request) => {
      takes.next(job(request.params), personOf(request))
      return { status: 202, body: null }
    }),
  )
  router.delete(
    '/takes/running',
    hands,
    once(db, async (request) => {
      takes.abort(job(request.params), personOf(request))
      return { body: null }
    }),
  )
  router.post(
    '/remedies',
    hands,
    once(db, async (request, key) => {
      const { seq, key: finding } = remedyRequest.parse(request.body)
      return { body: { seq: await takes.applyRemedy(job(request.params), seq, finding, personOf(request), key) } }
    }),
  )
  router.get('/takes/:seq/evidence', async (request, response) => {
    const { job: id, seq } = evidenceParams.parse(request.params)
    const document = await readEvidence(db, id, seq)
    if (document === null) throw new ProblemError('not-found', 'This take kept no evidence.')
    response.attachment(`take-${seq}.json`).json(plainEvidence(document))
  })
  return router
}
