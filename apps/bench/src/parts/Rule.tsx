import { useState } from 'react'
import { Line, Path, Rect, Text as SvgText } from 'react-native-svg'
import { Figure } from './Figure'
import { useColours } from '../look/useColours'
import { extend, ruleScale, type Extremes } from './ruleScale'

interface RuleProps {
  readonly label: string
  readonly value: number | null
  readonly min?: number
  readonly max: number
  readonly unit: string
  /** Clears the pencil marks when it changes. */
  readonly markKey?: string
  /** False where the reading still holds something that the verdict will tell apart: it is shown, not judged. */
  readonly judged?: boolean
}

const width = 320
const height = 56
const edge = 14
const baseline = 34

/** A value against its limit, to scale: the allowed span, the value, and in pencil the least and most it reached. */
export const Rule = ({ label, value, min, max, unit, markKey = '', judged = true }: RuleProps) => {
  const c = useColours()
  const [reached, setReached] = useState<{ key: string; extremes: Extremes | null }>({ key: markKey, extremes: null })
  const before = reached.key === markKey ? reached.extremes : null
  const extremes = value === null ? before : extend(before, value)
  if (extremes !== reached.extremes || markKey !== reached.key) setReached({ key: markKey, extremes })
  const scale = ruleScale({ min, max })
  const x = (v: number) => edge + scale.share(v) * (width - 2 * edge)
  const inside = !judged || value === null || ((min === undefined || value >= min) && value <= max)
  const from = x(min ?? scale.from)
  return (
    <Figure
      width={width}
      height={height}
      words={`${label}: ${value === null ? 'no reading' : value.toFixed(2)} ${unit}, allowed ${min === undefined ? '' : `${min.toFixed(2)} to `}${max.toFixed(2)}`}
    >
      <Line x1={edge} y1={baseline} x2={width - edge} y2={baseline} stroke={c.mark} strokeWidth={1} />
      <Rect x={from} y={baseline - 5} width={x(max) - from} height={10} fill="none" stroke={c.mark} strokeWidth={1.5} />
      <SvgText x={x(max)} y={baseline + 19} fontSize={11} fontFamily="Readings" fill={c.faint} textAnchor="middle">
        {max.toFixed(2)}
      </SvgText>
      {min !== undefined && (
        <SvgText x={x(min)} y={baseline + 19} fontSize={11} fontFamily="Readings" fill={c.faint} textAnchor="middle">
          {min.toFixed(2)}
        </SvgText>
      )}
      {extremes !== null &&
        [extremes.least, extremes.most].map((v, i) => (
          <Line
            key={i}
            x1={x(v)}
            y1={baseline - 9}
            x2={x(v)}
            y2={baseline + 9}
            stroke={c.faint}
            strokeWidth={1}
            strokeDasharray="2 2"
          />
        ))}
      {value !== null && (
        <Path
          d={`M${x(value)} ${baseline} l-6 -14 h12 Z`}
          fill={inside ? c.ink : 'none'}
          stroke={inside ? c.ink : c.fail}
          strokeWidth={2}
          strokeLinejoin="round"
        />
      )}
    </Figure>
  )
}
