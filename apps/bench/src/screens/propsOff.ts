import type { JobView, LinkTell } from '@taraf/contract'
import { isPropsOff } from '@taraf/core'

/** Whether the battery is in, as far as the board says. */
export const batteryIn = (link: Pick<LinkTell, 'state'> | null): boolean => link?.state != null && link.state.power !== 'cable'

/** Whether props are confirmed off for the battery connection that is there now. */
export const propsOff = (job: Pick<JobView, 'entries' | 'board'>, link: Pick<LinkTell, 'state'> | null): boolean =>
  link?.state != null && batteryIn(link) && isPropsOff(job.entries, job.board, link.state.powerId)
