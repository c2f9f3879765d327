import type { JobView } from '@taraf/contract'
import { directionPatches, limitFor } from '@taraf/core'
import { memo } from 'react'
import { Path, Text as SvgText } from 'react-native-svg'
import { Figure } from '../../parts/Figure'
import { tracks } from '../../live/feed'
import { FieldMapper } from '../../live/fieldMapper'
import { useFrames } from '../../live/useFrames'
import { useColours } from '../../look/useColours'
import { Column, Reading, Row, Words } from '../../parts/type'
import type { Panel } from '../panel'
import { CompassResult } from './CompassResult'

const [width, height, edge] = [320, 200, 12]
const mapper = new FieldMapper(async () => (await import('../../live/startFieldMapper')).startFieldMapper())

/** The directions of the field that the sensor has met so far, on a map of equal areas that fills in. */
const Live = ({ job }: { job: JobView }) => {
  useFrames()
  const covered = limitFor(job.sheet, 'compass.coverage').min
  const most = limitFor(job.sheet, 'compass.residual').max
  const rows = tracks.rows('mag')
  const { seen, coverage, residual, strength } = mapper.of(rows)
  return (
    <Column gap="$3">
      <Row alignItems="baseline">
        <Reading size="decides" data-reading="coverage">
          {rows.length === 0 ? '–' : Math.round(100 * coverage)}
        </Reading>
        <Words kind="faint">% of all directions met; at least {Math.round(100 * covered)} are wanted</Words>
      </Row>
      <DirectionMap seen={seen} />
      <Row flexWrap="wrap">
        <Reading>{residual === null ? '–' : (100 * residual).toFixed(1)} %</Reading>
        <Words kind="small">left after the fit, at most {Number((100 * most).toFixed(1))} is allowed;</Words>
        <Reading>{strength === null ? '–' : strength.toFixed(1)} uT</Reading>
        <Words kind="small">fitted so far</Words>
      </Row>
      <Words kind="small">
        Every patch is as large a part of all directions as every other. Turn it so that the empty ones fill.
      </Words>
    </Column>
  )
}

/** Lambert's cylindrical map: longitude across, height of the unit sphere down; areas are true. */
const DirectionMap = memo(({ seen }: { seen: ReadonlySet<number> }) => {
  const c = useColours()
  const x = (longitude: number) => edge + (longitude / (2 * Math.PI)) * (width - 2 * edge)
  const y = (z: number) => 10 + ((1 - z) / 2) * (height - 32)
  return (
    <Figure width={width} height={height} words={`${seen.size} of ${directionPatches.length} patches of direction met`}>
      {directionPatches.map(({ high, low, from, to }, i) => (
        <Path
          key={i}
          d={`M${x(from)} ${y(high)} H${x(to)} V${y(low)} H${x(from)} Z`}
          fill={seen.has(i) ? c.tide : 'none'}
          stroke={c.line}
          strokeWidth={0.5}
        />
      ))}
      <SvgText x={edge} y={height - 4} fontSize={11} fontFamily="Words" fill={c.faint}>
        top of the board above, underside below
      </SvgText>
    </Figure>
  )
})
DirectionMap.displayName = 'DirectionMap'

export const compass: Panel = {
  Live,
  Result: CompassResult,
  turned: () => false,
}
