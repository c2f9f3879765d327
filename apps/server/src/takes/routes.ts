import { nextRequest, remedyRequest, streamNames, takeRequest } from '@taraf/contract'
import { Router } from 'express'
import { z } from 'zod'
import type { Database } from '../database/database'
import { allow, personOf } from '../http/guard'
import type { Once } from '../http/once'
import { ProblemError } from '@taraf/contract'
import { earlierTakes } from './earlier'
import { plainEvidence, readEvidence, withStream } from '../record/evidenceStore'
import type { Takes } from './takes'

const evidenceParams = z.object({ job: z.uuid(), seq: z.coerce.number().int().min(1) })

const evidenceQuery = z.object({ stream: z.enum(streamNames).optional() })
const earlierParams = z.object({ job: z.uuid(), check: z.string() })

/** Takes and remedies of one job card: `/api/jobs/:job/...`. */
export const takeRoutes = (db: Database, once: Once, takes: Takes): Router => {
  const router = Router({ mergeParams: true })
  const job = (params: Record<string, unknown>) => String(params.job)
  const hands = allow('technician', 'lead')
  router.post(
    '/takes',
    hands,
    once(async (request, key) => {
      const { check, ...answers } = takeRequest.parse(request.body)
      const seq = await takes.begin(job(request.params), check, personOf(request), key, answers)
      return { status: 202, body: seq === null ? null : { seq } }
    }),
  )
  router.post(
    '/takes/next',
    hands,
    once(async (request) => {
      await takes.next(job(request.params), personOf(request), nextRequest.parse(request.body ?? {}))
      return { status: 202, body: null }
    }),
  )
  router.delete(
    '/takes/running',
    hands,
    once(async (request) => {
      await takes.abort(job(request.params), personOf(request))
      return { body: null }
    }),
  )
  router.post(
    '/remedies',
    hands,
    once(async (request, key) => {
      const { seq, key: finding } = remedyRequest.parse(request.body)
      return { body: { seq: await takes.applyRemedy(job(request.params), seq, finding, personOf(request), key) } }
    }),
  )
  router.get('/checks/:check/earlier', async (request, response) => {
    const { job: id, check } = earlierParams.parse(request.params)
    response.json(await earlierTakes(db, id, check))
  })
  router.get('/takes/:seq/evidence', async (request, response) => {
    const { job: id, seq } = evidenceParams.parse(request.params)
    const document = await readEvidence(db, id, seq)
    if (document === null) throw new ProblemError('not-found', 'This take kept no evidence.')
    // A screen that draws one stream asks for that alone: the rest is a hundred times as much.
    const only = evidenceQuery.parse(request.query).stream
    response.attachment(`take-${seq}.json`).json(plainEvidence(only === undefined ? document : withStream(document, only)))
  })
  return router
}
