import type { Evidence, Finding } from '@taraf/contract'
import { byHand, judgedAs } from '../check'

/** That it armed while its sticks were only looked at: nobody asked for it. */
export const armedMeanwhile = ({ segments }: Evidence): Finding[] => {
  const armed = segments.find(({ events = [] }) => events.some(({ what }) => what === 'armed'))
  if (armed === undefined) return []
  return [
    judgedAs(
      'armed',
      `it armed in "${armed.label}"`,
      'stays disarmed',
      byHand(
        'Battery out. It armed while only its sticks were moved: compare what arms it with the sheet, take Switches again, then run this again.',
      ),
    ),
  ]
}

/** What that finding is called. */
export const armedWords = { armed: 'While the sticks were moved' } as const
