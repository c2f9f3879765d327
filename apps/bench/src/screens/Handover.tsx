import type { HandoverBody, JobView } from '@taraf/contract'
import { checkById, checks, findingWords, openItems, outcomeOf, recordLines, signatureInForce } from '@taraf/core'
import { useLocalSearchParams, useRouter } from 'expo-router'
import { useState } from 'react'
import { View } from '@tamagui/core'
import { Act } from '../parts/Act'
import { Code } from '../parts/Code'
import { dateWords } from '../parts/dates'
import { entryWords } from '../parts/entryWords'
import { Field } from '../parts/Field'
import { Notice, ProblemNotice } from '../parts/Notice'
import { StandingMark } from '../parts/StandingMark'
import { TwoColumns, unbroken } from '../parts/TwoColumns'
import { Column, Paper, Reading, Row, Words } from '../parts/type'
import { problemOf } from '../store/api'
import { useSignMutation } from '../store/jobs'
import { useMeQuery } from '../store/people'
import { JobFrame } from './JobFrame'
import { OpenItems } from './OpenItems'
import { limitWords, takesOf, valueWords } from '../parts/findings'

/** The record that goes with the airframe: pass or fail for each check, signed by two people, printable. */
export const Handover = () => {
  const { id } = useLocalSearchParams<{ id: string }>()
  return (
    <JobFrame
      id={id}
      at="handover"
      actions={(job) =>
        job.closedAt !== null && <Act grow kind="main" label="Print the record" onPress={() => globalThis.print()} />
      }
    >
      {(job) => <Record job={job} />}
    </JobFrame>
  )
}

const Record = ({ job }: { job: JobView }) => {
  const handed = job.entries.find((e) => e.body.kind === 'handover')
  const body = handed?.body.kind === 'handover' ? handed.body : null
  const lines = body?.checks ?? recordLines(checks, job.sheet, job.standings, job.entries)
  const outcome = body?.outcome ?? outcomeOf(job.standings)
  return (
    <Paper gap="$5" maxWidth={880} width="100%" alignSelf="center" $wide={{ padding: 40 }} data-print="sheet">
      <CodeNotice job={job} />
      <Row justifyContent="space-between" alignItems="flex-start" flexWrap="wrap">
        <Column gap="$1" flex={1} minWidth={220}>
          <Words kind="title">{body === null ? 'Handover, not yet signed' : 'Handover record'}</Words>
          <Reading size="decides">{job.tag}</Reading>
          <Words>{job.sheet.title}</Words>
          <Words kind="small">
            build sheet {job.sheet.type} version {job.sheet.version}, board {job.board}, job card {job.number}
          </Words>
        </Column>
        <Row>
          <StandingMark state={outcome} />
          <Words>{outcome === 'pass' ? 'to hand over' : 'to hold back'}</Words>
        </Row>
      </Row>
      <Column gap="$0" role="list" aria-label="Checks">
        {lines.map((line) => (
          <Line key={line.check} job={job} line={line} />
        ))}
      </Column>
      <Changes job={job} />
      {job.closedAt === null ? <OpenItems job={job} /> : <LeftOpen job={job} />}
      {body !== null && handed !== undefined ? <Signed job={job} body={body} at={handed.at} /> : <Signing job={job} />}
    </Paper>
  )
}

const Line = ({ job, line }: { job: JobView; line: HandoverBody['checks'][number] }) => {
  const check = checkById(line.check)
  const take = takesOf(job, line.check).find((t) => t.seq === line.take)
  return (
    <Column role="listitem" gap="$1" paddingVertical="$2" borderTopWidth={1} borderColor="$line" style={unbroken}>
      <Row justifyContent="space-between" flexWrap="wrap">
        <Words kind="strong">{line.title}</Words>
        <StandingMark state={line.state} />
      </Row>
      {line.reason !== undefined && <Words>{line.reason}</Words>}
      {take === undefined && line.state === 'open' && <Words kind="faint">Not tested: no take decides it.</Words>}
      {take !== undefined && (
        <TwoColumns least={300}>
          {take.body.findings.map((finding) => (
            <Row key={finding.key} justifyContent="space-between" flexWrap="wrap" rowGap="$0" style={unbroken}>
              <Words kind="small">{check === undefined ? finding.key : findingWords(check, finding.key, job.sheet)}</Words>
              <Reading size="small">
                {[`${valueWords(finding)} ${finding.unit}`.trim(), limitWords(finding)]
                  .filter((words) => words !== '')
                  .join('; ')}
              </Reading>
            </Row>
          ))}
        </TwoColumns>
      )}
      {take !== undefined && (
        <Words kind="small">
          take {take.seq}, {dateWords(take.at)}, {job.people[take.by] ?? 'unknown'}, {take.body.bench}
        </Words>
      )}
    </Column>
  )
}

const Changes = ({ job }: { job: JobView }) => {
  const changes = job.entries.filter((e) => e.body.kind === 'change')
  return (
    <Column gap="$1">
      <Words kind="heading">What was changed</Words>
      {changes.length === 0 && <Words kind="faint">Nothing.</Words>}
      {changes.map((entry) => (
        <Words key={entry.seq} kind="small">
          {entry.seq}. {entryWords(entry)} {dateWords(entry.at)}, {job.people[entry.by] ?? 'unknown'}
        </Words>
      ))}
    </Column>
  )
}

