import type { Geometry, JobView } from '@taraf/contract'
import { checkById, checks, isToMend, missingNeeds, planOf, questionsOf, type Check } from '@taraf/core'
import { useLocalSearchParams } from 'expo-router'
import { useMedia, View } from '@tamagui/core'
import { useEffect, useRef, useState } from 'react'
import { useDelay } from '../live/delay'
import { useDrawnAges } from '../live/drawnAge'
import { useFeed } from '../live/FeedProvider'
import { Act } from '../parts/Act'
import { Field } from '../parts/Field'
import { Notice, ProblemNotice } from '../parts/Notice'
import { Plan } from '../parts/Plan'
import { StandingMark, StandingShape } from '../parts/StandingMark'
import { Beside, Column, Paper, Reading, Row, Words } from '../parts/type'
import type { Panel } from '../stations/panel'
import { panels } from '../stations/registry'
import { problemOf } from '../store/api'
import { useJobQuery, useSetAsideMutation } from '../store/jobs'
import { useMeQuery } from '../store/people'
import { useLive, useView } from '../store/store'
import { stepsOf, useRunningTake, type PlanStep } from '../store/takeInHand'
import { BenchChoice, LinkNotice } from './BenchChoice'
import { ListBar, ListTake, RunningList, useList } from './ListTake'
import { JobFrame } from './JobFrame'
import { standingWords } from '../parts/standingWords'
import { Spread } from './Spread'
import { TakeBar } from './TakeBar'
import { useTake } from './useTake'
import { Takes } from './Takes'
import { takesOf } from '../parts/findings'
import { Verdict } from './Verdict'

/** One check: what it proves, the reading against its limit, the take, its verdict with the remedy, and all takes. */
export const CheckScreen = () => {
  const { id, check: checkId } = useLocalSearchParams<{ id: string; check: string }>()
  const check = checkById(checkId)
  const panel = panels[checkId]
  const take = useTake(id, checkId)
  const { data: shown } = useJobQuery(id)
  if (check !== undefined && shown !== undefined && questionsOf(check, shown.sheet) !== null)
    return <ListScreen id={id} check={check} />
  return (
    <JobFrame id={id} at={checkId} actions={(job) => check !== undefined && <TakeBar job={job} check={check} take={take} />}>
      {(job) =>
        check === undefined || panel === undefined ? (
          <Notice title="There is no such check" todo="Choose one from the route above." />
        ) : (
          <CheckBody job={job} check={check} panel={panel} problem={take.problem} />
        )
      }
    </JobFrame>
  )
}

/** A check that is asked of the technician: its list in place of a reading. */
const ListScreen = ({ id, check }: { id: string; check: Check }) => {
  const { data: job } = useJobQuery(id)
  const list = useList(job, check)
  const panel = panels[check.id]
  return (
    <JobFrame id={id} at={check.id} actions={(shown) => <ListBar job={shown} check={check} list={list} />}>
      {(shown) =>
        panel === undefined ? null : (
          <CheckBody
            job={shown}
            check={check}
            panel={panel}
            problem={null}
            list={questionsOf(check, shown.sheet) === null ? undefined : list}
          />
        )
      }
    </JobFrame>
  )
}

interface BodyProps {
  readonly job: JobView
  readonly check: Check
  readonly panel: Panel
  readonly problem: ReturnType<typeof useTake>['problem']
  readonly list?: ReturnType<typeof useList> | undefined
}

