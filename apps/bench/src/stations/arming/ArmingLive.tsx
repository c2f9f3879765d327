import type { JobView } from '@taraf/contract'
import { controlChannels, degrees } from '@taraf/core'
import { ring, tracks } from '../../live/feed'
import { useFrames } from '../../live/useFrames'
import { AskLine } from '../../parts/AskLine'
import { ArmedLine } from '../../parts/ArmedLine'
import { Column, Reading, Row, Words } from '../../parts/type'
import { useTakeAtStep } from '../../store/takeInHand'

/** What to do, whether the board is armed or what it would refuse for, and the quantity that is brought to its edge. */
export const armingLive = (check: string, says: string) => {
  const ArmingLive = ({ job }: { job: JobView }) => {
    useFrames()
    const take = useTakeAtStep(check)
    const want = take?.want ?? null
    const now = want === null ? null : edgeAt(want.label, job)
    return (
      <Column gap="$3">
        <AskLine words={take?.guide?.words ?? want?.ask} />
        {now !== null && (
          <Row alignItems="baseline">
            <Reading size="decides">{now.value}</Reading>
            <Words kind="faint">{now.words}</Words>
          </Row>
        )}
        {want !== null && <ArmedLine />}
        <Words kind="small">{says}</Words>
      </Column>
    )
  }
  return ArmingLive
}

/** The newest of what a step brings slowly to where the board begins to refuse. */
const edgeAt = (label: string, { sheet }: JobView): { value: string; words: string } | null => {
  if (label === 'throttle') {
    const us = tracks.rows('radio').at(-1)?.[(controlChannels(sheet)[0] ?? 3) - 1]
    return { value: us === undefined ? '–' : us.toFixed(0), words: 'us of throttle' }
  }
  if (label.startsWith('tilt-')) {
    const [roll, pitch] = [ring.last('roll'), ring.last('pitch')]
    const lean = roll === null || pitch === null ? null : Math.max(Math.abs(degrees(roll)), Math.abs(degrees(pitch)))
    return { value: lean === null ? '–' : lean.toFixed(0), words: 'deg of tilt, as the board reports it' }
  }
  if (label === 'battery') {
    const volts = tracks.rows('meter').at(-1)?.[0]
    return { value: volts === undefined ? '–' : volts.toFixed(2), words: 'V at the battery’s lead' }
  }
  return null
}