/** What may stay open and did. */
const LeftOpen = ({ job }: { job: JobView }) => {
  const items = openItems(job.entries)
  if (items.length === 0) return null
  return (
    <Column gap="$1">
      <Words kind="heading">Left open</Words>
      {items.map((item) => (
        <Words key={item.seq} kind="small">
          {item.seq}. {item.words}
        </Words>
      ))}
    </Column>
  )
}

/** Two signatures on one device or two: each proves itself with its own password. */
const Signing = ({ job }: { job: JobView }) => {
  const { data: me } = useMeQuery()
  const first = signatureInForce(job.entries)
  const role = first === null ? 'technician' : 'lead'
  const voided = first === null && job.entries.some((e) => e.body.kind === 'signature')
  const unproved = Object.values(job.standings).filter((s) => ['open', 'fail', 'stale'].includes(s.state)).length
  if (job.entries.length === 0)
    return <Notice title="Nothing to sign yet" todo="Take the checks first; the record is made from them." />
  return (
    <Column gap="$3">
      <Words kind="heading">Signatures</Words>
      {unproved > 0 && (
        <Notice
          title={`${unproved} ${unproved === 1 ? 'check does' : 'checks do'} not stand`}
          todo="Signed now, the record says fail and the airframe is held back. Finish them first to hand it over."
        />
      )}
      {voided && (
        <Notice title="The technician's signature is void" todo="Something was added after it. The technician signs again." />
      )}
      {first !== null && <Words>Signed as technician by {job.people[first.by] ?? 'unknown'}.</Words>}
      {me?.role === 'reader' ? (
        <Words kind="faint">A reader cannot sign.</Words>
      ) : (
        <SignForm key={role} job={job} role={role} login={role === 'technician' ? (me?.login ?? '') : ''} />
      )}
    </Column>
  )
}

const SignForm = ({ job, role, login: known }: { job: JobView; role: 'technician' | 'lead'; login: string }) => {
  const [login, setLogin] = useState(known)
  const [password, setPassword] = useState('')
  const [sign, { error, isLoading }] = useSignMutation()
  const submit = async () => {
    const result = await sign({ job: job.id, role, login: login.trim(), password })
    if ('error' in result) setPassword('')
  }
  return (
    <Paper>
      <Words kind="strong">
        {role === 'technician' ? 'The technician signs for what was measured' : 'The lead signs for the handover'}
      </Words>
      <Row flexWrap="wrap" alignItems="flex-end">
        <Field label={`Name of the ${role}`} value={login} onChange={setLogin} autoComplete="off" />
        <Field
          label="Password"
          value={password}
          onChange={setPassword}
          secureTextEntry
          autoComplete="off"
          onSubmitEditing={() => void submit()}
        />
      </Row>
      <Act
        kind="main"
        label={isLoading ? 'Signing …' : `Sign as ${role}`}
        off={isLoading || login.trim() === '' || password === ''}
        onPress={() => void submit()}
      />
      <ProblemNotice problem={problemOf(error)} />
    </Paper>
  )
}

const Signed = ({ job, body, at }: { job: JobView; body: HandoverBody; at: string }) => {
  const head = job.entries.at(-1)
  const code = `${globalThis.location?.origin ?? ''}/jobs/${job.id}/handover?length=${job.entries.length}&head=${head?.hash ?? ''}`
  return (
    <Row gap="$5" flexWrap="wrap" alignItems="flex-start">
      <Column gap="$1" flex={1} minWidth={220}>
        {body.signatures.map(({ role, by, seq }) => (
          <Words key={role}>
            {role}: {job.people[by] ?? 'unknown'} (entry {seq})
          </Words>
        ))}
        <Words kind="small">{dateWords(at)}</Words>
        <Words kind="small">Chain of {job.entries.length} entries, head</Words>
        <Reading size="small" style={{ wordBreak: 'break-all' } as object}>
          {head?.hash ?? ''}
        </Reading>
        {job.shop !== null && (
          <>
            <Words kind="small">Entry {job.shop.no} of the shop’s chain</Words>
            <Reading size="small" style={{ wordBreak: 'break-all' } as object}>
              {job.shop.hash}
            </Reading>
          </>
        )}
      </Column>
      <Code text={code} label="Code that leads to this record" />
    </Row>
  )
}

/** Compares the code on a printed record, which led here, with the record as it is now. */
const CodeNotice = ({ job }: { job: JobView }) => {
  const { head, length } = useLocalSearchParams<{ head?: string; length?: string }>()
  const router = useRouter()
  if (head === undefined || length === undefined) return null
  const same = String(job.entries.length) === length && job.entries.at(-1)?.hash === head
  return same ? (
    <Notice title="The code matches this record" detail={`${length} entries, head ${head.slice(0, 12)}…`} />
  ) : (
    <View role="alert">
      <Notice
        title="The code does not match this record"
        detail={`The paper says ${length} entries; the record has ${job.entries.length}, or another head.`}
        todo="Keep the paper, and have a lead run the audit."
        act={{ label: 'Job card', onPress: () => router.push(`/jobs/${job.id}`) }}
      />
    </View>
  )
}
