import { problemOf } from '../store/api'
import {
  useApplyRemedyMutation,
  useJobQuery,
  useNextSegmentMutation,
  useStartTakeMutation,
  useStopTakeMutation,
} from '../store/jobs'
import { useRunningTake } from '../store/takeInHand'
import { canDo, remediesOf, takesOf } from '../parts/findings'

/** What the technician can do about a take of this check, and what became of it. */
export const useTake = (job: string, check: string) => {
  const { data } = useJobQuery(job)
  const [start, starting] = useStartTakeMutation()
  const [next, going] = useNextSegmentMutation()
  const [stop, stopping] = useStopTakeMutation()
  const [apply, applying] = useApplyRemedyMutation()
  const running = useRunningTake(check)
  const newest = data === undefined ? undefined : takesOf(data, check)[0]
  const mendable = newest === undefined ? undefined : remediesOf(newest.body.findings).find(({ remedy }) => canDo(remedy))
  return {
    running,
    busy: starting.isLoading || going.isLoading || stopping.isLoading || applying.isLoading,
    problem: problemOf(starting.error ?? going.error ?? stopping.error ?? applying.error),
    start: () => void start({ job, check }),
    next: () => void next({ job }),
    stop: () => void stop(job),
    mend: () => newest !== undefined && mendable !== undefined && void apply({ job, seq: newest.seq, key: mendable.key }),
  }
}
