import { Line, Path, Rect } from 'react-native-svg'
import { useColours } from '../look/useColours'
import { Figure } from './Figure'
import { spreadScale } from './ruleScale'

interface FoundRuleProps {
  readonly label: string
  readonly value: number
  readonly min?: number
  readonly max?: number
  readonly width?: number
}

const edge = 8

/** One value that was found against its limit, to scale: a line with the allowed span as a box and the value on it. */
export const FoundRule = ({ label, value, min, max, width = 320 }: FoundRuleProps) => {
  const c = useColours()
  const bounds = { ...(min === undefined ? {} : { min }), ...(max === undefined ? {} : { max }) }
  const scale = spreadScale(bounds, [value])
  const x = (v: number) => edge + scale.share(v) * (width - 2 * edge)
  const inside = (min === undefined || value >= min) && (max === undefined || value <= max)
  const [from, to] = [x(min ?? scale.from), x(max ?? scale.to)]
  return (
    <Figure width={width} height={22} words={`${label} on its rule: ${inside ? 'within' : 'outside'} the allowed span`}>
      <Line x1={2} y1={16} x2={width - 2} y2={16} stroke={c.mark} strokeWidth={1} />
      <Rect x={from} y={12} width={Math.max(1, to - from)} height={8} fill="none" stroke={c.mark} strokeWidth={1.5} />
      <Path d={`M${x(value)} 15 l-5 -11 h10 Z`} fill={inside ? c.ink : c.fail} />
    </Figure>
  )
}