const CheckBody = ({ job, check, panel, problem, list }: BodyProps) => {
  const told = useLive(({ take }) => take)
  const isUp = useLive(({ link }) => link?.phase === 'up')
  const running = useRunningTake(check.id)
  const { data: me } = useMeQuery()
  const { guidance } = useView()
  const newest = takesOf(job, check.id)[0]
  const standing = job.standings[check.id]
  const here = running !== null
  const plan = planOf(check, job.sheet)
  const { Live } = panel
  const { wide } = useMedia()
  const isOpen = job.closedAt === null
  // What is done while the cable is out is read from here all the same.
  const isAlone = running?.want?.kind === 'watch' && running.want.mayLoseLink === true
  const reading = isOpen && (isUp || isAlone) && Live !== undefined && (
    <Paper role="region" aria-label="Reading">
      <Live job={job} />
      <Delay />
    </Paper>
  )
  const verdictTop = useShownWhenNew(newest?.seq)
  const verdict = newest !== undefined && (
    <div ref={verdictTop} style={belowHeader}>
      <Verdict
        job={job}
        take={newest}
        panel={panel}
        mayMend={isToMend(job.standings, job.entries, newest.seq) && isOpen && job.bench?.heldBy?.id === me?.id && isUp}
      />
    </div>
  )
  const guide = (
    <Guide
      check={check}
      geometry={job.sheet.geometry}
      turned={panel.turned(running?.want?.label ?? null)}
      steps={stepsOf(plan, running)}
      runs={here}
    />
  )
  // What was found is what a technician comes back for: on a phone it stands above what to do. While a take runs, the reading does: the step
  // in hand is said in the bar.
  const guideLater = !wide && (newest !== undefined || here)
  return (
    <Beside>
      <Column gap="$4" $wide={{ width: 260 }}>
        <Column gap="$1">
          <Row justifyContent="space-between" flexWrap="wrap">
            <Words kind="title">{check.title}</Words>
            <StandingMark state={standing?.state ?? 'open'} />
          </Row>
          {(wide || list === undefined) && <Words kind="small">{standingWords(job, check.id)}</Words>}
        </Column>
        {guidance === 'full' && (wide || list === undefined) && <Words>{check.proves}</Words>}
        {list === undefined && !guideLater && guide}
      </Column>
      <Column gap="$4" minWidth={0} $wide={{ flex: 1 }}>
        <ProblemNotice problem={problem} />
        {told?.phase === 'aborted' && told.detail !== undefined && (
          <Notice title="The take was not kept" detail={told.detail} todo="Nothing of it is on the card. Run it again." />
        )}
        {list === undefined && !isAlone && <LinkNotice job={job} />}
        {list === undefined && isOpen && job.bench === null && <BenchChoice job={job} />}
        {missingNeeds(check, job.standings).length > 0 && isOpen && (
          <Notice
            title="Do these first"
            detail={missingNeeds(check, job.standings)
              .map((id) => checks.find((c) => c.id === id)?.title ?? id)
              .join(', ')}
            todo="This check builds on them."
          />
        )}
        {running?.phase === 'waiting' && running.want?.kind === 'answers' && <RunningList job={job} want={running.want} />}
        {(here || wide) && reading}
        {here && guideLater && list === undefined && guide}
        {!wide && verdict}
        {!here && guideLater && list === undefined && guide}
        {!here && !wide && reading}
        {list !== undefined && isOpen && <ListTake job={job} list={list} />}
        {newest !== undefined && !here && list === undefined && <Spread job={job} check={check} />}
      </Column>
      <Column gap="$4" $wide={{ width: 340 }}>
        {wide && verdict}
        <Takes job={job} check={check.id} />
        {me?.role === 'lead' && isOpen && standing?.state !== 'pass' && standing?.state !== 'absent' && (
          <SetAside job={job} check={check.id} />
        )}
      </Column>
    </Beside>
  )
}

/** Brings what it is put on into view when another take is the newest: the list or the figure that stood there is gone. */
const useShownWhenNew = (seq: number | undefined) => {
  const shown = useRef<HTMLDivElement>(null)
  const last = useRef(seq)
  useEffect(() => {
    if (seq !== last.current) shown.current?.scrollIntoView({ block: 'start' })
    last.current = seq
  }, [seq])
  return shown
}
const belowHeader = { scrollMarginTop: 60 } as const

interface GuideProps {
  readonly check: Check
  readonly geometry: Geometry
  readonly turned: boolean
  readonly steps: readonly PlanStep[]
  readonly runs: boolean
}

/** What to do: the airframe as it is to lie, and the steps with the one in hand. */
const Guide = ({ check, geometry, turned, steps, runs }: GuideProps) => {
  const { wide } = useMedia()
  const { guidance } = useView()
  return (
    <Column gap="$3">
      <View flexDirection="row" alignItems="center" gap="$3" $wide={{ flexDirection: 'column', alignItems: 'stretch' }}>
        <Plan geometry={geometry} size={wide ? 240 : 132} turned={turned} />
        <Column flexGrow={1} flexShrink={1} flexBasis={0} gap="$1" role="list" $wide={{ flexBasis: 'auto' }}>
          {steps.map(({ want, isDone, isNow }, i) => (
            <Row key={want.label} role="listitem" alignItems="flex-start" gap="$2">
              {runs && <StandingShape state={isDone ? 'pass' : 'open'} size={16} />}
              <Words
                flex={1}
                kind={isNow || (!runs && i === 0) ? 'strong' : 'faint'}
                {...(isNow ? { 'aria-current': 'step' as const } : {})}
              >
                {steps.length > 1 ? `${i + 1}. ` : ''}
                {want.ask}
              </Words>
            </Row>
          ))}
        </Column>
      </View>
      {guidance === 'full' && check.proof !== undefined && (
        <Words kind="small">
          The take writes what it finds to the board, reads it back, and proves it with another capture. A board that is right is
          left as it is.
        </Words>
      )}
    </Column>
  )
}

/** How old what is drawn is: small, and there only when a link is slow. */
const Delay = () => {
  const feed = useFeed()
  useDrawnAges(feed)
  const delay = useDelay(feed)
  if (delay === null || delay < slowMs) return null
  return (
    <Reading size="small" color="$faint">
      Delay {Math.round(delay)} ms
    </Reading>
  )
}
const slowMs = 100

const SetAside = ({ job, check }: { job: JobView; check: string }) => {
  const [open, setOpen] = useState(false)
  const [reason, setReason] = useState('')
  const [setAside, { error, isLoading }] = useSetAsideMutation()
  if (!open) return <Act label="Set this check aside" onPress={() => setOpen(true)} />
  const submit = async () => {
    const result = await setAside({ job: job.id, check, reason: reason.trim() })
    if (!('error' in result)) setOpen(false)
  }
  return (
    <Paper>
      <Field label="Reason, kept in the record" value={reason} onChange={setReason} />
      <Row>
        <Act label="Set it aside" off={reason.trim().length < 3 || isLoading} onPress={() => void submit()} />
        <Act kind="quiet" label="Leave it" onPress={() => setOpen(false)} />
      </Row>
      <ProblemNotice problem={problemOf(error)} />
    </Paper>
  )
}
