import type { JobView } from '@taraf/contract'
import { checkById, segmentsOf } from '@taraf/core'
import { MarkPad } from '../parts/MarkPad'
import { PoseFigure } from '../parts/PoseFigure'
import { Column, Reading, Row, Words } from '../parts/type'
import { useNextSegmentMutation } from '../store/jobs'
import { useLiveState } from '../store/store'

const laid = { rollDeg: 0, pitchDeg: 0, leastDeg: 0 }

/** A guided take: the pose that is asked for, drawn, how far the airframe is from it, and the poses done as ticks. */
export const poseLive = (checkId: string) => {
  const PoseLive = ({ job }: { job: JobView }) => {
    const { take } = useLiveState()
    const [next, going] = useNextSegmentMutation()
    const check = checkById(checkId)
    const segments = check === undefined ? [] : segmentsOf(check)
    const running = take?.check === checkId && (take.phase === 'capturing' || take.phase === 'waiting') ? take : null
    const at = running?.segment ?? 0
    const segment = segments[at]
    if (segment === undefined) return null
    const hold = segment.hold ?? laid
    const guide = running?.guide ?? null
    const asksMark = running !== null && segment.mark === true
    return (
      <Column gap="$3">
        <Row alignItems="baseline">
          <Reading size="decides" data-reading="tilt">
            {guide === null ? '–' : guide.tiltDeg.toFixed(0)}
          </Reading>
          <Words kind="faint">
            {hold.leastDeg > 0
              ? `deg from the first pose; at least ${hold.leastDeg} are wanted`
              : 'deg; this pose is the one the others are measured from'}
          </Words>
        </Row>
        <PoseFigure rollDeg={hold.rollDeg} pitchDeg={hold.pitchDeg} tiltDeg={guide?.tiltDeg ?? null} />
        <Words kind="strong" data-guide="words">
          {guide?.words ?? segment.ask}
        </Words>
        <Row flexWrap="wrap" gap="$2" role="list" aria-label="Poses">
          {segments.map(({ label }, i) => (
            <Words key={label} kind={i === at && running !== null ? 'strong' : 'small'} role="listitem">
              {running !== null && i < at ? '✓ ' : ''}
              {label}
            </Words>
          ))}
        </Row>
        {asksMark && (
          <MarkPad
            geometry={job.sheet.geometry}
            marked={running.marked === true}
            off={going.isLoading}
            onMark={(up) => void next({ job: job.id, up })}
          />
        )}
      </Column>
    )
  }
  return PoseLive
}
