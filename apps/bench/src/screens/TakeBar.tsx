import type { JobView, LinkTell, TakeTell } from '@taraf/contract'
import { planOf, spins, wantsBattery, type Check } from '@taraf/core'
import { useRouter } from 'expo-router'
import { View } from '@tamagui/core'
import { useFeed } from '../live/FeedProvider'
import { Act } from '../parts/Act'
import { HoldControl } from '../parts/HoldControl'
import { Column, Reading, Row, Words } from '../parts/type'
import { WithNext } from './WithNext'
import { useKeys } from '../parts/useKeys'
import { problemOf } from '../store/api'
import { useConfirmMutation } from '../store/jobs'
import { useMeQuery } from '../store/people'
import { ProblemNotice } from '../parts/Notice'
import { useLive } from '../store/store'
import { firstNeed, missingWords } from './missingWords'
import { batteryIn, propsOff } from './propsOff'
import type { useTake } from './useTake'

interface TakeBarProps {
  readonly job: JobView
  readonly check: Check
  readonly take: ReturnType<typeof useTake>
}

/** The action bar of a check: start, go on, stop; and why it cannot start. */
export const TakeBar = ({ job, check, take }: TakeBarProps) => {
  const { data: me } = useMeQuery()
  const link = useLive((live) => live.link)
  const why = whyNot(job, check, me, link)
  const { running } = take
  const feed = useFeed()
  const may = why === null && running === null && !take.busy
  const first = job.closedAt === null && me?.role !== 'reader' ? firstNeed(job, check) : null
  const router = useRouter()
  useKeys({
    t: () => may && take.start(),
    // What sends high to every ESC is held down, and no key beside it does the same.
    n: () => running?.phase === 'waiting' && running.want?.kind !== 'answers' && !isTeaching(running) && take.next(),
    Escape: () => running !== null && take.stop(),
    r: () => may && take.mend(),
  })
  if (running !== null) {
    const { want } = running
    const turns = want?.kind === 'turn' && running.phase !== 'judging'
    const says = want !== null && 'says' in want && running.said !== true ? want.says : undefined
    const waitsForWords = running.phase === 'waiting' && says !== undefined
    const waitsForHand = running.phase === 'waiting' && !waitsForWords && want?.kind === 'capture'
    const teaches = running.phase === 'waiting' && isTeaching(running)
    const waitsForProps =
      running.phase === 'waiting' &&
      want?.kind === 'state' &&
      want.state.props === 'off' &&
      batteryIn(link) &&
      !propsOff(job, link)
    return (
      <Column flex={1}>
        <Row justifyContent="space-between">
          <Words kind="strong" role="status" aria-live="polite" flexShrink={1}>
            {waitsForWords ? saysWords[says] : wordsOf(running)}
          </Words>
          <Reading flexShrink={0}>{Math.round(running.share * 100)} %</Reading>
        </Row>
        <View height={6} backgroundColor="$line" role="progressbar" aria-valuenow={Math.round(running.share * 100)}>
          <View height={6} width={`${running.share * 100}%`} backgroundColor="$tide" />
        </View>
        {waitsForProps && <ConfirmProps job={job} />}
        <Row>
          {teaches && (
            <HoldControl
              danger
              label="Hold: props off, nuts off, send high"
              says="You have looked at every motor. High is sent at once, and kept for half a minute without the battery."
              seconds={1.5}
              off={take.busy || batteryIn(link)}
              onDone={take.next}
            />
          )}
          {turns && (
            <HoldControl
              danger
              label="Hold to turn the motors"
              says="They stop when you let go. Props off, hands away from every motor."
              fill={running.share}
              onBeat={(press) => feed.keep(job.id, press)}
            />
          )}
          {waitsForHand && <Act grow kind="main" label="In position" hotkey="n" off={take.busy} onPress={take.next} />}
          <Act grow={!turns && !waitsForHand && !teaches} kind="plain" label="Stop" hotkey="Escape" onPress={take.stop} />
        </Row>
      </Column>
    )
  }
  if (first !== null)
    return (
      <Column flex={1}>
        {why !== null && <Words kind="small">{why}</Words>}
        <Act kind="main" label={`Do first: ${first.title}`} onPress={() => router.push(`/jobs/${job.id}/${first.id}`)} />
      </Column>
    )
  return (
    <Column flex={1}>
      {why !== null && <Words kind="small">{why}</Words>}
      {why === confirmFirst && <ConfirmProps job={job} />}
      <WithNext job={job} check={check}>
        {(kind) => (
          <Act
            grow
            kind={kind}
            label={job.entries.some((e) => e.body.kind === 'take' && e.body.check === check.id) ? 'Run again' : 'Start'}
            hotkey="t"
            off={!may}
            onPress={take.start}
          />
        )}
      </WithNext>
    </Column>
  )
}

const isTeaching = ({ want }: TakeTell): boolean => want?.kind === 'watch' && want.permit === 'teach'

const confirmFirst = 'Props are not confirmed off for this battery connection.'

/** The statement that motors may turn under: held down, for this battery connection and no other. */
const ConfirmProps = ({ job }: { job: JobView }) => {
  const [confirm, confirming] = useConfirmMutation()
  return (
    <Column>
      <HoldControl
        label="Hold: props off, nuts off"
        says="You have looked at every motor. It holds for this battery connection alone and is kept on the card."
        seconds={1.5}
        off={confirming.isLoading}
        onDone={() => void confirm({ job: job.id, what: 'props off' })}
      />
      <ProblemNotice problem={problemOf(confirming.error)} />
    </Column>
  )
}

const saysWords = {
  up: 'Tap the side that points up',
  antenna: 'Enter where the antenna sits',
  motor: 'Tap the motor that turned, and which way',
} as const

const wordsOf = ({ phase, guide, want }: TakeTell): string | undefined => {
  if (phase === 'judging') return 'Judging …'
  if (phase === 'writing') return 'Writing what was found, restarting, reading back …'
  if (guide != null) return guide.words
  if (want === null) return undefined
  // Where hands have to act, what they do is said for as long as it lasts.
  return phase === 'waiting' || ['pose', 'control', 'watch'].includes(want.kind)
    ? want.ask
    : (want.during ?? 'Capturing: keep your hands off')
}

/** Why a take cannot start now, in the technician's words, or null. */
export const whyNot = (
  job: JobView,
  check: Check,
  me: { id: string; role: string } | undefined,
  link: Pick<LinkTell, 'phase' | 'board' | 'state'> | null,
): string | null => {
  if (job.closedAt !== null) return 'This job card is handed over.'
  if (me === undefined || me.role === 'reader') return 'A reader looks on; a technician takes.'
  const missing = missingWords(job, check)
  if (missing !== null) return missing
  if (job.bench === null) return 'Link a bench first.'
  if (job.bench.heldBy?.id !== me.id) return `${job.bench.heldBy?.name ?? 'Somebody'} holds ${job.bench.name}.`
  if (link?.phase !== 'up') return 'The board does not answer.'
  if (link.board !== job.board) return 'Another board is on this bench.'
  const plan = planOf(check, job.sheet)
  if (wantsBattery(plan) && !batteryIn(link))
    return `${spins(plan) ? 'Motors turn in this check' : 'This check wants the battery'}: take props and nuts off, then plug it in.`
  if (wantsBattery(plan) && !propsOff(job, link)) return confirmFirst
  return null
}
