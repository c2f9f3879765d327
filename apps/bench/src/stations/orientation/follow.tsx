import type { JobView } from '@taraf/contract'
import { degrees, limitFor, mean, tiltOf } from '@taraf/core'
import { ring } from '../../live/feed'
import { useFrames } from '../../live/useFrames'
import { Column, Reading, Row, Words } from '../../parts/type'
import { poseLive } from '../PoseLive'
import type { Panel } from '../panel'
import { fixed } from '../../parts/fixed'

const overS = 0.3
const Poses = poseLive('orientation.follow')

/** What the board reports now, and what gravity says of the same tilt: they must agree in every pose. */
const Live = ({ job }: { job: JobView }) => {
  useFrames()
  const most = limitFor(job.sheet, 'follow.tilt').max
  const [ax, ay, az] = [ring.recent('ax', overS), ring.recent('ay', overS), ring.recent('az', overS)]
  const [roll, pitch, yaw] = [ring.last('roll'), ring.last('pitch'), ring.last('yaw')]
  if (ax.length === 0 || roll === null || pitch === null || yaw === null) return <Poses job={job} />
  const gravity = tiltOf([mean(ax), mean(ay), mean(az)])
  const rows = [
    { label: 'roll, right side down', told: degrees(roll), gravity: degrees(gravity.roll) },
    { label: 'pitch, nose up', told: degrees(pitch), gravity: degrees(gravity.pitch) },
  ]
  // Straight up or down, roll is any angle: only pitch can be compared.
  const steep = Math.abs(degrees(gravity.pitch)) > 75
  return (
    <Column gap="$3">
      <Poses job={job} />
      {rows.map(({ label, told, gravity: by }, i) => (
        <Row key={label} justifyContent="space-between" flexWrap="wrap">
          <Words kind="small">{label}</Words>
          <Reading data-follow={i === 0 ? 'roll' : 'pitch'}>
            {fixed(told, 0)} deg told, {steep && i === 0 ? 'any' : `${fixed(by, 0)} deg`} by gravity
          </Reading>
        </Row>
      ))}
      <Row justifyContent="space-between" flexWrap="wrap">
        <Words kind="small">yaw, nose right rises</Words>
        <Reading>{fixed(degrees(yaw), 0)} deg told</Reading>
      </Row>
      <Words kind="small">While it is held still, both may differ by {most} deg at most.</Words>
    </Column>
  )
}

export const follow: Panel = {
  Live,
  turned: () => false,
}
