import type { JobView } from '@taraf/contract'
import { OffsetPad } from '../../parts/OffsetPad'
import { sheetAntenna } from '../../parts/offsetMm'
import { Column } from '../../parts/type'
import { useNextSegmentMutation } from '../../store/jobs'
import { useTakeAtStep } from '../../store/takeInHand'
import type { Panel } from '../panel'
import { newest, streamLive } from './StreamLive'

const Readings = streamLive('fix', [
  { label: 'satellites', value: (rows) => newest(rows, 1).toFixed(0) },
  { label: 'dilution', value: (rows) => newest(rows, 2).toFixed(1) },
  { label: 'fix', value: (rows) => (newest(rows, 0) === 1 ? 'yes' : 'not yet') },
])

/** What the receiver says, and while it looks for its fix, where its antenna sits. */
const Live = ({ job }: { job: JobView }) => {
  const [next, going] = useNextSegmentMutation()
  const take = useTakeAtStep('sensors.position')
  return (
    <Column gap="$3">
      <Readings />
      {take !== null && (
        <OffsetPad
          geometry={job.sheet.geometry}
          wanted={sheetAntenna(job.sheet.settings)}
          entered={take.said === true}
          off={going.isLoading}
          onEnter={(antenna) => void next({ job: job.id, antenna })}
        />
      )}
    </Column>
  )
}

export const position: Panel = {
  Live,
  turned: () => false,
}
