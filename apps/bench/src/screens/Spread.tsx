import type { EarlierTakes, Finding, JobView } from '@taraf/contract'
import { findingWords, type Check } from '@taraf/core'
import { memo } from 'react'
import { ProblemNotice } from '../parts/Notice'
import { SpreadRule } from '../parts/SpreadRule'
import { Column, Paper, Words } from '../parts/type'
import { problemOf } from '../store/api'
import { useEarlierQuery } from '../store/jobs'
import { takesOf, type TakeEntry } from '../parts/findings'

export interface SpreadLine {
  readonly key: string
  readonly unit: string
  readonly limit: NonNullable<Finding['limit']>
  readonly takes: readonly { seq: number; value: number }[]
  readonly earlier: readonly number[]
}

/** Every judged number of the newest take, with what the takes before it and other airframes of the type had. */
export const spreadOf = (takes: readonly TakeEntry[], earlier: EarlierTakes): SpreadLine[] => {
  const proving = takes.filter((t) => t.body.verdict !== 'refused')
  return (proving[0]?.body.findings ?? []).flatMap(({ key, unit, limit, value }) => {
    if (typeof value !== 'number' || limit === undefined || (limit.min === undefined && limit.max === undefined)) return []
    return {
      key,
      unit,
      limit,
      takes: [...proving].reverse().flatMap(({ seq, body }) => {
        const found = body.findings.find((f) => f.key === key)?.value
        return typeof found === 'number' ? [{ seq, value: found }] : []
      }),
      earlier: earlier.flatMap(({ values }) => (values[key] === undefined ? [] : [values[key]])),
    }
  })
}

/** What was measured, over the takes and beside earlier airframes of the type, each against its limit. */
export const Spread = memo(function Spread({ job, check }: { job: JobView; check: Check }) {
  const { data: earlier = [], error } = useEarlierQuery({ job: job.id, check: check.id })
  const lines = spreadOf(takesOf(job, check.id), earlier)
  if (lines.length === 0) return null
  return (
    <Paper role="region" aria-label="Over the takes">
      <Words kind="heading">Over the takes</Words>
      <Words kind="small">
        {earlier.length === 0
          ? `No other ${job.sheet.type} has taken this check yet.`
          : `The hairlines above each rule are ${earlier.length} other airframes of type ${job.sheet.type}.`}
      </Words>
      <ProblemNotice problem={problemOf(error)} />
      {lines.map(({ key, unit, ...line }) => (
        <Column key={key} gap="$0">
          <Words kind="small">
            {findingWords(check, key, job.sheet)}, {unit}
          </Words>
          <SpreadRule label={findingWords(check, key, job.sheet)} {...line} />
        </Column>
      ))}
    </Paper>
  )
})
