import { Circle, G, Line, Path, Rect, Text as SvgText } from 'react-native-svg'
import { Figure } from './Figure'
import { useColours } from '../look/useColours'
import { fixed } from './fixed'

interface PoseFigureProps {
  readonly rollDeg: number
  readonly pitchDeg: number
  /** How far it is tilted now, degrees, or null where nothing is known; drawn over the pose that is wanted. */
  readonly tiltDeg: number | null
}

const [width, height] = [300, 156]

/** A pose to hold, in the elevation that shows it: wanted in outline with its angle, and as it is now in full. */
export const PoseFigure = ({ rollDeg, pitchDeg, tiltDeg }: PoseFigureProps) => {
  const views = [
    ...(pitchDeg !== 0 ? [{ title: 'from its right side', angle: -pitchDeg, nose: true }] : []),
    ...(rollDeg !== 0 || pitchDeg === 0 ? [{ title: 'from behind', angle: rollDeg, nose: false }] : []),
  ]
  const whole = Math.hypot(rollDeg, pitchDeg)
  return (
    <Figure
      width={width}
      height={height}
      words={`wanted: ${fixed(pitchDeg, 0)} deg nose up, ${fixed(rollDeg, 0)} deg right side down${tiltDeg === null ? '' : `; tilted by ${tiltDeg.toFixed(0)} deg now`}`}
    >
      {views.map(({ title, angle, nose }, i) => (
        <View
          key={title}
          x={(width / (views.length + 1)) * (i + 1)}
          title={title}
          wanted={angle}
          // Only the size of the tilt is known before the mounting is: it is drawn the way that is asked for.
          now={tiltDeg === null ? null : whole === 0 ? 0 : (angle * tiltDeg) / whole}
          nose={nose}
        />
      ))}
    </Figure>
  )
}

interface ViewProps {
  readonly x: number
  readonly title: string
  readonly wanted: number
  readonly now: number | null
  readonly nose: boolean
}
const View = ({ x, title, wanted, now, nose }: ViewProps) => {
  const c = useColours()
  const y = 66
  const end = (deg: number, radius: number) => {
    const a = (deg * Math.PI) / 180
    return { x: x + Math.cos(a) * radius, y: y + Math.sin(a) * radius }
  }
  const tip = end(wanted, 56)
  return (
    <G>
      <Line x1={x - 64} y1={y} x2={x + 64} y2={y} stroke={c.line} strokeWidth={1} strokeDasharray="6 4" />
      {wanted !== 0 && (
        <Path
          d={`M${x + 56} ${y} A56 56 0 ${Math.abs(wanted) > 180 ? 1 : 0} ${wanted > 0 ? 1 : 0} ${tip.x} ${tip.y}`}
          stroke={c.mark}
          strokeWidth={1}
          fill="none"
        />
      )}
      <G rotation={wanted} origin={`${x}, ${y}`}>
        <Craft x={x} y={y} ink={c.mark} fill="none" dashed nose={nose} mark={c.mark} />
      </G>
      {now !== null && (
        <G rotation={now} origin={`${x}, ${y}`}>
          <Craft x={x} y={y} ink={c.ink} fill={c.sheet} nose={nose} mark={c.tide} />
        </G>
      )}
      <SvgText x={x} y={height - 16} fontSize={11} fontFamily="Words" fill={c.faint} textAnchor="middle">
        {title}
      </SvgText>
      <SvgText x={x} y={height - 3} fontSize={11} fontFamily="Readings" fill={c.ink} textAnchor="middle">
        {`${Math.abs(wanted).toFixed(0)} deg`}
      </SvgText>
    </G>
  )
}

interface CraftProps {
  readonly x: number
  readonly y: number
  readonly ink: string
  readonly fill: string
  readonly mark: string
  readonly nose: boolean
  readonly dashed?: boolean
}
const Craft = ({ x, y, ink, fill, mark, nose, dashed = false }: CraftProps) => {
  const dash = dashed ? { strokeDasharray: '3 3' } : {}
  return (
    <G>
      <Line x1={x - 44} y1={y} x2={x + 44} y2={y} stroke={ink} strokeWidth={2} {...dash} />
      <Rect x={x - 14} y={y - 6} width={28} height={11} fill={fill} stroke={ink} strokeWidth={1.5} {...dash} />
      {[-44, 44].map((at) => (
        <Path
          key={at}
          d={`M${x + at} ${y} v-9 M${x + at - 13} ${y - 10} h26 M${x + at * 0.5} ${y} l${at > 0 ? 5 : -5} 12`}
          stroke={ink}
          strokeWidth={1.5}
          fill="none"
          {...dash}
        />
      ))}
      {nose && <Circle cx={x + 18} cy={y} r={3.5} fill={mark} />}
    </G>
  )
}
