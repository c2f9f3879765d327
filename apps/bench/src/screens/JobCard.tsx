import type { Change, JobView, StoredEntry } from '@taraf/contract'
import { checks, missingNeeds, parkedFor, stations } from '@taraf/core'
import { useLocalSearchParams, useRouter } from 'expo-router'
import { View } from '@tamagui/core'
import { useDispatch } from 'react-redux'
import { useState } from 'react'
import { Act } from '../parts/Act'
import { dateWords } from '../parts/dates'
import { Field } from '../parts/Field'
import { Notice, ProblemNotice } from '../parts/Notice'
import { Plan } from '../parts/Plan'
import { OverallMark, StandingMark } from '../parts/StandingMark'
import { entryWords } from '../parts/entryWords'
import { Column, Paper, Row, Words } from '../parts/type'
import { problemOf } from '../store/api'
import { useRecordChangeMutation } from '../store/jobs'
import { useMeQuery } from '../store/people'
import { useView, viewChanged } from '../store/store'
import { BenchChoice } from './BenchChoice'
import { JobFrame } from './JobFrame'
import { OpenItems, Parking } from './OpenItems'

/** The job card: its bench, its route with what each check is worth, what was changed, and everything on it. */
export const JobCard = () => {
  const { id } = useLocalSearchParams<{ id: string }>()
  const router = useRouter()
  return (
    <JobFrame
      id={id}
      at={null}
      actions={(job) => {
        const next = nextCheck(job)
        return (
          <Act
            grow
            kind="main"
            label={next === null ? 'Handover record' : `Next: ${next.title}`}
            onPress={() => router.push(next === null ? `/jobs/${id}/handover` : `/jobs/${id}/${next.id}`)}
          />
        )
      }}
    >
      {(job) => <Card job={job} />}
    </JobFrame>
  )
}

const nextCheck = (job: JobView) =>
  job.closedAt !== null
    ? null
    : (checks.find(
        (check) =>
          ['open', 'fail', 'stale'].includes(job.standings[check.id]?.state ?? 'open') &&
          missingNeeds(check, job.standings).length === 0,
      ) ?? null)

const Card = ({ job }: { job: JobView }) => {
  const router = useRouter()
  const { guidance } = useView()
  const dispatch = useDispatch()
  return (
    <View flexDirection="column" gap="$5" $wide={{ flexDirection: 'row', alignItems: 'flex-start' }}>
      <Column gap="$4" $wide={{ width: 280 }}>
        <Row justifyContent="space-between" flexWrap="wrap">
          <Words kind="title">Job card {job.number}</Words>
          <OverallMark overall={job.overall} />
        </Row>
        <Words kind="small">
          {job.sheet.title}, sheet {job.sheet.type} version {job.sheet.version}, opened {dateWords(job.openedAt)} by{' '}
          {job.openedBy}
        </Words>
        <View alignItems="center" display="none" $wide={{ display: 'flex' }}>
          <Plan geometry={job.sheet.geometry} size={260} />
        </View>
        <Parking job={job} />
        {job.closedAt === null && parkedFor(job.entries) === null && <BenchChoice job={job} />}
        <Row flexWrap="wrap">
          <Act kind="quiet" label="All settings" onPress={() => router.push(`/jobs/${job.id}/settings`)} />
          <Act
            kind="quiet"
            label={`Guidance: ${guidance}`}
            onPress={() => dispatch(viewChanged({ guidance: guidance === 'full' ? 'bare' : 'full' }))}
          />
          <Act kind="quiet" label="Fault finder" onPress={() => router.push(`/faults?job=${job.id}`)} />
        </Row>
        {job.closedAt !== null && (
          <Notice
            title={`Handed over ${dateWords(job.closedAt)}`}
            todo="Open a new job card on the airframe for further work."
            act={{ label: 'Airframe', onPress: () => router.push(`/airframes/${job.tag}`) }}
          />
        )}
      </Column>
      <Column gap="$3" minWidth={0} $wide={{ flex: 1 }}>
        <Words kind="heading">Stations</Words>
        {stations
          .filter((station) => checks.some((check) => check.station === station.id))
          .map((station) => (
            <Paper key={station.id}>
              <Words kind="small">
                {station.number} {station.title}
              </Words>
              {checks
                .filter((check) => check.station === station.id)
                .map((check) => (
                  <Row key={check.id} justifyContent="space-between" flexWrap="wrap">
                    <Column gap="$0" flex={1} minWidth={160}>
                      <Words kind="strong">{check.title}</Words>
                      <Words kind="small">{standingWords(job, check.id)}</Words>
                    </Column>
                    <StandingMark state={job.standings[check.id]?.state ?? 'open'} />
                    <Act label="Open" named={`Open ${check.title}`} onPress={() => router.push(`/jobs/${job.id}/${check.id}`)} />
                  </Row>
                ))}
            </Paper>
          ))}
      </Column>
      <Column gap="$3" $wide={{ width: 340 }}>
        <OpenItems job={job} />
        {job.closedAt === null && <RecordChange job={job} />}
        <Words kind="heading">On this card</Words>
        {job.entries.length === 0 && <Notice title="Nothing yet" todo="Link a bench and take the first check." />}
        {[...job.entries].reverse().map((entry) => (
          <EntryLine key={entry.seq} entry={entry} people={job.people} />
        ))}
      </Column>
    </View>
  )
}

