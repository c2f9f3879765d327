import { benchAct } from '@taraf/contract'
import { timeLimit, type Clock } from '@taraf/takes'
import { Router } from 'express'
import { z } from 'zod'
import { allow } from '../http/guard'
import { ProblemError } from '@taraf/contract'
import type { Benches } from '../benches/benches'

/** What a rig's hands take to answer, at the most. */
const answerMs = 2_000

/** The hands of a simulated bench, passed on to the rig. A real bench has none: 404. */
export const handsRoutes = (benches: Benches, clock: Clock): Router => {
  const router = Router()
  const reach = async (bench: string, init?: RequestInit): Promise<unknown> => {
    const url = await benches.handsUrl(z.uuid('is no bench').parse(bench))
    if (url === null) throw new ProblemError('no-hands', 'This bench is real: it has no simulated hands.')
    const limit = timeLimit(clock, answerMs)
    const reply = await fetch(url, { ...init, signal: limit.signal }).catch(() => {
      throw new ProblemError('link-lost', 'The rig does not answer.')
    })
    const body: unknown = await reply.json().catch(() => null)
    limit.end()
    if (reply.ok) return body
    const said = z.object({ error: z.string() }).safeParse(body)
    if (reply.status === 409 && said.success) throw new ProblemError('hands-cannot', said.data.error)
    throw new ProblemError('board-refused', `The rig refused (${reply.status}).`)
  }
  router.get('/:bench', async (request, response) => void response.json(await reach(request.params.bench)))
  router.post('/:bench', allow('technician', 'lead'), async (request, response) => {
    const act = benchAct.parse(request.body)
    response.json(await reach(String(request.params.bench), { method: 'POST', body: JSON.stringify(act) }))
  })
  return router
}
