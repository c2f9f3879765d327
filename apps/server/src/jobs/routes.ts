import { asideRequest, changeRequest, signatureRequest } from '@taraf/contract'
import { checkById } from '@taraf/core'
import { Router } from 'express'
import type { Database } from '../database'
import { allow, personOf } from '../http/guard'
import { once } from '../http/once'
import { ProblemError } from '../http/problem'
import type { Benches } from '../links/benches'
import type { People } from '../people/people'
import type { Takes } from '../takes/takes'
import type { Jobs } from './jobs'
import { sign } from './sign'

export const jobRoutes = (db: Database, jobs: Jobs, people: People, benches: Benches, takes: Takes): Router => {
  const router = Router()
  const job = (params: Record<string, unknown>) => String(params.job)
  router.get('/:job', async (request, response) => void response.json(await jobs.view(request.params.job)))

  router.post(
    '/:job/changes',
    allow('technician', 'lead'),
    once(db, async (request, key) => {
      const { change, cause } = changeRequest.parse(request.body)
      const entry = await jobs.change(job(request.params), (locked) =>
        locked.append(personOf(request).id, { kind: 'change', change, cause }, key),
      )
      return { status: 201, body: { seq: entry.seq } }
    }),
  )

  router.post(
    '/:job/asides',
    allow('lead'),
    once(db, async (request, key) => {
      const { check, reason } = asideRequest.parse(request.body)
      if (checkById(check) === undefined) throw new ProblemError('not-found', `There is no check ${check}.`)
      const entry = await jobs.change(job(request.params), (locked) =>
        locked.append(personOf(request).id, { kind: 'aside', check, reason }, key),
      )
      return { status: 201, body: { seq: entry.seq } }
    }),
  )

  // Whoever signs proves it with their own password, so that both can sign on one device.
  router.post(
    '/:job/signatures',
    allow('technician', 'lead'),
    once(db, async (request, key) => {
      const { role, login, password } = signatureRequest.parse(request.body)
      const person = await people.verify(login, password, request.ip ?? '')
      const id = job(request.params)
      if (takes.tellOf(id) !== null) throw new ProblemError('cannot-sign', 'A take is running; wait for its verdict.')
      await jobs.change(id, (locked) => sign(locked, role, person, key))
      if (role === 'lead') await benches.releaseJob(id)
      return { status: 201, body: null }
    }),
  )
  return router
}
