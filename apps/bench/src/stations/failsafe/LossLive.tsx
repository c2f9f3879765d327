import type { JobView } from '@taraf/contract'
import { limitFor, lossesOf } from '@taraf/core'
import { tracks } from '../../live/feed'
import { useFrames } from '../../live/useFrames'
import { ArmedLine } from '../../parts/ArmedLine'
import { Column, Words } from '../../parts/type'
import { useTakeAtStep } from '../../store/takeInHand'
import { LossLine } from './LossLine'

const shownS = 14
const commandAt = 12

/** The losses of the plan and why each is in it; during a take what to do, and the loss drawn as it comes. */
export const LossLive = ({ job }: { job: JobView }) => {
  useFrames()
  const take = useTakeAtStep('failsafe.response')
  const { t, rows } = take === null ? { t: [], rows: [] } : tracks.timed('outputs', shownS)
  const { min, max } = limitFor(job.sheet, 'loss.command')
  const now = take?.want?.label
  return (
    <Column gap="$3">
      {take?.want != null && (
        <Words kind="heading" data-guide="ask" aria-live="polite">
          {take.guide?.words ?? take.want.ask}
        </Words>
      )}
      {take !== null && <ArmedLine />}
      {t.length > 1 && (
        <LossLine
          phases={tracks.phases}
          command={t.map((at, i) => ({ t: at, share: rows[i]?.[commandAt] ?? 0 }))}
          hover={job.sheet.rotor?.hover ?? null}
          band={{ min: min ?? 0, max: max ?? 0 }}
        />
      )}
      <Column gap="$1">
        <Words kind="strong">The losses that are tried</Words>
        {lossesOf(job.sheet).map(({ id, proves }, i) => (
          <Words key={id} kind={now === id || now === `arm-${id}` ? 'strong' : 'small'}>
            {i + 1}. {proves}
          </Words>
        ))}
      </Column>
    </Column>
  )
}
