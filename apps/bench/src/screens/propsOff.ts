import type { JobView, LinkTell } from '@taraf/contract'
import { propsSaid } from '@taraf/core'

/** Whether the battery is in, as far as the board says. */
export const batteryIn = (link: Pick<LinkTell, 'state'> | null): boolean => link?.state != null && link.state.power !== 'cable'

type Card = Pick<JobView, 'entries' | 'board'>

/** What is known of the props for the battery connection that is there now. */
export const propsWords = (job: Card, link: Pick<LinkTell, 'state'> | null): 'off' | 'ON' | 'not confirmed' => {
  const said = link?.state != null && batteryIn(link) ? propsSaid(job.entries, job.board, link.state.powerId) : null
  return said === null ? 'not confirmed' : said === 'props off' ? 'off' : 'ON'
}

/** Whether props are confirmed off for the battery connection that is there now. */
export const propsOff = (job: Card, link: Pick<LinkTell, 'state'> | null): boolean => propsWords(job, link) === 'off'
