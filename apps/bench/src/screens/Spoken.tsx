import type { JobView } from '@taraf/contract'
import { checkById } from '@taraf/core'
import { useLive } from '../store/store'
import { useTakeAtStep } from '../store/takeInHand'
import { takesOf } from '../parts/findings'

/** What a screen reader hears as it changes, wherever one is: danger at once; what to do and each verdict in their turn. */
export const Spoken = ({ job, at }: { job: JobView; at: string | null }) => {
  const link = useLive((live) => live.link)
  const danger = useLive((live) => live.danger)
  const take = useTakeAtStep(at)
  const check = at === null ? undefined : checkById(at)
  const newest = check === undefined ? undefined : takesOf(job, check.id)[0]
  const doing = take?.guide?.words ?? take?.want?.ask ?? ''
  const found = take === null && check !== undefined && newest !== undefined ? `${check.title}: ${newest.body.verdict}` : ''
  const alarm = danger
    ? `Danger: motors ${link?.state?.motors ?? 'not known to be still'}`
    : link?.phase === 'lost'
      ? 'Link lost'
      : ''
  return (
    <div style={unseen}>
      <div role="alert">{alarm}</div>
      <div role="status">{doing === '' ? found : doing}</div>
    </div>
  )
}

/** There for those who listen: an element that is not displayed is not spoken. */
const unseen = {
  position: 'absolute',
  width: 1,
  height: 1,
  overflow: 'hidden',
  clipPath: 'inset(50%)',
  whiteSpace: 'nowrap',
} as const
