import type { JobView } from '@taraf/contract'
import { isPropsOff } from '@taraf/core'
import { ProblemError } from '@taraf/contract'
import type { BenchLink } from '../links/benchLink'

/** The battery connection that is there now. Throws a problem where there is none. */
export const batteryOf = ({ state }: BenchLink): string => {
  if (state === null || state.power === 'cable') throw new ProblemError('battery-first', 'Only the cable is in.')
  return state.powerId
}

/** The battery connection that props are confirmed off for. Throws a problem where there is none, or it is not the one that is there. */
export const wantPropsOff = ({ entries, board, tag }: Pick<JobView, 'entries' | 'board' | 'tag'>, link: BenchLink): string => {
  const powerId = batteryOf(link)
  if (!isPropsOff(entries, board, powerId))
    throw new ProblemError('props-first', `Nobody has confirmed props and nuts off ${tag} since this battery was plugged in.`)
  return powerId
}
