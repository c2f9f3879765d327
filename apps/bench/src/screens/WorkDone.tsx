import type { JobView, Remedy } from '@taraf/contract'
import { changeOfWork } from '@taraf/core'
import { Act } from '../parts/Act'
import { entryWords } from '../parts/entryWords'
import { ProblemNotice } from '../parts/Notice'
import { Row, Words } from '../parts/type'
import { problemOf } from '../store/api'
import { useRecordChangeMutation } from '../store/jobs'

interface WorkProps {
  readonly job: JobView
  readonly seq: number
  readonly remedy: Extract<Remedy, { by: 'work' }>
}

const causeOf = (seq: number): string => `Remedy of take ${seq}.`

/** What of the work that a remedy names is on the card as done. */
export const WorkRecorded = ({ job, seq, remedy }: WorkProps) => {
  const done = new Set(
    remedy.work.flatMap((work) => {
      const change = changeOfWork[work]
      return change === null ? [] : [entryWords({ body: { kind: 'change', change, cause: causeOf(seq) } })]
    }),
  )
  return job.entries.map((entry) =>
    done.has(entryWords(entry)) ? (
      <Words key={entry.seq} kind="small">
        Entry {entry.seq}: {entryWords(entry)}
      </Words>
    ) : null,
  )
}

/** The work that a remedy names, in the order worth trying: what was done of it goes on the card with one press. */
export const WorkDone = ({ job, seq, remedy }: WorkProps) => {
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
              if (change !== null) void record({ job: job.id, change, cause: causeOf(seq) })
            }}
          />
        ))}
      </Row>
      <ProblemNotice problem={problemOf(recording.error)} />
    </>
  )
}
