import { groupsOf, isOwn } from '@taraf/core'
import { Column, Reading, Row, Words } from '../../parts/type'
import type { ResultProps } from '../panel'

/** The difference by group: how many settings of each the sheet has, and how many were set otherwise. */
export const BaselineResult = ({ job, take }: ResultProps) => {
  const differing = new Set(take.body.findings.filter((f) => f.verdict === 'fail').map((f) => f.key))
  return (
    <Column role="region" aria-label="By group" gap="$1">
      {groupsOf(Object.keys(job.sheet.settings).filter((name) => !isOwn(name))).map(([group, names]) => {
        const wrong = names.filter((name) => differing.has(name)).length
        return (
          <Row key={group} justifyContent="space-between" borderBottomWidth={1} borderColor="$line">
            <Words kind={wrong > 0 ? 'strong' : undefined}>{group}</Words>
            <Reading size="small" color={wrong > 0 ? '$fail' : '$ink'}>
              {wrong === 0 ? `${names.length} as the sheet says` : `${wrong} of ${names.length} otherwise`}
            </Reading>
          </Row>
        )
      })}
    </Column>
  )
}
