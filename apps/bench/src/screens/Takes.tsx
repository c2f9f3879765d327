import type { JobView } from '@taraf/contract'
import { memo } from 'react'
import { dateWords } from '../parts/dates'
import { StandingMark } from '../parts/StandingMark'
import { Column, Row, Words } from '../parts/type'
import { takesOf } from '../parts/findings'
import { standingWords } from '../parts/standingWords'

/** All takes of a check, newest first; what no longer stands says what spoiled it. */
export const Takes = memo(function Takes({ job, check }: { job: JobView; check: string }) {
  const takes = takesOf(job, check)
  const standing = job.standings[check]
  return (
    <Column gap="$2">
      <Words kind="heading">Takes</Words>
      {takes.length === 0 && <Words kind="faint">None yet.</Words>}
      {takes.map((take) => {
        const decides = standing?.take === take.seq
        const stale = decides && standing?.state === 'stale'
        return (
          <Column key={take.seq} gap="$0" borderLeftWidth={2} borderColor={decides ? '$mark' : '$line'} paddingLeft="$3">
            <Row flexWrap="wrap" justifyContent="space-between">
              <Words kind="strong">Take {take.seq}</Words>
              <StandingMark state={stale ? 'stale' : take.body.verdict} />
            </Row>
            <Words kind="small">
              {dateWords(take.at)}, {job.people[take.by] ?? 'unknown'}, {take.body.bench}
            </Words>
            {stale && <Words kind="small">{standingWords(job, check)}</Words>}
            {!decides && take.body.verdict !== 'refused' && <Words kind="small">a later take decides</Words>}
            {take.body.evidenceSha256 !== null && (
              <a
                href={`/api/jobs/${job.id}/takes/${take.seq}/evidence`}
                download
                style={{ display: 'block', paddingTop: 14, paddingBottom: 14, color: 'inherit' }}
              >
                <Words kind="small" color="$tide">
                  Evidence as a file
                </Words>
              </a>
            )}
          </Column>
        )
      })}
    </Column>
  )
})
