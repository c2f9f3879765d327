import type { Change, JobView, StoredEntry } from '@taraf/contract'
import { checks, minutesByStation, nextCheck, openItems, parkedFor, stations, whyLeftOut, type Check } from '@taraf/core'
import { Link, useLocalSearchParams, useRouter } from 'expo-router'
import { useMedia, View } from '@tamagui/core'
import { useDispatch } from 'react-redux'
import { useState, type ReactNode } from 'react'
import { Act } from '../parts/Act'
import { dateWords, timeWords } from '../parts/dates'
import { Field } from '../parts/Field'
import { Notice, ProblemNotice } from '../parts/Notice'
import { Plan } from '../parts/Plan'
import { OverallMark, StandingShape, standingWord } from '../parts/StandingMark'
import { entryWords } from '../parts/entryWords'
import { standingWords } from '../parts/standingWords'
import { Column, Paper, Reading, Row, Words } from '../parts/type'
import { problemOf } from '../store/api'
import { useRecordChangeMutation } from '../store/jobs'
import { useMeQuery } from '../store/people'
import { useView, viewChanged } from '../store/store'
import { BenchChoice } from './BenchChoice'
import { JobFrame } from './JobFrame'
import { OpenItems, Parking } from './OpenItems'

/** The whole route at a glance: what stands in the way of handover, the one next act, and a row for each station. */
export const JobCard = () => {
  const { id } = useLocalSearchParams<{ id: string }>()
  const router = useRouter()
  return (
    <JobFrame
      id={id}
      at={null}
      actions={(job) => {
        const next = job.closedAt === null ? nextCheck(checks, job.standings) : null
        return (
          <Act
            grow
            kind="main"
            label={next === null ? 'Handover record' : `Go on: ${next.title}`}
            onPress={() => router.push(next === null ? `/jobs/${id}/handover` : `/jobs/${id}/${next.id}`)}
          />
        )
      }}
    >
      {(job) => <Card job={job} />}
    </JobFrame>
  )
}

const Card = ({ job }: { job: JobView }) => {
  const { wide } = useMedia()
  return (
    <View flexDirection={wide ? 'row' : 'column'} alignItems={wide ? 'flex-start' : 'stretch'} gap={wide ? '$6' : '$4'}>
      <Column gap="$3" $wide={{ width: 290 }}>
        <Row justifyContent="space-between" flexWrap="wrap">
          <Words kind="title">Job card {job.number}</Words>
          <OverallMark overall={job.overall} />
        </Row>
        <Words kind="small">
          {job.sheet.title}, sheet {job.sheet.type} version {job.sheet.version}, opened {dateWords(job.openedAt)} by{' '}
          {job.openedBy}
        </Words>
        {wide && (
          <View alignItems="center">
            <Plan geometry={job.sheet.geometry} size={270} />
          </View>
        )}
        {wide && <Bench job={job} />}
      </Column>
      <Column gap="$3" minWidth={0} $wide={{ flex: 1 }}>
        {!wide && <InTheWay job={job} />}
        <Route job={job} />
        <LeftOut job={job} />
        {!wide && <Bench job={job} />}
      </Column>
      <Column gap="$4" $wide={{ width: 340 }}>
        {wide && <InTheWay job={job} />}
        <Parking job={job} />
        <OpenItems job={job} />
        <More job={job} />
        <Latest job={job} />
      </Column>
    </View>
  )
}

const Bench = ({ job }: { job: JobView }) =>
  job.closedAt === null && parkedFor(job.entries) === null ? <BenchChoice job={job} /> : null

