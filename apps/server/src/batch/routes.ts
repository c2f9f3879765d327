import { batchNoteRequest } from '@taraf/contract'
import { Router } from 'express'
import type { Database } from '../database/database'
import { allow, personOf } from '../http/guard'
import type { Once } from '../http/once'
import type { Cards } from '../record/cards'
import { listNotes, writeNote } from './notes'

export const batchRoutes = (db: Database, once: Once, cards: Cards): Router => {
  const router = Router()
  router.get('/', async (_request, response) => void response.json(await listNotes(db)))
  router.post(
    '/',
    allow('technician', 'lead'),
    once(async (request, key) => ({
      status: 201,
      body: await writeNote(db, cards, batchNoteRequest.parse(request.body), personOf(request), key),
    })),
  )
  return router
}
