import type { JobView } from '@taraf/contract'
import { AskLine } from '../../parts/AskLine'
import { ArmedLine } from '../../parts/ArmedLine'
import { OutputBars } from '../../parts/OutputBars'
import { Column } from '../../parts/type'
import { useTakeAtStep } from '../../store/takeInHand'

/** What to do with both hands on the airframe, whether the board arms, and how hard it pushes at each position. */
export const ResponseLive = ({ job }: { job: JobView }) => {
  const take = useTakeAtStep('motors.response')
  return (
    <Column gap="$3">
      <AskLine words={take?.want?.ask} />
      {take !== null && <ArmedLine />}
      <OutputBars job={job} />
    </Column>
  )
}
