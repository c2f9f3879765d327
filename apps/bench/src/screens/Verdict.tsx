import type { Finding, JobView, Remedy } from '@taraf/contract'
import { checkById, findingWords } from '@taraf/core'
import { useMedia } from '@tamagui/core'
import { memo } from 'react'
import { Act } from '../parts/Act'
import { dateWords } from '../parts/dates'
import { Fold } from '../parts/Fold'
import { FoundRule } from '../parts/FoundRule'
import { ProblemNotice } from '../parts/Notice'
import { StandingMark, StandingShape } from '../parts/StandingMark'
import { Column, Paper, Reading, Row, Words } from '../parts/type'
import type { Panel } from '../stations/panel'
import { problemOf } from '../store/api'
import { useApplyRemedyMutation } from '../store/jobs'
import { SetOnTransmitter } from './SetOnTransmitter'
import { WorkDone, WorkRecorded } from './WorkDone'
import { canDo, limitWords, remediesOf, valueWords, type TakeEntry } from '../parts/findings'

interface VerdictProps {
  readonly job: JobView
  readonly take: TakeEntry
  readonly panel: Panel
  /** Whether what it says to do may be done now. */
  readonly mayMend: boolean
}

/** What a take found: what fails first and large, each with what to do; what is drawn of it; what passed as a table; what was there before a write folded. */
export const Verdict = memo(function Verdict({ job, take, panel, mayMend }: VerdictProps) {
  const { wide } = useMedia()
  const { check: id, verdict, findings } = take.body
  const check = checkById(id)
  const called = (key: string) => (check === undefined ? key : findingWords(check, key, job.sheet))
  const isFailing = (f: Finding) => f.verdict === 'fail' || f.verdict === 'refused'
  const isBefore = ({ key }: Finding) => key.endsWith('Before')
  const failing = findings.filter(isFailing)
  const others = findings.filter((f) => !isFailing(f) && !isBefore(f))
  const before = findings.filter((f) => !isFailing(f) && isBefore(f))
  const remedies = new Map(remediesOf(findings).map(({ key, remedy }) => [key, remedy]))
  const todo = (key: string) => {
    const remedy = remedies.get(key)
    return remedy === undefined ? null : <ToDo key={key} job={job} seq={take.seq} of={key} remedy={remedy} may={mayMend} />
  }
  const table = (of: readonly Finding[]) => <Found findings={of} called={called} />
  return (
    <Column role="region" aria-label="Verdict">
      <Row flexWrap="wrap" justifyContent="space-between">
        <StandingMark state={verdict} />
        <Words kind="small">
          take {take.seq}, {dateWords(take.at)}
        </Words>
      </Row>
      {failing.map((finding) => (
        <Paper key={finding.key} borderLeftWidth={4} borderLeftColor="$fail" gap="$2">
          <Failing finding={finding} called={called(finding.key)} />
          {todo(finding.key)}
        </Paper>
      ))}
      {panel.Result !== undefined && panel.draws?.(take.body) !== false && (
        <Paper>
          <panel.Result job={job} take={take} />
        </Paper>
      )}
      {others.map(({ key }) => todo(key))}
      {others.length > 0 &&
        (wide || failing.length === 0 ? (
          table(others)
        ) : (
          <Fold what={`${others.length} that ${others.length === 1 ? 'does' : 'do'} not fail`}>{table(others)}</Fold>
        ))}
      {before.length > 0 && <Fold what="what was found before the write">{table(before)}</Fold>}
    </Column>
  )
})

