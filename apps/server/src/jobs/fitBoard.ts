import type { Person } from '@taraf/contract'
import { isDuplicate, type Database } from '../database/database'
import { ProblemError } from '@taraf/contract'
import type { BenchLink } from '../links/benchLink'
import type { Cards } from '../record/cards'

/**
 * Says that another board was built into the airframe: the one that is linked now, by the serial that it says itself. What was seen of the
 * board before is forgotten, and what depends on the board goes stale. Throws a problem where it is another airframe's.
 */
export const fitBoard = async (
  db: Database,
  cards: Cards,
  job: string,
  link: BenchLink,
  board: string,
  cause: string,
  by: Person,
  requestKey: string,
): Promise<number> => {
  const there = link.identity?.board
  if (there !== board)
    throw new ProblemError(
      'wrong-board',
      `On the bench lies board ${there ?? 'unknown'}, not ${board}: what it says itself decides.`,
    )
  try {
    return await cards.change(job, async (locked) => {
      if (locked.board === board) throw new ProblemError('malformed', `${locked.tag} has board ${board} already.`)
      await db.airframes.update(
        { board, boardSettings: null, boardRuns: null },
        { where: { id: locked.airframeId }, transaction: locked.transaction },
      )
      const change = { what: 'board' as const, from: locked.board, to: board }
      return (await locked.append(by.id, { kind: 'change', change, cause }, requestKey)).seq
    })
  } catch (error) {
    if (isDuplicate(error))
      throw new ProblemError(
        'wrong-board',
        `Board ${board} belongs to another airframe: put that one on the bench, or open its card.`,
      )
    throw error
  }
}
