import type { JobView } from '@taraf/contract'
import { checkById, planOf } from '@taraf/core'
import { AskLine } from '../../parts/AskLine'
import { StepsLine } from '../../parts/StepsLine'
import { Column, Words } from '../../parts/type'
import { stepsOf, useTakeAtStep } from '../../store/takeInHand'
import { Channels } from './Channels'
import { ControlPrompt } from './ControlPrompt'

/** A take in which controls are moved one after the other: the one that is asked for, drawn, and the channels as they come. */
export const controlLive = (checkId: string) => {
  const ControlLive = ({ job }: { job: JobView }) => {
    const check = checkById(checkId)
    const plan = check === undefined ? [] : planOf(check, job.sheet)
    const running = useTakeAtStep(checkId)
    const want = running?.want ?? plan.find(({ kind }) => kind === 'control')
    if (want === undefined) return null
    return (
      <Column gap="$3">
        <AskLine words={want.ask} />
        <ControlPrompt label={want.label} />
        {running?.guide != null && (
          <Words kind="strong" data-guide="words">
            {running.guide.words}
          </Words>
        )}
        <Channels sheet={job.sheet} />
        <StepsLine label="Steps done" steps={stepsOf(plan, running)} name={(label) => stepName(job, label)} />
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
