import { randomUUID } from 'node:crypto'
import type { Person } from '@taraf/contract'
import { checkById, openItems, type Check } from '@taraf/core'
import type { Database } from '../database/database'
import type { Jobs } from '../jobs/jobs'
import { sign } from '../jobs/sign'
import type { Cards } from '../record/cards'
import { keepTake } from '../record/keepTake'
import { foundChanged, recordRuns, recordSettings } from '../record/recordSettings'
import type { Deed, LifeOrder } from './life'

export interface HistoryOf {
  readonly db: Database
  readonly jobs: Jobs
  readonly cards: Cards
  readonly technician: Person
  readonly lead: Person
  /** Sets the history's clock. */
  readonly at: (ms: number) => void
}

const minutes = 60_000

/** Puts on a card what was done with an airframe, up to where its story ends. */
export const record = async (
  history: HistoryOf,
  { tag, board, story, atMs }: LifeOrder,
  deeds: AsyncIterable<Deed>,
): Promise<void> => {
  if (story === 'none') return
  const { jobs, cards, technician, lead, at } = history
  const job = await jobs.open(tag, technician)
  let last = atMs
  for await (const deed of deeds) {
    at((last = deed.atMs))
    await recordDeed(history, job, board, deed)
  }
  if (story === 'stale')
    await cards.change(job, (locked) =>
      locked.append(technician.id, {
        kind: 'change',
        change: { what: 'knock' },
        cause: 'Slid off the trolley on the way to the rack.',
      }),
    )
  if (story !== 'passed' && story !== 'failed') return
  await putBack(history, job)
  at((last += 25 * minutes))
  await cards.change(job, (locked) => sign(locked, 'technician', technician, randomUUID()))
  at(last + 10 * minutes)
  await cards.change(job, (locked) => sign(locked, 'lead', lead, randomUUID()))
}

const recordDeed = ({ db, cards, technician: { id: by } }: HistoryOf, job: string, board: string, deed: Deed): Promise<void> =>
  cards.change(job, async (locked) => {
    const { entries } = locked
    const remedy = `Remedy of take ${entries.at(-1)?.seq ?? 0}.`
    switch (deed.did) {
      case 'looked':
        await recordSettings(db, locked, by, deed.settings, { cause: foundChanged })
        if (deed.runs !== null) await recordRuns(db, locked, by, deed.runs, { cause: foundChanged })
        return
      case 'set':
        await locked.append(by, { kind: 'change', change: deed.change, cause: remedy })
        return
      case 'written': {
        const remedyOf = { seq: entries.at(-1)?.seq ?? 0, act: deed.act }
        await recordSettings(db, locked, by, deed.after, { cause: remedy, remedyOf })
        return
      }
      case 'took': {
        const check = checkById(deed.check) as Check
        const why = { cause: `Written in the take of "${check.title}" that follows.`, within: check.id }
        const began = entries.length
        for (const after of deed.wrote) await recordSettings(db, locked, by, after, why)
        for (const change of deed.changed) await locked.append(by, { kind: 'change', change, ...why })
        const { verdict, findings } = deed
        const packed =
          deed.packed === null ? null : { data: Buffer.from(deed.packed.data), sha256: Buffer.from(deed.packed.sha256) }
        const take = { check, began, by, verdict, findings, evidence: null, packed, bench: 'North bench', board }
        await keepTake(db, locked, { ...take, requestKey: null })
      }
    }
  })

/** Closes what the stations left to be put back. */
const putBack = ({ cards, technician }: HistoryOf, job: string): Promise<void> =>
  cards.change(job, async (locked) => {
    for (const { seq } of openItems(locked.entries))
      await locked.append(technician.id, { kind: 'closed', item: seq, words: 'Done, looked at twice.' })
  })
