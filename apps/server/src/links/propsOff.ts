import type { JobView } from '@taraf/contract'
import { isPropsOff } from '@taraf/core'
import { ProblemError } from '../http/problem'
import type { BenchLink } from './benchLink'

/** The battery connection that is there now. Throws a problem where there is none. */
export const batteryOf = ({ state }: BenchLink): string => {
  if (state === null || state.power === 'cable') throw new ProblemError('battery-first', 'Only the cable is in.')
  return state.powerId
}

/** Throws a problem unless the battery is in and props are confirmed off for this very connection of it. */
export const wantPropsOff = ({ entries, board, tag }: Pick<JobView, 'entries' | 'board' | 'tag'>, link: BenchLink): void => {
  if (!isPropsOff(entries, board, batteryOf(link)))
    throw new ProblemError('props-first', `Nobody has confirmed props and nuts off ${tag} since this battery was plugged in.`)
}
