import type { JobView } from '@taraf/contract'
import { checks, nextCheck, type Check } from '@taraf/core'
import { useRouter } from 'expo-router'
import type { ReactNode } from 'react'
import { Act } from '../parts/Act'
import { Row } from '../parts/type'

interface WithNextProps {
  readonly job: JobView
  readonly check: Check
  /** What the bar does with this check: its main action until the check stands. */
  readonly children: (kind: 'main' | 'plain') => ReactNode
}

/** Once a check stands the main action is the next one, or the handover where none is left. */
export const WithNext = ({ job, check, children }: WithNextProps) => {
  const router = useRouter()
  if (job.closedAt !== null || job.standings[check.id]?.state !== 'pass') return <Row>{children('main')}</Row>
  const next = nextCheck(checks, job.standings)
  return (
    <Row>
      {children('plain')}
      <Act
        grow
        kind="main"
        label={`Next: ${next?.title ?? 'Handover'}`}
        onPress={() => router.push(`/jobs/${job.id}/${next?.id ?? 'handover'}`)}
      />
    </Row>
  )
}
