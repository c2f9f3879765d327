import { clearRequest, writeRequest } from '@taraf/contract'
import { Router } from 'express'
import { z } from 'zod'
import { allow, personOf } from '../http/guard'
import type { Once } from '../http/once'
import { csvText } from '../files/csv'
import { bytesOf, fileBody } from '../http/fileBody'
import { ProblemError } from '@taraf/contract'
import type { Links } from '../links/links'
import { readEvidence } from '../record/evidenceStore'
import type { FileWork } from '../work/work'
import { clearToSheet, viewSettings, writeByHand, type Writing } from './settings'

/** `/api/jobs/:job/settings`. */
export const settingsRoutes = (doors: Writing, once: Once, links: Links, files: FileWork): Router => {
  const { db, jobs } = doors
  const router = Router({ mergeParams: true })
  const job = (params: Record<string, unknown>) => z.uuid().parse(params.job)
  const hands = allow('technician', 'lead')
  router.get('/settings', async (request, response) => {
    response.json(await viewSettings(db, jobs, links, job(request.params)))
  })
  router.get('/settings.csv', async (request, response) => {
    const id = job(request.params)
    const [{ settings, changed, firmware }, { sheet, tag }] = [await viewSettings(db, jobs, links, id), await jobs.view(id)]
    const rows = settings.map(({ name, saved, unit }) => [
      name,
      saved,
      unit,
      sheet.settings[name] ?? '',
      changed[name]?.at ?? '',
      changed[name]?.by ?? '',
      firmware,
    ])
    response
      .attachment(`${tag}-settings.csv`)
      .type('text/csv; charset=utf-8; header=present')
      .send(csvText([['name', 'value', 'unit', 'sheet', 'changed at', 'changed by', 'firmware'], ...rows]))
  })
  router.get('/takes/:seq/settings', async (request, response) => {
    const seq = z.coerce.number().int().min(1).parse(request.params.seq)
    const settings = (await readEvidence(db, job(request.params), seq))?.board.settings
    if (settings === undefined) throw new ProblemError('not-found', 'This take kept no settings.')
    response.json(settings)
  })
  // Read and shown only: nothing is changed, and no key is asked.
  router.post(
    '/settings/read',
    hands,
    ...fileBody('1mb'),
    async (request, response) => void response.json(await files.settings(bytesOf(request))),
  )
  router.post(
    '/settings',
    hands,
    once(async (request, key) => {
      const seq = await writeByHand(doors, job(request.params), writeRequest.parse(request.body), personOf(request), key)
      return { body: { seq } }
    }),
  )
  router.post(
    '/settings/clear',
    hands,
    once(async (request, key) => {
      const { cause } = clearRequest.parse(request.body)
      return { body: { seq: await clearToSheet(doors, job(request.params), cause, personOf(request), key) } }
    }),
  )
  return router
}
