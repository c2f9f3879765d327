import type { JobView } from '@taraf/contract'
import { checkById, planOf } from '@taraf/core'
import { MarkPad } from '../parts/MarkPad'
import { PoseFigure } from '../parts/PoseFigure'
import { StepsLine } from '../parts/StepsLine'
import { Column, Reading, Row, Words } from '../parts/type'
import { useNextSegmentMutation } from '../store/jobs'
import { stepsOf, useTakeAtStep } from '../store/takeInHand'

const laid = { rollDeg: 0, pitchDeg: 0, leastDeg: 0 }

/** A guided take: the pose that is asked for, drawn, how far the airframe is from it, and the poses done as ticks. */
export const poseLive = (checkId: string) => {
  const PoseLive = ({ job }: { job: JobView }) => {
    const [next, going] = useNextSegmentMutation()
    const check = checkById(checkId)
    const plan = check === undefined ? [] : planOf(check, job.sheet)
    const running = useTakeAtStep(checkId)
    const want = running?.want ?? plan[0]
    if (want === undefined) return null
    const pose = want.kind === 'pose' ? want : laid
    const guide = running?.guide ?? null
    const asksMark = running !== null && want.kind === 'pose' && want.says === 'up'
    return (
      <Column gap="$3">
        <Row alignItems="baseline">
          <Reading size="decides" data-reading="tilt">
            {guide?.tiltDeg?.toFixed(0) ?? '–'}
          </Reading>
          <Words kind="faint">
            {pose.leastDeg > 0
              ? `deg from the first pose; at least ${pose.leastDeg} are wanted`
              : 'deg; this pose is the one the others are measured from'}
          </Words>
        </Row>
        <PoseFigure rollDeg={pose.rollDeg} pitchDeg={pose.pitchDeg} tiltDeg={guide?.tiltDeg ?? null} />
        <Words kind="strong" data-guide="words">
          {guide?.words ?? want.ask}
        </Words>
        <StepsLine label="Poses" steps={stepsOf(plan, running)} />
        {asksMark && (
          <MarkPad
            geometry={job.sheet.geometry}
            marked={running.said === true}
            off={going.isLoading}
            onMark={(up) => void next({ job: job.id, up })}
          />
        )}
      </Column>
    )
  }
  return PoseLive
}
