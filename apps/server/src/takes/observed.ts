import type { AsBuilt, JobView, Observation, Person } from '@taraf/contract'
import { documentOf, evaluate, questionsOf, type Check } from '@taraf/core'
import type { Config } from '../config'
import type { Database } from '../database'
import { ProblemError } from '../http/problem'
import { readPhoto } from '../jobs/photos'
import type { LockedJob } from '../jobs/jobs'
import { packEvidence } from './evidenceStore'
import { keepTake } from './keepTake'

/**
 * A take of a check that is asked of the technician, item by item: what they saw is the evidence. Refuses answers to what was not
 * asked, and photos that are not there.
 */
export const takeObserved = async (
  db: Database,
  config: Config,
  view: JobView,
  check: Check,
  observations: readonly Observation[],
  by: Person,
  change: <T>(work: (job: LockedJob) => Promise<T>) => Promise<T>,
  requestKey: string,
): Promise<number> => {
  const asked = new Set(questionsOf(check, view.sheet)?.map((q) => q.id))
  const stranger = observations.find((o) => o.item === undefined || !asked.has(o.item))
  if (stranger !== undefined)
    throw new ProblemError('malformed', `observations: "${stranger.item ?? ''}" is not asked by "${check.title}".`)
  for (const { photo } of observations) if (photo !== undefined) await readPhoto(db, view.id, photo)
  const airframe: AsBuilt = { tag: view.tag, board: view.board, parts: view.parts }
  const segments = check.capture.segments.map(({ label }) => ({ label, streams: {} }))
  const document = documentOf(check, {
    at: new Date(),
    place: config.place,
    sheet: view.sheet,
    airframe,
    settings: {},
    segments,
    observations: [...observations],
  })
  const { verdict, findings } = evaluate(check, document)
  return change((locked) =>
    keepTake(db, locked, {
      check,
      by: by.id,
      verdict,
      findings,
      evidence: document,
      packed: packEvidence(document),
      bench: 'by eye',
      board: view.board,
      requestKey,
    }),
  )
}