/** What fails: what it is called, the value large, its limit, and where on its rule it lies. */
const Failing = ({ finding, called }: { finding: Finding; called: string }) => {
  const { value, unit, limit = {}, verdict } = finding
  if (verdict === 'refused') return <Words>Not usable: {String(value)}.</Words>
  const { min, max } = limit
  return (
    <Column gap="$1">
      <Row flexWrap="wrap" justifyContent="space-between" columnGap="$3" rowGap="$0">
        <Words kind="strong" flexShrink={1}>
          {called}
        </Words>
        <Reading size="small" color="$faint">
          {limitWords(finding)}
        </Reading>
      </Row>
      {typeof value === 'number' ? (
        <Row alignItems="baseline" flexWrap="wrap">
          <Reading size="decides" color="$fail">
            {valueWords(finding)}
          </Reading>
          <Words kind="faint">{unit}</Words>
        </Row>
      ) : (
        <Reading color="$fail">{[valueWords(finding), unit].filter((w) => w !== '').join(' ')}</Reading>
      )}
      {typeof value === 'number' && (min !== undefined || max !== undefined) && (
        <FoundRule label={called} value={value} {...(min === undefined ? {} : { min })} {...(max === undefined ? {} : { max })} />
      )}
    </Column>
  )
}

interface ToDoProps {
  readonly job: JobView
  readonly seq: number
  readonly of: string
  readonly remedy: Remedy
  readonly may: boolean
}

/** A remedy, with the button that does it where Taraf can. */
const ToDo = ({ job, seq, of: key, remedy, may }: ToDoProps) => {
  const [apply, applying] = useApplyRemedyMutation()
  const does = remedy.by === 'calibration' ? 'Let the board measure it' : 'Write it to the board'
  return (
    <Column gap="$2">
      <Words kind="strong">{remedy.act}</Words>
      {remedy.by === 'settings' && (
        <Reading size="small" color="$faint">
          {Object.entries(remedy.settings)
            .map(([name, value]) => `${name} = ${value}`)
            .join(', ')}
        </Reading>
      )}
      {canDo(remedy) && may && (
        <Act
          label={applying.isLoading ? 'Writing, restarting, reading back …' : does}
          hotkey="r"
          off={applying.isLoading}
          onPress={() => void apply({ job: job.id, seq, key })}
        />
      )}
      {remedy.by === 'transmitter' && may && <SetOnTransmitter job={job} seq={seq} remedy={remedy} />}
      {remedy.by === 'work' &&
        (may ? <WorkDone job={job} seq={seq} remedy={remedy} /> : <WorkRecorded job={job} seq={seq} remedy={remedy} />)}
      <ProblemNotice problem={problemOf(applying.error)} />
    </Column>
  )
}

/** What was found and does not fail: one row each, with its limit and a small rule. */
const Found = ({ findings, called }: { findings: readonly Finding[]; called: (key: string) => string }) => (
  <Column gap="$0" role="list">
    {findings.map((finding) => (
      <Row
        key={finding.key}
        role="listitem"
        flexWrap="wrap"
        columnGap="$3"
        rowGap="$0"
        paddingVertical="$1"
        borderBottomWidth={1}
        borderColor="$line"
      >
        <Row gap="$2" flexGrow={1} flexShrink={1} flexBasis={130}>
          <StandingShape state={finding.verdict === 'shown' ? 'absent' : finding.verdict} size={16} />
          <Words flexShrink={1}>{called(finding.key)}</Words>
        </Row>
        <Column gap="$0" alignItems="flex-end" flexShrink={1} minWidth={0} maxWidth="100%">
          <Reading textAlign="right">{[valueWords(finding), finding.unit].filter((w) => w !== '').join(' ')}</Reading>
          <Reading size="small" textAlign="right" color="$faint">
            {limitWords(finding)}
          </Reading>
        </Column>
        <SmallRule finding={finding} called={called(finding.key)} />
      </Row>
    ))}
  </Column>
)

const SmallRule = ({ finding: { value, limit }, called }: { finding: Finding; called: string }) => {
  const { min, max } = limit ?? {}
  if (typeof value !== 'number' || (min === undefined && max === undefined)) return null
  return (
    <Column width={72}>
      <FoundRule
        label={called}
        value={value}
        width={72}
        {...(min === undefined ? {} : { min })}
        {...(max === undefined ? {} : { max })}
      />
    </Column>
  )
}
