import {
  asideRequest,
  boardRequest,
  changeRequest,
  closeRequest,
  confirmRequest,
  itemRequest,
  parkRequest,
  signatureRequest,
  type EntryBody,
  type Role,
} from '@taraf/contract'
import { checkById, openItems, parkedFor } from '@taraf/core'
import { Router, type Request } from 'express'
import { z } from 'zod'
import type { Database } from '../database/database'
import { allow, personOf } from '../http/guard'
import type { Once } from '../http/once'
import { ProblemError } from '@taraf/contract'
import { bytesOf, fileBody } from '../http/fileBody'
import type { Benches } from '../benches/benches'
import { wantOpen } from '../benches/forWork'
import { batteryOf } from '../benches/propsOff'
import type { People } from '../people/people'
import type { Cards, LockedJob } from '../record/cards'
import type { FileWork } from '../work/work'
import type { Jobs } from './jobs'
import { fitBoard } from './fitBoard'
import { keepPhoto, readPhoto } from '../record/photos'
import { wantNoTake } from '../record/runningTakes'
import { sign } from './sign'

const itemParams = z.object({ item: z.coerce.number().int().min(1) })
const photoParams = z.object({ job: z.uuid(), sha256: z.hex().length(64) })
const hands: readonly Role[] = ['technician', 'lead']

export interface JobDoors {
  readonly db: Database
  readonly once: Once
  readonly jobs: Jobs
  readonly cards: Cards
  readonly people: People
  readonly benches: Benches
  readonly files: FileWork
}

/** `/api/airframes/:tag/jobs`: opens a card. */
export const openRoutes = ({ once, jobs }: Pick<JobDoors, 'once' | 'jobs'>): Router => {
  const router = Router({ mergeParams: true })
  router.post(
    '/',
    allow(...hands),
    once(async ({ params, session }, key) => ({
      status: 201,
      body: { id: await jobs.open(String(params.tag), personOf({ session }), key) },
    })),
  )
  return router
}

/** `/api/jobs`. */
export const jobRoutes = ({ db, once, jobs, cards, people, benches, files }: JobDoors): Router => {
  const router = Router()
  const job = (params: Record<string, unknown>) => String(params.job)

  /** A route that appends one entry to a card's chain. */
  const appends = (
    path: string,
    roles: readonly Role[],
    bodyFor: (request: Request, locked: LockedJob) => EntryBody | Promise<EntryBody>,
    after?: (job: string) => Promise<void>,
  ) =>
    router.post(
      path,
      allow(...roles),
      once(async (request, key) => {
        const id = job(request.params)
        const { seq } = await cards.change(id, async (locked) =>
          locked.append(personOf(request).id, await bodyFor(request, locked), key),
        )
        await after?.(id)
        return { status: 201, body: { seq } }
      }),
    )

  router.get('/:job', async (request, response) => void response.json(await jobs.view(request.params.job)))

  appends('/:job/changes', hands, ({ body }) => ({ kind: 'change', ...changeRequest.parse(body) }))

  router.post(
    '/:job/board',
    allow(...hands),
    once(async (request, key) => {
      const { board, cause } = boardRequest.parse(request.body)
      const [id, by] = [job(request.params), personOf(request)]
      await wantNoTake(db, id)
      const { link } = await benches.linkFor(id, by)
      return { status: 201, body: { seq: await fitBoard(db, cards, id, link, board, cause, by, key) } }
    }),
  )

  appends('/:job/asides', ['lead'], ({ body }) => {
    const { check, reason } = asideRequest.parse(body)
    if (checkById(check) === undefined) throw new ProblemError('not-found', `There is no check ${check}.`)
    return { kind: 'aside', check, reason }
  })

  appends('/:job/items', hands, ({ body }) => ({ kind: 'item', what: 'open', ...itemRequest.parse(body) }))

  appends('/:job/items/:item/close', hands, ({ body, params }, { entries }) => {
    const { words } = closeRequest.parse(body)
    const { item } = itemParams.parse(params)
    if (!openItems(entries).some((open) => open.seq === item))
      throw new ProblemError('not-found', `Entry ${item} is no open item of this job card.`)
    return { kind: 'closed', item, words }
  })

  appends(
    '/:job/park',
    hands,
    async ({ body }, { id, entries, transaction }) => {
      const { reason } = parkRequest.parse(body)
      await wantNoTake(db, id, transaction)
      if (parkedFor(entries) !== null) throw new ProblemError('parked', 'It is parked already.')
      return { kind: 'parked', reason }
    },
    (id) => benches.releaseJob(id),
  )

  appends('/:job/resume', hands, (_request, { entries }) => {
    if (parkedFor(entries) === null) throw new ProblemError('not-found', 'This job card is not parked.')
    return { kind: 'resumed' }
  })

  router.post(
    '/:job/confirmations',
    allow(...hands),
    once(async (request, key) => {
      const { what } = confirmRequest.parse(request.body)
      const [id, by] = [job(request.params), personOf(request)]
      const { link } = await benches.linkFor(id, by)
      const powerId = batteryOf(link)
      const entry = await cards.change(id, async (locked) => {
        if (link.identity?.board !== locked.board)
          throw new ProblemError(
            'wrong-board',
            `Board ${link.identity?.board ?? ''} is on this bench, not that of ${locked.tag}.`,
          )
        return locked.append(by.id, { kind: 'confirmed', what, powerId, board: locked.board }, key)
      })
      return { status: 201, body: { seq: entry.seq } }
    }),
  )

  router.post(
    '/:job/photos',
    allow(...hands),
    ...fileBody('20mb'),
    once(async (request) => {
      const view = await jobs.view(job(request.params))
      wantOpen(view)
      return { status: 201, body: { sha256: await keepPhoto(db, files, view.id, bytesOf(request), personOf(request)) } }
    }),
  )
  router.get('/:job/photos/:sha256', async (request, response) => {
    const { job: id, sha256 } = photoParams.parse(request.params)
    response
      .type('image/jpeg')
      .setHeader('cache-control', 'private, max-age=31536000, immutable')
      .send(await readPhoto(db, id, sha256))
  })

  // Whoever signs proves it with their own password, so that both can sign on one device.
  router.post(
    '/:job/signatures',
    allow(...hands),
    once(
      async (request, key) => {
        const { role, login, password } = signatureRequest.parse(request.body)
        const person = await people.verify(login, password, { address: request.ip ?? '', signedIn: personOf(request) })
        const id = job(request.params)
        await cards.change(id, async (locked) => {
          await wantNoTake(db, id, locked.transaction)
          await sign(locked, role, person, key)
        })
        if (role === 'lead') await benches.releaseJob(id)
        return { status: 201, body: null }
      },
      () => ({ status: 201, body: null }),
    ),
  )
  return router
}
