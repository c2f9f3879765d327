import type { BenchView, JobView, Person } from '@taraf/contract'
import { parkedFor } from '@taraf/core'
import { ProblemError } from '@taraf/contract'
import type { BenchLink } from '../links/benchLink'
import type { Benches } from './benches'

/** Throws a problem where nothing can be done on a card: it is handed over, or parked. */
export const wantOpen = ({ closedAt, number, tag, entries }: Pick<JobView, 'closedAt' | 'number' | 'tag' | 'entries'>): void => {
  if (closedAt !== null) throw new ProblemError('job-closed', `Job card ${number} of ${tag} is handed over.`)
  const parked = parkedFor(entries)
  if (parked !== null) throw new ProblemError('parked', `${tag} is parked: ${parked}`)
}

/** The bench and link of a card for somebody who holds them, with the card's own board on it. Throws a problem where it is not so. */
export const linkForWork = async (
  benches: Benches,
  view: Pick<JobView, 'id' | 'tag' | 'board'>,
  by: Person,
): Promise<{ bench: BenchView; link: BenchLink }> => {
  const { bench, link } = await benches.linkFor(view.id, by)
  const board = link.identity?.board ?? ''
  if (board !== view.board)
    throw new ProblemError('wrong-board', `On ${bench.name} lies board ${board}; ${view.tag} has board ${view.board}.`)
  return { bench, link }
}

/** Throws a problem where a board waits in its loader: there it answers next to nothing. */
export const wantOutOfLoader = ({ identity }: BenchLink): void => {
  if (identity?.loader === true) throw new ProblemError('in-loader', 'It has no image that it would start.')
}
