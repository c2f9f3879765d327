import type { AsBuilt, JobView, Observation, Person } from '@taraf/contract'
import { questionsOf, type Check } from '@taraf/core'
import { runTake } from '@taraf/core/runTake'
import { wantAsked } from '@taraf/takes'
import type { Config } from '../config'
import type { Database } from '../database/database'
import type { Cards } from '../record/cards'
import { packEvidence } from '../files/packEvidence'
import { keepTake } from '../record/keepTake'
import { readPhoto } from '../record/photos'

/** Throws a problem where a photo is named that the card does not keep. */
export const wantPhotos = async (db: Database, job: string, observations: readonly Observation[]): Promise<void> => {
  for (const { photo } of observations) if (photo !== undefined) await readPhoto(db, job, photo)
}

/**
 * A take of a check that is asked of the technician, item by item: what they saw is the evidence. Refuses answers to what was not
 * asked, and photos that are not there.
 */
export const takeObserved = async (
  db: Database,
  config: Config,
  cards: Cards,
  view: JobView,
  check: Check,
  { observations, began = Infinity, at }: { observations: readonly Observation[]; began?: number | undefined; at: Date },
  by: Person,
  requestKey: string,
): Promise<number> => {
  wantAsked(questionsOf(check, view.sheet) ?? [], observations)
  await wantPhotos(db, view.id, observations)
  const airframe: AsBuilt = { tag: view.tag, board: view.board, parts: view.parts }
  const given = { at, place: config.place, sheet: view.sheet, airframe, settings: {} }
  const steps = runTake(check, given)
  let next = steps.next()
  while (next.done !== true) next = steps.next({ segment: { label: next.value.want.label, streams: {} }, observations })
  const { evidence, verdict, findings } = next.value
  return cards.change(view.id, (locked) =>
    keepTake(db, locked, {
      check,
      // What the device says of when it began can only make it worth less.
      began: Math.min(began, view.entries.length),
      by: by.id,
      verdict,
      findings,
      evidence,
      packed: packEvidence(evidence),
      bench: 'by eye',
      board: view.board,
      requestKey,
    }),
  )
}
