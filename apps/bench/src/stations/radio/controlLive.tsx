import type { JobView } from '@taraf/contract'
import { checkById, planOf } from '@taraf/core'
import { Column, Row, Words } from '../../parts/type'
import { useLiveState } from '../../store/store'
import { Channels } from './Channels'
import { ControlPrompt } from './ControlPrompt'

/** A take in which controls are moved one after the other: the one that is asked for, drawn, and the channels as they come. */
export const controlLive = (checkId: string) => {
  const ControlLive = ({ job }: { job: JobView }) => {
    const { take } = useLiveState()
    const check = checkById(checkId)
    const plan = check === undefined ? [] : planOf(check, job.sheet)
    const running = take?.check === checkId && (take.phase === 'capturing' || take.phase === 'waiting') ? take : null
    const at = running?.step ?? 0
    const want = running?.want ?? plan.find(({ kind }) => kind === 'control')
    if (want === undefined) return null
    return (
      <Column gap="$3">
        <Words kind="heading" data-guide="ask" aria-live="polite">
          {want.ask}
        </Words>
        <ControlPrompt label={want.label} />
        {running?.guide != null && (
          <Words kind="strong" data-guide="words">
            {running.guide.words}
          </Words>
        )}
        <Channels sheet={job.sheet} />
        <Row flexWrap="wrap" gap="$2" role="list" aria-label="Steps done">
          {plan.map(({ label }, i) => (
            <Words key={label} kind={i === at && running !== null ? 'strong' : 'small'} role="listitem">
              {running !== null && i < at ? '✓ ' : ''}
              {stepName(job, label)}
            </Words>
          ))}
        </Row>
      </Column>
    )
  }
  return ControlLive
}

/** What a step is called: a switch by the letter on it. */
const stepName = ({ sheet }: JobView, label: string): string => {
  const channel = /^switch-(\d+)$/.exec(label)?.[1]
  const one = sheet.switches?.find((s) => s.channel === Number(channel))
  return one === undefined ? label.replace('-', ' ') : `switch ${one.name}`
}
