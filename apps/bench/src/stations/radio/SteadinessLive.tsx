import type { JobView } from '@taraf/contract'
import { limitFor, standardDeviation } from '@taraf/core'
import { tracks } from '../../live/feed'
import { useFrames } from '../../live/useFrames'
import { Rule } from '../../parts/Rule'
import { Column, Reading, Row, Words } from '../../parts/type'
import { Channels } from './Channels'
import { channelRules } from './channelRules'

const leastRows = 20

/** How much the channels shake at rest, over the last second, against the limit. */
export const SteadinessLive = ({ job }: { job: JobView }) => {
  useFrames()
  const rows = tracks.recent('radio', 1).filter((row) => (row[16] ?? 0) > 0)
  const { max } = limitFor(job.sheet, 'radio.noise')
  const worst =
    rows.length < leastRows
      ? null
      : Math.max(
          ...channelRules(job.sheet)
            .filter(({ name }) => name !== 'strength')
            .map(({ channel }) => standardDeviation(rows.map((row) => row[channel - 1] ?? 0))),
        )
  return (
    <Column gap="$3">
      <Row alignItems="baseline" flexWrap="wrap">
        <Reading size="decides" data-reading="noise">
          {worst === null ? '–.–' : worst.toFixed(1)}
        </Reading>
        <Words kind="faint">us rms on the channel that shakes most; at most {max} is allowed</Words>
      </Row>
      <Rule label="Noise of the channels" value={worst} max={max} unit="us rms" markKey={job.id} />
      <Channels sheet={job.sheet} />
    </Column>
  )
}
