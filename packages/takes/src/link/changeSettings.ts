import { type Written } from '@taraf/core'
import { changeSettings as steps, type SettingsAct } from '@taraf/core/atLink'
import { ProblemError } from '@taraf/contract'
import type { BoardLink } from './boardLink'
import { onLink } from './onLink'

/** Throws a problem where a board's motors are not still: nothing is written then. */
export const wantStill = ({ state }: Pick<BoardLink, 'state'>): void => {
  if (state?.motors !== 'still') throw new ProblemError('bench-busy', 'The motors are not still. Nothing was written.')
}

/**
 * Changes a board's settings as one act, by the core's own steps. Throws a problem where nothing was written; what was kept otherwise
 * than it was asked is told in what it returns.
 */
export const changeSettings = async (link: BoardLink, act: SettingsAct): Promise<Written> => {
  wantStill(link)
  const found = await onLink(link, steps(act))
  if ('why' in found) throw new ProblemError('board-refused', found.why)
  return found
}

/** Throws the problem that names what a board kept differently from it was written. Call it once that is recorded. */
export const wantKept = ({ differs }: Written): void => {
  if (differs.length > 0) throw new ProblemError('write-differs', differs.join('; '))
}
