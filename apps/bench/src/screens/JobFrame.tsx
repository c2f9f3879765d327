import type { JobView } from '@taraf/contract'
import type { ReactNode } from 'react'
import { useDispatch } from 'react-redux'
import { Hands } from '../hands/Hands'
import { useWatch } from '../live/FeedProvider'
import { Loading, ProblemNotice } from '../parts/Notice'
import { RouteLine } from '../parts/RouteLine'
import { Screen } from '../parts/Screen'
import { useKeys } from '../parts/useKeys'
import { problemOf } from '../store/api'
import { useJobQuery } from '../store/jobs'
import { useLive, useView, viewChanged } from '../store/store'
import { propsWords } from './propsOff'
import { Spoken } from './Spoken'

interface JobFrameProps {
  readonly id: string
  readonly at: string | null
  readonly actions?: (job: JobView) => ReactNode
  readonly children: (job: JobView) => ReactNode
}

/** What every screen of a job card has: its bench watched, its route, and the hands where the bench is simulated. */
export const JobFrame = ({ id, at, actions, children }: JobFrameProps) => {
  const { data: job, error, refetch } = useJobQuery(id)
  const { handsOpen } = useView()
  const dispatch = useDispatch()
  const props = useLive(({ link }) => (job === undefined ? 'not confirmed' : propsWords(job, link)))
  useWatch(id, job?.bench?.id ?? null)
  useKeys({ h: () => dispatch(viewChanged({ handsOpen: !handsOpen })) })
  return (
    <Screen
      tag={job?.tag ?? '…'}
      bench={job?.bench?.id ?? null}
      props={props}
      route={job !== undefined && <RouteLine job={job} at={at} />}
      actions={job !== undefined ? actions?.(job) : undefined}
      drawer={job?.bench?.hands === true && <Hands job={job} at={at} />}
    >
      {job === undefined && error === undefined && <Loading what="the job card" />}
      {job === undefined && (
        <ProblemNotice problem={problemOf(error)} act={{ label: 'Try again', onPress: () => void refetch() }} />
      )}
      {job !== undefined && <Spoken job={job} at={at} />}
      {job !== undefined && children(job)}
    </Screen>
  )
}
