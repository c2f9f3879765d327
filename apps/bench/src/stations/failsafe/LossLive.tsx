import type { JobView } from '@taraf/contract'
import { armedUnder, limitFor, triesOf } from '@taraf/core'
import { tracks } from '../../live/feed'
import { useFrames } from '../../live/useFrames'
import { AskLine } from '../../parts/AskLine'
import { ArmedLine } from '../../parts/ArmedLine'
import { OutputBars } from '../../parts/OutputBars'
import { Column, Words } from '../../parts/type'
import { useTakeAtStep } from '../../store/takeInHand'
import { LossLine } from './LossLine'

const shownS = 14
const commandAt = 12
const nothing = { t: [], rows: [] }

/** What a check of this station tries and why; during a take what to do, and the loss drawn as it comes. */
export const lossLive = (check: string, { bars = false } = {}) =>
  function LossLive({ job }: { job: JobView }) {
    useFrames()
    const take = useTakeAtStep(check)
    const watched = take?.want != null && 'streams' in take.want ? take.want.streams : []
    const { t, rows } = watched.includes('outputs') ? tracks.timed('outputs', shownS) : nothing
    const { min, max } = limitFor(job.sheet, 'loss.command')
    const now = take?.want?.label
    return (
      <Column gap="$3">
        <AskLine words={take?.guide?.words ?? take?.want?.ask} />
        {take?.want != null && armedUnder(take.want) !== null && <ArmedLine />}
        {watched.includes('fix') && <FixLine newest={tracks.rows('fix').at(-1)} />}
        {bars && take !== null && <OutputBars job={job} />}
        {t.length > 1 && (
          <LossLine
            phases={tracks.phases}
            command={t.map((at, i) => ({ t: at, share: rows[i]?.[commandAt] ?? 0 }))}
            hover={take?.hover ?? job.sheet.rotor?.hover ?? null}
            band={{ min: min ?? 0, max: max ?? 0 }}
          />
        )}
        <Column gap="$1">
          <Words kind="strong">What is tried</Words>
          {triesOf(check, job.sheet).map(({ label, words }, i) => (
            <Words key={label} kind={now === label || now === `arm-${label}` ? 'strong' : 'small'}>
              {i + 1}. {words}
            </Words>
          ))}
        </Column>
      </Column>
    )
  }

const FixLine = ({ newest }: { newest: readonly number[] | undefined }) => {
  const [fixed, satellites = 0] = newest ?? []
  return (
    <Words role="status">
      {fixed === undefined
        ? 'Nothing heard of its position receiver yet.'
        : `${fixed === 1 ? 'It has a fix' : 'No fix'}, ${satellites} satellites.`}
    </Words>
  )
}
