import type { JobView } from '@taraf/contract'
import { useRouter } from 'expo-router'
import { Act } from '../../parts/Act'
import { Column, Row, Words } from '../../parts/type'
import { PropFigure } from './PropFigure'
import { usePropPlan } from './usePropPlan'

/** The plan to lay the props out by, and the way to its card. */
export const PropPlanLive = ({ job }: { job: JobView }) => {
  const router = useRouter()
  const plan = usePropPlan(job)
  return (
    <Column gap="$3">
      <PropFigure geometry={job.sheet.geometry} plan={plan} />
      <Words kind="small">Seen from above. A puller sits above its motor, a pusher below it.</Words>
      <Row>
        <Act label="Card for the bench" onPress={() => router.push({ pathname: '/jobs/[id]/props', params: { id: job.id } })} />
      </Row>
    </Column>
  )
}
