import type { JobView } from '@taraf/contract'
import { triesOf } from '@taraf/core'
import { AskLine } from '../../parts/AskLine'
import { ArmedLine } from '../../parts/ArmedLine'
import { Column, Words } from '../../parts/type'
import { useLiveState } from '../../store/store'
import { useTakeAtStep } from '../../store/takeInHand'

/** What is done on the battery alone, one after the other: nobody can lead through it while the board is not heard. */
export const AloneLive = ({ job }: { job: JobView }) => {
  const take = useTakeAtStep('failsafe.finalForm')
  const { link } = useLiveState()
  const isOut = take !== null && link?.phase !== 'up'
  return (
    <Column gap="$3">
      <AskLine words={take?.guide?.words ?? take?.want?.ask} />
      {isOut ? (
        <Words kind="strong" color="$fail">
          Stop all does not reach it now. Keep a hand at the battery.
        </Words>
      ) : (
        take !== null && <ArmedLine />
      )}
      <Column gap="$1">
        <Words kind="strong">While the cable is out</Words>
        {triesOf('failsafe.finalForm', job.sheet).map(({ label, words }, i) => (
          <Words key={label} kind={isOut ? 'strong' : 'small'}>
            {i + 1}. {words}
          </Words>
        ))}
      </Column>
    </Column>
  )
}
