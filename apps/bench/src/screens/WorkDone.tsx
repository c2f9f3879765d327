import type { JobView, Remedy } from '@taraf/contract'
import { changeOfWork } from '@taraf/core'
import { Act } from '../parts/Act'
import { ProblemNotice } from '../parts/Notice'
import { Row } from '../parts/type'
import { problemOf } from '../store/api'
import { useRecordChangeMutation } from '../store/jobs'

/** The work that a remedy names, in the order worth trying: what was done of it goes on the card with one press. */
export const WorkDone = ({ job, seq, remedy }: { job: JobView; seq: number; remedy: Extract<Remedy, { by: 'work' }> }) => {
  const [record, recording] = useRecordChangeMutation()
  const works = remedy.work.filter((work) => changeOfWork[work] !== null)
  if (works.length === 0) return null
  return (
    <>
      <Row flexWrap="wrap" role="group" aria-label="Record what was done">
        {works.map((work) => (
          <Act
            key={work}
            label={`Done: ${work}`}
            off={recording.isLoading}
            onPress={() => {
              const change = changeOfWork[work]
              if (change !== null) void record({ job: job.id, change, cause: `Remedy of take ${seq}.` })
            }}
          />
        ))}
      </Row>
      <ProblemNotice problem={problemOf(recording.error)} />
    </>
  )
}