/** What keeps the airframe from being handed over: fails, what went stale and why, and what must be closed first. */
const InTheWay = ({ job }: { job: JobView }) => {
  const router = useRouter()
  if (job.closedAt !== null)
    return (
      <Notice
        title={`Handed over ${dateWords(job.closedAt)}`}
        todo="Open a new job card on the airframe for further work."
        act={{ label: 'Airframe', onPress: () => router.push(`/airframes/${job.tag}`) }}
      />
    )
  const of = (state: string) => checks.filter((check) => job.standings[check.id]?.state === state)
  const [failed, stale] = [of('fail'), of('stale')]
  const blocking = openItems(job.entries).filter((item) => item.blocks)
  if (failed.length + stale.length + blocking.length === 0) return null
  return (
    <Paper role="region" aria-label="In the way of handover" borderLeftWidth={4} borderLeftColor="$fail" gap="$1">
      <Words kind="heading">In the way of handover</Words>
      {failed.map((check) => (
        <Way key={check.id} job={job} check={check.id} state="fail">
          {check.title}
          {whyFailed(job, check.id)}
        </Way>
      ))}
      {[...staleBy(job, stale)].map(([seq, spoiled]) => {
        const cause = job.entries.find((e) => e.seq === seq)
        return (
          <Way key={seq} job={job} check={spoiled[0]?.id ?? ''} state="stale">
            {spoiled.length === 1 ? (spoiled[0]?.title ?? '') : `${spoiled.length} checks`}
            {cause === undefined ? '' : `: ${entryWords(cause)} ${timeWords(cause.at)}`}
          </Way>
        )
      })}
      {blocking.length > 0 && (
        <Words kind="small" numberOfLines={2}>
          {blocking.length === 1 ? '1 open item' : `${blocking.length} open items`}: {blocking[0]?.words}
        </Words>
      )}
    </Paper>
  )
}
/** Stale checks by the entry that spoiled them: one knock is told once. */
const staleBy = (job: JobView, stale: readonly Check[]): ReadonlyMap<number, Check[]> => {
  const by = new Map<number, Check[]>()
  for (const check of stale) {
    const seq = job.standings[check.id]?.by ?? 0
    by.set(seq, [...(by.get(seq) ?? []), check])
  }
  return by
}

const Way = ({ job, check, state, children }: { job: JobView; check: string; state: 'fail' | 'stale'; children: ReactNode }) => (
  <Link href={`/jobs/${job.id}/${check}` as never}>
    <Row minHeight={40} gap="$2" width="100%">
      <StandingShape state={state} />
      <Words flexShrink={1} numberOfLines={2}>
        {children}
      </Words>
    </Row>
  </Link>
)

const whyFailed = (job: JobView, check: string): string => {
  const take = job.standings[check]?.take
  const body = job.entries.find((e) => e.seq === take)?.body
  const failed = body?.kind === 'take' ? body.findings.filter((f) => f.verdict === 'fail').length : 0
  return failed === 0 ? '' : failed === 1 ? ': 1 finding fails' : `: ${failed} findings fail`
}

/** A row for each station: its number, its name, one mark for each check, and how long it has taken. */
const Route = ({ job }: { job: JobView }) => {
  const minutes = minutesByStation(checks, job.entries)
  const next = job.closedAt === null ? nextCheck(checks, job.standings) : null
  return (
    <Column gap="$0" role="list" aria-label="Stations">
      {stations.map((station) => {
        const own = checks.filter((check) => check.station === station.id)
        if (own.length === 0 && station.id !== 'handover') return null
        const here = next?.station === station.id
        return (
          <Row
            key={station.id}
            role="listitem"
            minHeight={48}
            gap="$2"
            borderBottomWidth={1}
            borderColor="$line"
            alignItems="center"
            $wide={{ minHeight: 36 }}
          >
            <Reading size="small" color="$faint" width={22}>
              {station.number}
            </Reading>
            <Link href={stationPath(job, station.id, own) as never} aria-label={`Station ${station.number}, ${station.title}`}>
              <Row minHeight={48} width={82} $wide={{ minHeight: 36, width: 150 }}>
                <Words kind={here ? 'strong' : undefined}>{station.title}</Words>
              </Row>
            </Link>
            <Row flex={1} flexWrap="wrap" gap={0} justifyContent="flex-end">
              {own.map((check) => {
                const state = job.standings[check.id]?.state ?? 'open'
                return (
                  <Link
                    key={check.id}
                    href={`/jobs/${job.id}/${check.id}` as never}
                    aria-label={`${check.title}: ${standingWord(state)}`}
                    {...({ title: `${check.title}: ${standingWords(job, check.id)}` } as object)}
                  >
                    <View width={20} height={40} alignItems="center" justifyContent="center" $wide={{ width: 26, height: 34 }}>
                      <StandingShape state={state} size={17} />
                    </View>
                  </Link>
                )
              })}
            </Row>
            <Words kind="small" width={44} textAlign="right">
              {(minutes[station.id] ?? 0) > 0 ? `${minutes[station.id]} min` : ''}
            </Words>
          </Row>
        )
      })}
    </Column>
  )
}

