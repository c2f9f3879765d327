import { Circle, G, Line, Rect, Text as SvgText } from 'react-native-svg'
import { Figure } from '../parts/Figure'
import { useColours } from '../look/useColours'
import { fixed } from '../parts/fixed'

const width = 240
const height = 104

/** The airframe in two elevations as it is held: seen from behind, where roll shows, and from its right side, where pitch does. */
export const Elevations = ({ rollDeg, pitchDeg }: { rollDeg: number; pitchDeg: number }) => (
  <Figure width={width} height={height} words={`held at ${fixed(rollDeg, 0)} deg roll and ${fixed(pitchDeg, 0)} deg nose up`}>
    <Elevation x={60} angleDeg={rollDeg} title="from behind" value={rollDeg} />
    {/* From its right side the nose points right: up is anticlockwise. */}
    <Elevation x={180} angleDeg={-pitchDeg} title="from the right" value={pitchDeg} nose />
  </Figure>
)

interface ElevationProps {
  readonly x: number
  readonly angleDeg: number
  readonly title: string
  readonly value: number
  readonly nose?: boolean
}
const Elevation = ({ x, angleDeg, title, value, nose = false }: ElevationProps) => {
  const c = useColours()
  const y = 46
  return (
    <G>
      <Line x1={x - 52} y1={y} x2={x + 52} y2={y} stroke={c.line} strokeWidth={1} strokeDasharray="4 3" />
      <G rotation={angleDeg} origin={`${x}, ${y}`}>
        <Line x1={x - 40} y1={y} x2={x + 40} y2={y} stroke={c.ink} strokeWidth={2} />
        <Rect x={x - 12} y={y - 5} width={24} height={9} fill={c.sheet} stroke={c.ink} strokeWidth={1.5} />
        {[-40, 40].map((at) => (
          <G key={at}>
            <Rect x={x + at - 4} y={y - 8} width={8} height={6} fill={c.ink} />
            <Line x1={x + at - 14} y1={y - 10} x2={x + at + 14} y2={y - 10} stroke={c.mark} strokeWidth={1.5} />
            <Line x1={x + at * 0.5} y1={y} x2={x + at * 0.6} y2={y + 12} stroke={c.mark} strokeWidth={1.5} />
          </G>
        ))}
        {nose && <Circle cx={x + 14} cy={y} r={3.5} fill={c.tide} />}
      </G>
      <SvgText x={x} y={height - 18} fontSize={11} fontFamily="Words" fill={c.faint} textAnchor="middle">
        {title}
      </SvgText>
      <SvgText x={x} y={height - 4} fontSize={11} fontFamily="Readings" fill={c.ink} textAnchor="middle">
        {`${fixed(value, 0)} deg`}
      </SvgText>
    </G>
  )
}
