import type { Finding, JobView, Remedy, StoredEntry, TakeBody } from '@taraf/contract'
import { useState, type ReactNode } from 'react'
import { Act } from '../parts/Act'
import { dateWords } from '../parts/dates'
import { ProblemNotice } from '../parts/Notice'
import { StandingMark, StandingShape } from '../parts/StandingMark'
import { Column, Paper, Reading, Row, Words } from '../parts/type'
import type { Panel } from '../stations/panel'
import { problemOf } from '../store/api'
import { useApplyRemedyMutation } from '../store/jobs'
import { standingWords } from './JobCard'
import { fixed } from '../parts/fixed'

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

/** Whether Taraf does it over the link. */
export const canDo = ({ by }: Remedy): boolean => by === 'settings' || by === 'calibration'

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
  // What is wrong and what to do about it come first, whatever else was found.
  const isFailing = (f: Finding) => f.verdict === 'fail' || f.verdict === 'refused'
  const isBefore = ({ key }: Finding) => key.endsWith('Before')
  const failing = findings.filter(isFailing)
  const others = findings.filter((f) => !isFailing(f) && !isBefore(f))
  const before = findings.filter((f) => !isFailing(f) && isBefore(f))
  const lines = (of: readonly Finding[]) =>
    of.map((finding) => <FindingLine key={finding.key} finding={finding} words={wordsFor(panel, finding.key, job)} />)
  return (
    <Paper role="region" aria-label="Verdict">
      <Row flexWrap="wrap" justifyContent="space-between">
        <StandingMark state={verdict} />
        <Words kind="small">
          take {take.seq}, {dateWords(take.at)}
        </Words>
      </Row>
      {panel.Result !== undefined && <panel.Result job={job} take={take} />}
      {lines(failing)}
      {remediesOf(findings).map(({ key, remedy }) => (
        <Column key={key} borderLeftWidth={4} borderColor="$tide" paddingLeft="$3" gap="$2">
          <Words kind="small">What to do</Words>
          <Words kind="strong">{remedy.act}</Words>
          {remedy.by === 'settings' && (
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
                  : remedy.by === 'calibration'
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
      {lines(others)}
      {before.length > 0 && <Before>{lines(before)}</Before>}
    </Paper>
  )
}

/** What was there before the take wrote: it decides nothing, and is looked at when somebody wants to know. */
const Before = ({ children }: { children: ReactNode }) => {
  const [open, setOpen] = useState(false)
  return (
    <Column>
      <Row>
        <Act
          kind="quiet"
          label={open ? 'Hide what was found before the write' : 'Show what was found before the write'}
          onPress={() => setOpen(!open)}
        />
      </Row>
      {open && children}
    </Column>
  )
}

/** What a finding is called; the same before a write within the take, and the write itself. */
export const wordsFor = (panel: Pick<Panel, 'words' | 'wordsOf'>, key: string, job?: JobView): string => {
  const words: Readonly<Record<string, string>> = { ...panel.words, ...(job === undefined ? {} : panel.wordsOf?.(job)) }
  if (key === 'write') return 'Written to the board'
  const [, plain] = /^(.*)Before$/.exec(key) ?? []
  return plain === undefined ? (words[key] ?? key) : `${words[plain] ?? plain}, before the write`
}

const FindingLine = ({ finding, words }: { finding: Finding; words: string }) => {
  if (finding.verdict === 'refused') return <Words>Not usable: {String(finding.value)}.</Words>
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
      <Column gap="$0" alignItems="flex-end" flexGrow={1} flexShrink={1} minWidth={0}>
        <Reading textAlign="right" maxWidth="100%" color={finding.verdict === 'fail' ? '$fail' : '$ink'}>
          {[valueWords(finding.value), finding.unit].filter((w) => w !== '').join(' ')}
        </Reading>
        <Reading size="small" textAlign="right" maxWidth="100%" color="$faint">
          {limitWords(finding)}
        </Reading>
      </Column>
    </Row>
  )
}

/** The record keeps names in the order of the alphabet; people say angles in this one. */
const angleOrder: readonly string[] = ['roll', 'pitch', 'yaw']

/** A value in figures: thousandths, and no minus before nought. */
export const valueWords = (value: Finding['value']): string => {
  if (typeof value === 'string') return value
  if (typeof value === 'number' && Number.isInteger(value)) return String(value)
  if (typeof value === 'number') return fixed(value, 3)
  const short = (part: number) => String(Number(part.toFixed(3)) + 0)
  if (!Array.isArray(value))
    return Object.entries(value)
      .sort(([a], [b]) => angleOrder.indexOf(a) - angleOrder.indexOf(b))
      .map(([name, part]) => `${name} ${Number(part.toFixed(2)) + 0}`)
      .join(', ')
  return value.map((part) => (Array.isArray(part) ? part.map(short).join(' ') : short(part))).join(', ')
}

/** A bound in figures: hundredths, or whole as it is. */
const bound = (value: number): string => (Number.isInteger(value) ? String(value) : value.toFixed(2))

export const limitWords = ({ limit, verdict, unit }: Finding): string => {
  if (limit === undefined) return verdict === 'shown' ? 'shown, not judged' : ''
  const { min, max, equals, within } = limit
  if (typeof equals === 'string' || typeof equals === 'number') return `the sheet says ${equals}`
  if (typeof equals === 'object' && equals !== null)
    return `the board is told ${valueWords(equals as Record<string, number>)}${within === undefined ? '' : `; up to ${within} ${unit} off is the same`}`
  if (min !== undefined && max !== undefined) return `allowed ${bound(min)} to ${bound(max)}`
  if (max !== undefined) return `at most ${bound(max)}`
  return min !== undefined ? `at least ${bound(min)}` : ''
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