/** What the sheet leaves out, with its reasons: nobody takes what is not there for a pass. */
const LeftOut = ({ job }: { job: JobView }) => {
  const left = checks.flatMap((check) => {
    const reason = whyLeftOut(job.sheet, check.id)
    return reason === null ? [] : [{ ...check, reason }]
  })
  if (left.length === 0) return null
  return (
    <Column gap="$1" role="list" aria-label="Left out by the sheet">
      <Words kind="heading">Left out by the sheet</Words>
      {left.map(({ id, title, reason }) => (
        <Words key={id} kind="small" role="listitem">
          {title}: {reason}
        </Words>
      ))}
    </Column>
  )
}

const stationPath = (job: JobView, station: string, own: readonly Check[]): string => {
  if (station === 'handover') return `/jobs/${job.id}/handover`
  const first = nextCheck(own, job.standings) ?? own[0]
  return `/jobs/${job.id}/${first?.id ?? ''}`
}

/** What is done now and then on a card. */
const More = ({ job }: { job: JobView }) => {
  const router = useRouter()
  const { guidance } = useView()
  const dispatch = useDispatch()
  const [recording, setRecording] = useState(false)
  const { data: me } = useMeQuery()
  return (
    <Column>
      <Row flexWrap="wrap">
        <Act label="All settings" onPress={() => router.push(`/jobs/${job.id}/settings`)} />
        {job.closedAt === null && me?.role !== 'reader' && (
          <Act label="Record a change" selected={recording} onPress={() => setRecording(!recording)} />
        )}
        <Act kind="quiet" label="Fault finder" onPress={() => router.push(`/faults?job=${job.id}`)} />
        <Act
          kind="quiet"
          label={`Guidance: ${guidance}`}
          onPress={() => dispatch(viewChanged({ guidance: guidance === 'full' ? 'bare' : 'full' }))}
        />
      </Row>
      {recording && <RecordChange job={job} />}
    </Column>
  )
}

/** What happened last, newest first; all of it where it is asked for. */
const Latest = ({ job }: { job: JobView }) => {
  const [all, setAll] = useState(false)
  const newest = [...job.entries].reverse()
  return (
    <Column gap="$2">
      <Words kind="heading">Latest</Words>
      {newest.length === 0 && <Notice title="Nothing yet" todo="Link a bench and start the first check." />}
      {newest.slice(0, all ? undefined : mostLatest).map((entry) => (
        <EntryLine key={entry.seq} entry={entry} people={job.people} />
      ))}
      {newest.length > mostLatest && (
        <Row>
          <Act
            kind="quiet"
            label={all ? 'Show the latest only' : `Show all ${newest.length} entries`}
            onPress={() => setAll(!all)}
          />
        </Row>
      )}
    </Column>
  )
}
const mostLatest = 5

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
  { label: 'Receiver fed otherwise', change: { what: 'part', part: 'receiver feed', act: 'fastened' } },
  { label: 'Receiver set otherwise at loss', change: { what: 'part', part: 'receiver at loss', act: 'fastened' } },
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