/** Why a check is worth what it is. */
export const standingWords = (job: JobView, check: string): string => {
  const { state, take, by } = job.standings[check] ?? { state: 'open' as const }
  const cause = job.entries.find((e) => e.seq === by)
  if (state === 'stale' && cause !== undefined) return `spoiled by entry ${cause.seq}: ${entryWords(cause)}`
  if (state === 'aside' && cause?.body.kind === 'aside') return `set aside: ${cause.body.reason}`
  if (take !== undefined) return `by take ${take}`
  return state === 'absent' ? 'the sheet does not need it' : 'nothing taken yet'
}

const EntryLine = ({ entry, people }: { entry: StoredEntry; people: JobView['people'] }) => (
  <Column gap="$0" borderLeftWidth={2} borderColor="$line" paddingLeft="$3">
    <Words>
      {entry.seq}. {entryWords(entry)}
    </Words>
    <Words kind="small">
      {dateWords(entry.at)}, {people[entry.by] ?? 'unknown'}
    </Words>
  </Column>
)

/** What hands did, as far as the sheet has the part that it was done to. */
const recordable: readonly { label: string; change: Change; of?: NonNullable<JobView['sheet']['fitted']>[number] }[] = [
  { label: 'Knocked', change: { what: 'knock' } },
  { label: 'Board remounted', change: { what: 'remount' } },
  { label: 'Board fastened', change: { what: 'part', part: 'board', act: 'fastened' } },
  { label: 'Compass replaced', change: { what: 'part', part: 'compass', act: 'replaced' }, of: 'compass' },
  { label: 'Barometer replaced', change: { what: 'part', part: 'barometer', act: 'replaced' }, of: 'barometer' },
  { label: 'Position receiver replaced', change: { what: 'part', part: 'position receiver', act: 'replaced' }, of: 'position' },
  { label: 'Power wires moved', change: { what: 'part', part: 'power wiring', act: 'replaced' } },
  { label: 'Motor replaced', change: { what: 'part', part: 'motor', act: 'replaced' } },
  { label: 'Receiver replaced', change: { what: 'part', part: 'receiver', act: 'replaced' } },
  { label: 'Receiver leads moved', change: { what: 'part', part: 'receiver leads', act: 'replaced' } },
  { label: 'Regulator replaced', change: { what: 'part', part: 'regulator', act: 'replaced' } },
  { label: 'Video antenna fitted', change: { what: 'part', part: 'video antenna', act: 'fastened' } },
  { label: 'Plug moved or reseated', change: { what: 'part', part: 'sockets', act: 'fastened' } },
  { label: 'Firmware of a part changed', change: { what: 'part', part: 'part firmware', act: 'replaced' } },
]

/** Records by hand what no sensor can tell. It says what it will spoil by what the card shows right after. */
const RecordChange = ({ job }: { job: JobView }) => {
  const { data: me } = useMeQuery()
  const [chosen, choose] = useState<(typeof recordable)[number] | null>(null)
  const [cause, setCause] = useState('')
  const [record, recording] = useRecordChangeMutation()
  if (me?.role === 'reader') return null
  const submit = async () => {
    if (chosen === null) return
    const result = await record({ job: job.id, change: chosen.change, cause: cause.trim() })
    if ('error' in result) return
    choose(null)
    setCause('')
  }
  return (
    <Column>
      <Words kind="heading">Record what was done</Words>
      <Row flexWrap="wrap">
        {recordable
          .filter(({ of }) => of === undefined || job.sheet.fitted?.includes(of))
          .map((one) => (
            <Act
              key={one.label}
              label={one.label}
              selected={chosen === one}
              onPress={() => choose(chosen === one ? null : one)}
            />
          ))}
      </Row>
      {chosen !== null && (
        <Paper>
          <Field label="How and why" value={cause} onChange={setCause} onSubmitEditing={() => void submit()} />
          <Row>
            <Act
              label={`Record: ${chosen.label.toLowerCase()}`}
              off={cause.trim().length < 3 || recording.isLoading}
              onPress={() => void submit()}
            />
            <Act kind="quiet" label="Leave it" onPress={() => choose(null)} />
          </Row>
          <Words kind="small">What it spoils goes stale at once; an entry is never taken back.</Words>
        </Paper>
      )}
      <ProblemNotice problem={problemOf(recording.error)} />
    </Column>
  )
}
