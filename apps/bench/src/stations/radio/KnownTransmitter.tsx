import type { JobView } from '@taraf/contract'
import { useRouter } from 'expo-router'
import { Act } from '../../parts/Act'
import { Column, Words } from '../../parts/type'
import { useTransmitterOf } from '../../store/transmitters'
import { SetNow } from './SetNow'

/** The transmitter that this airframe is flown with, or one of its type: what is set on it now, to start from. */
export const KnownTransmitter = ({ job }: { job: JobView }) => {
  const known = useTransmitterOf(job)
  const router = useRouter()
  if (known === null) return null
  const { transmitter, model, flies, airframes, set } = known.card
  const others = airframes.flatMap(({ tag }) => (tag === job.tag ? [] : [tag])).reverse()
  const more = flies - (known.own ? 1 : 0) - Math.min(4, others.length)
  return (
    <Column gap="$1" role="region" aria-label="Transmitter">
      <Words kind="strong">
        {transmitter}, model {model}
      </Words>
      <Words kind="small">
        {known.own ? 'Flies this airframe' : `Flies ${job.sheet.type} airframes already: start from what is set on it`}
        {others.length > 0 ? `; also ${others.slice(0, 4).join(', ')}${more > 0 ? ` and ${more} more` : ''}` : ''}.
      </Words>
      {set.length > 0 && <SetNow set={set} />}
      <Act
        kind="quiet"
        label="Its card"
        named={`Card of ${transmitter}, model ${model}`}
        onPress={() => router.push('/transmitters')}
      />
    </Column>
  )
}
