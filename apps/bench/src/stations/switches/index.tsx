import type { JobView } from '@taraf/contract'
import { takesOf } from '../../parts/findings'
import { Column } from '../../parts/type'
import { useTakeAtStep } from '../../store/takeInHand'
import { wanted } from '../board/wanted'
import type { Panel, ResultProps } from '../panel'
import { controlLive } from '../radio/controlLive'
import { SwitchTables } from './SwitchTables'

const Moved = controlLive('switches.table')

/** While it runs, the switch that is asked for and its channel; before anything was measured, the plan. */
const Live = ({ job }: { job: JobView }) => {
  const runs = useTakeAtStep('switches.table') !== null
  const isNew = takesOf(job, 'switches.table').length === 0
  return (
    <Column gap="$4">
      <Moved job={job} />
      {!runs && isNew && <SwitchTables sheet={job.sheet} findings={[]} />}
    </Column>
  )
}

const Result = ({ job, take }: ResultProps) => <SwitchTables sheet={job.sheet} findings={take.body.findings} />

const flat = () => false
export const switches: Readonly<Record<string, Panel>> = {
  'switches.table': { Live, Result, turned: flat },
  'switches.gestures': {
    Live: wanted(
      ({ sheet }) =>
        ['calibrate', 'trim', 'profile'].map((gesture) => ({
          label: `${gesture} by the sticks`,
          value: sheet.settings[`gesture.${gesture}`] === 1 ? 'on' : 'off',
        })),
      'What a corner of the sticks does beside arming is off, unless the sheet plans it.',
    ),
    turned: flat,
  },
}
