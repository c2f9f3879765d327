import type { JobView } from '@taraf/contract'
import { missingNeeds, type Check } from '@taraf/core'
import { View } from '@tamagui/core'
import { Act } from '../parts/Act'
import { Column, Reading, Row, Words } from '../parts/type'
import { useKeys } from '../parts/useKeys'
import { useMeQuery } from '../store/api'
import { useLiveState } from '../store/store'
import type { useTake } from './useTake'

interface TakeBarProps {
  readonly job: JobView
  readonly check: Check
  readonly take: ReturnType<typeof useTake>
}

/** The action bar of a check: start, go on, stop; and why it cannot start. */
export const TakeBar = ({ job, check, take }: TakeBarProps) => {
  const { data: me } = useMeQuery()
  const { link } = useLiveState()
  const why = whyNot(job, check, me, link)
  const { running } = take
  const may = why === null && running === null && !take.busy
  useKeys({
    t: () => may && take.start(),
    n: () => running?.phase === 'waiting' && take.next(),
    Escape: () => running !== null && take.stop(),
    r: () => may && take.mend(),
  })
  if (running !== null) {
    const segment = check.capture.segments[running.segment]
    return (
      <Column flex={1}>
        <Row justifyContent="space-between">
          <Words kind="strong" role="status" aria-live="polite">
            {running.phase === 'waiting'
              ? segment?.ask
              : running.phase === 'judging'
                ? 'Judging …'
                : 'Capturing: keep your hands off'}
          </Words>
          <Reading>{Math.round(running.share * 100)} %</Reading>
        </Row>
        <View height={6} backgroundColor="$line" role="progressbar" aria-valuenow={Math.round(running.share * 100)}>
          <View height={6} width={`${running.share * 100}%`} backgroundColor="$tide" />
        </View>
        <Row>
          {running.phase === 'waiting' && (
            <Act grow kind="main" label="It lies as asked" hotkey="n" off={take.busy} onPress={take.next} />
          )}
          <Act grow={running.phase !== 'waiting'} kind="plain" label="Stop the take" hotkey="Escape" onPress={take.stop} />
        </Row>
      </Column>
    )
  }
  return (
    <Column flex={1}>
      {why !== null && <Words kind="small">{why}</Words>}
      <Act
        kind="main"
        label={job.entries.some((e) => e.body.kind === 'take' && e.body.check === check.id) ? 'Take it again' : 'Take it'}
        hotkey="t"
        off={!may}
        onPress={take.start}
      />
    </Column>
  )
}

/** Why a take cannot start now, in the technician's words, or null. */
export const whyNot = (
  job: JobView,
  check: Check,
  me: { id: string; role: string } | undefined,
  link: { phase: string; board: string | null } | null,
): string | null => {
  if (job.closedAt !== null) return 'This job card is handed over.'
  if (me === undefined || me.role === 'reader') return 'A reader looks on; a technician takes.'
  if (missingNeeds(check, job.standings).length > 0) return 'Another check comes first.'
  if (job.bench === null) return 'Link a bench first.'
  if (job.bench.heldBy?.id !== me.id) return `${job.bench.heldBy?.name ?? 'Somebody'} holds ${job.bench.name}.`
  if (link?.phase !== 'up') return 'The board does not answer.'
  if (link.board !== job.board) return 'Another board is on this bench.'
  return null
}
