import type { JobView } from '@taraf/contract'
import { degrees, limitFor } from '@taraf/core'
import { View } from '@tamagui/core'
import { G, Line, Path, Text as SvgText } from 'react-native-svg'
import { Figure } from '../../parts/Figure'
import { ring } from '../../live/feed'
import { useFrames } from '../../live/useFrames'
import { useColours } from '../../look/useColours'
import { Rule } from '../../parts/Rule'
import { Column, Reading, Row, Words } from '../../parts/type'
import type { Panel } from '../panel'

/** What the board reports now, drawn as two elevations. It still holds the plate's own tilt; the take tells them apart. */
const Live = ({ job }: { job: JobView }) => {
  useFrames()
  const most = limitFor(job.sheet, 'level.offset').max
  const [roll, pitch] = [ring.last('roll'), ring.last('pitch')]
  const worst = roll === null || pitch === null ? null : degrees(Math.max(Math.abs(roll), Math.abs(pitch)))
  return (
    <Column gap="$3">
      <Column gap="$0">
        <Row alignItems="baseline">
          <Reading size="decides" data-reading="tilt">
            {worst === null ? '–.––' : worst.toFixed(2)}
          </Reading>
          <Words kind="faint">deg, largest tilt the board reports now</Words>
        </Row>
        <Words kind="small">
          The plate's tilt is still in it. After both placements at most {most} deg may be left of the airframe's own.
        </Words>
      </Column>
      <View flexDirection="row" flexWrap="wrap" columnGap="$5" rowGap="$2">
        <Elevation label="from behind" angle={roll} most={most} positive="right side down" negative="left side down" />
        <Elevation
          label="from its right side"
          angle={pitch === null ? null : -pitch}
          most={most}
          positive="nose down"
          negative="nose up"
        />
      </View>
    </Column>
  )
}

const width = 280
const height = 96

interface ElevationProps {
  readonly label: string
  readonly angle: number | null
  /** What may be left after both placements, degrees. */
  readonly most: number
  readonly positive: string
  readonly negative: string
}

/** An elevation with its dimensioned angle: the airframe's line over the level it should keep. Clockwise is positive. */
const Elevation = ({ label, angle, most, positive, negative }: ElevationProps) => {
  const c = useColours()
  const deg = angle === null ? 0 : degrees(angle)
  const [x, y] = [width / 2, 52]
  return (
    <Column gap="$0" flex={1} minWidth={240}>
      <Row justifyContent="space-between">
        <Words kind="small">{label}</Words>
        <Reading>{angle === null ? '–' : `${Math.abs(deg).toFixed(2)} deg ${deg >= 0 ? positive : negative}`}</Reading>
      </Row>
      <Figure
        width={width}
        height={height}
        words={`${label}: ${Math.abs(deg).toFixed(1)} degrees ${deg >= 0 ? positive : negative}`}
      >
        <Line x1={16} y1={y} x2={width - 16} y2={y} stroke={c.mark} strokeWidth={1} strokeDasharray="6 4" />
        <G rotation={deg} origin={`${x}, ${y}`}>
          <Line x1={30} y1={y} x2={width - 30} y2={y} stroke={c.ink} strokeWidth={3} />
          <Path d={`M${x - 26} ${y} v-10 h52 v10`} stroke={c.ink} strokeWidth={2} fill="none" />
          <Path d={`M${x - 34} ${y} l-6 16 M${x + 34} ${y} l6 16`} stroke={c.ink} strokeWidth={2} />
        </G>
        <SvgText x={width - 16} y={y + 18} fontSize={11} fontFamily="Readings" fill={c.faint} textAnchor="end">
          level
        </SvgText>
      </Figure>
      <Rule label={`Tilt ${label}`} value={angle === null ? null : deg} min={-most} max={most} unit="deg" judged={false} />
    </Column>
  )
}

export const level: Panel = {
  Live,
  turned: (step) => step === 'second' || step === 'proof',
}
