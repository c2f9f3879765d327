import type { BuiltPart, Person } from '@taraf/contract'
import { isDuplicate, type Database } from '../database/database'
import { ProblemError } from '@taraf/contract'
import type { Cards } from '../record/cards'
import { partsOf, setParts } from './parts'

/** Puts other parts in: what was replaced goes on the open job card, and spoils there what proved the part before. */
export const changeParts = async (
  db: Database,
  cards: Cards,
  tag: string,
  parts: readonly BuiltPart[],
  cause: string,
  by: Person,
  requestKey: string,
): Promise<void> => {
  const [airframe] = await db.select<{ id: string; job: string | null }>(
    'SELECT a.id, j.id AS job FROM airframes a LEFT JOIN jobs j ON j.airframe_id = a.id AND j.closed_at IS NULL WHERE lower(a.tag) = lower($tag)',
    { tag },
  )
  if (airframe === undefined) throw new ProblemError('not-found', `No airframe has the tag ${tag}.`)
  const { id, job } = airframe
  try {
    if (job === null) return await db.within((transaction) => setParts(db, id, parts, transaction))
    await cards.change(job, async (locked) => {
      const before = await partsOf(db, id, locked.transaction)
      await setParts(db, id, parts, locked.transaction)
      const same = (a: BuiltPart, b: BuiltPart) =>
        a.part === b.part && a.model === b.model && a.serial === b.serial && a.lot === b.lot
      const replaced = new Set(
        parts
          .filter((p) => !before.some((b) => same(p, b)) && before.some((b) => b.part === p.part && b.serial !== null))
          .map((p) => p.part),
      )
      let key: string | null = requestKey
      for (const part of replaced) {
        await locked.append(by.id, { kind: 'change', change: { what: 'part', part, act: 'replaced' }, cause }, key)
        key = null
      }
    })
  } catch (error) {
    if (isDuplicate(error)) throw new ProblemError('airframe-wrong', 'One of these serials is in another airframe.')
    throw error
  }
}
