import type { Finding, JobView, Remedy, StoredEntry, TakeBody } from '@taraf/contract'
import { Act } from '../parts/Act'
import { dateWords } from '../parts/dates'
import { ProblemNotice } from '../parts/Notice'
import { StandingMark, StandingShape } from '../parts/StandingMark'
import { Column, Paper, Reading, Row, Words } from '../parts/type'
import type { Panel } from '../stations/panel'
import { problemOf, useApplyRemedyMutation } from '../store/api'
import { standingWords } from './JobCard'

export type TakeEntry = StoredEntry & { body: TakeBody }

export const takesOf = (job: JobView, check: string): TakeEntry[] =>
  job.entries.filter((e): e is TakeEntry => e.body.kind === 'take' && e.body.check === check).reverse()

/** The first finding that fails, once for each different remedy. */
export const remediesOf = (findings: readonly Finding[]): { key: string; remedy: Remedy }[] => {
  const seen = new Set<string>()
  return findings.flatMap(({ key, remedy, verdict }) => {
    if (remedy === undefined || verdict === 'pass' || seen.has(remedy.act)) return []
    seen.add(remedy.act)
    return [{ key, remedy }]
  })
}

export const canDo = (remedy: Remedy): boolean => remedy.settings !== undefined || remedy.calibrate !== undefined

interface VerdictProps {
  readonly job: JobView
  readonly take: TakeEntry
  readonly panel: Panel
  /** Whether this take decides and the remedy may be done now. */
  readonly mayMend: boolean
}

/** What was found, the limit, and what to do. */
export const Verdict = ({ job, take, panel, mayMend }: VerdictProps) => {
  const [apply, applying] = useApplyRemedyMutation()
  const { verdict, findings } = take.body
  return (
    <Paper role="region" aria-label="Verdict">
      <Row flexWrap="wrap" justifyContent="space-between">
        <StandingMark state={verdict} />
        <Words kind="small">
          take {take.seq}, {dateWords(take.at)}
        </Words>
      </Row>
      {findings.map((finding) => (
        <FindingLine key={finding.key} finding={finding} words={panel.words[finding.key] ?? finding.key} />
      ))}
      {remediesOf(findings).map(({ key, remedy }) => (
        <Column key={key} borderLeftWidth={4} borderColor="$tide" paddingLeft="$3" gap="$2">
          <Words kind="small">What to do</Words>
          <Words kind="strong">{remedy.act}</Words>
          {remedy.settings !== undefined && (
            <Reading size="small" color="$faint">
              {Object.entries(remedy.settings)
                .map(([name, value]) => `${name} = ${value}`)
                .join(', ')}
            </Reading>
          )}
          {canDo(remedy) && mayMend && (
            <Act
              label={
                applying.isLoading
                  ? 'Writing, restarting, reading back …'
                  : remedy.settings === undefined
                    ? 'Let the board measure it'
                    : 'Write it to the board'
              }
              hotkey="r"
              off={applying.isLoading}
              onPress={() => void apply({ job: job.id, seq: take.seq, key })}
            />
          )}
        </Column>
      ))}
      <ProblemNotice problem={problemOf(applying.error)} />
    </Paper>
  )
}

const FindingLine = ({ finding, words }: { finding: Finding; words: string }) => {
  if (finding.verdict === 'refused') return <Words>It proves nothing: {String(finding.value)}.</Words>
  return (
    <Row flexWrap="wrap" justifyContent="space-between" borderBottomWidth={1} borderColor="$line" paddingBottom="$1">
      <Row gap="$2">
        {finding.verdict === 'shown' ? (
          <StandingShape state="absent" size={16} />
        ) : (
          <StandingShape state={finding.verdict} size={16} />
        )}
        <Words>{words}</Words>
      </Row>
      <Column gap="$0" alignItems="flex-end" flexGrow={1}>
        <Reading color={finding.verdict === 'fail' ? '$fail' : '$ink'}>
          {valueWords(finding.value)} {finding.unit}
        </Reading>
        <Reading size="small" color="$faint">
          {limitWords(finding)}
        </Reading>
      </Column>
    </Row>
  )
}

/** A value in figures: thousandths, and no minus before nought. */
export const valueWords = (value: Finding['value']): string => {
  if (typeof value === 'string') return value
  if (typeof value === 'number') return value.toFixed(3).replace(/^-(0\.0*)$/, '$1')
  return Array.isArray(value)
    ? value.map(valueWords).join(', ')
    : Object.entries(value)
        .map(([name, part]) => `${name} ${valueWords(part)}`)
        .join(', ')
}

export const limitWords = ({ limit, verdict }: Finding): string => {
  if (limit === undefined) return verdict === 'shown' ? 'shown, not judged' : ''
  const { min, max } = limit
  if (min !== undefined && max !== undefined) return `allowed ${min.toFixed(2)} to ${max.toFixed(2)}`
  if (max !== undefined) return `at most ${max.toFixed(2)}`
  return min !== undefined ? `at least ${min.toFixed(2)}` : ''
}

/** All takes of a check, newest first; what no longer stands says what spoiled it. */
export const Takes = ({ job, check, takes }: { job: JobView; check: string; takes: readonly TakeEntry[] }) => {
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
}
