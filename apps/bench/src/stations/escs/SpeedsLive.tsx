import type { JobView } from '@taraf/contract'
import { limitFor, outputsOf } from '@taraf/core'
import { tracks } from '../../live/feed'
import { useFrames } from '../../live/useFrames'
import { AskLine } from '../../parts/AskLine'
import { Column, Reading, Row, Words } from '../../parts/type'
import { useTakeAtStep } from '../../store/takeInHand'

/** What each ESC tells now while motors turn: its speed, and how many of its replies are bad. `says` stands below it. */
export const speedsLive = (check: string, says: (job: JobView) => string) => {
  const SpeedsLive = ({ job }: { job: JobView }) => {
    useFrames()
    const take = useTakeAtStep(check)
    // What came last before the motors stood is no reading of now.
    const now = take === null ? undefined : tracks.rows('escs').at(-1)
    const { max } = limitFor(job.sheet, 'escs.errors')
    return (
      <Column gap="$2">
        <AskLine words={take?.want?.ask} />
        {outputsOf(job.sheet).map((output) => {
          const [rpm, bad] = [now?.[output - 1], now?.[12 + output - 1]]
          return (
            <Row key={output} justifyContent="space-between" alignItems="baseline" borderBottomWidth={1} borderColor="$line">
              <Words>Output {output}</Words>
              <Reading size="large">{rpm === undefined ? '–' : `${rpm.toFixed(0)} rpm`}</Reading>
              <Reading color={bad !== undefined && 100 * bad > max ? '$fail' : '$faint'}>
                {bad === undefined ? '–' : `${(100 * bad).toFixed(1)} % bad`}
              </Reading>
            </Row>
          )
        })}
        <Words kind="small">
          {now === undefined ? 'The board sends this while a take runs. ' : ''}
          {says(job)}
        </Words>
      </Column>
    )
  }
  return SpeedsLive
}
