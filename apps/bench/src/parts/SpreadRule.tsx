import type { Finding } from '@taraf/contract'
import { G, Line, Path, Rect, Text as SvgText } from 'react-native-svg'
import { Figure } from './Figure'
import { useColours } from '../look/useColours'
import { spreadScale } from './ruleScale'

interface SpreadRuleProps {
  readonly label: string
  readonly limit: NonNullable<Finding['limit']>
  /** Of this airframe, oldest first, with the number of each take. */
  readonly takes: readonly { seq: number; value: number }[]
  /** Of other airframes of the type. */
  readonly earlier: readonly number[]
}

const [width, height, edge, baseline] = [320, 62, 14, 26]

/** One finding to scale: the allowed span, other airframes as hairlines above the rule, this one's takes by number below it. */
export const SpreadRule = ({ label, limit: { min, max }, takes, earlier }: SpreadRuleProps) => {
  const c = useColours()
  const scale = spreadScale({ ...(min === undefined ? {} : { min }), ...(max === undefined ? {} : { max }) }, [
    ...earlier,
    ...takes.map((t) => t.value),
  ])
  const x = (v: number) => edge + scale.share(v) * (width - 2 * edge)
  const [from, to] = [x(min ?? scale.from), x(max ?? scale.to)]
  const newest = takes[takes.length - 1]
  return (
    <Figure
      width={width}
      height={height}
      words={`${label}: takes ${takes.map((t) => `${t.seq} at ${t.value.toFixed(2)}`).join(', ')}; ${earlier.length} other airframes`}
    >
      <Line x1={edge} y1={baseline} x2={width - edge} y2={baseline} stroke={c.mark} strokeWidth={1} />
      <Rect x={from} y={baseline - 5} width={Math.max(0, to - from)} height={10} fill="none" stroke={c.mark} strokeWidth={1.5} />
      {[min, max].map(
        (bound) =>
          bound !== undefined && (
            <SvgText key={bound} x={x(bound)} y={10} fontSize={10} fontFamily="Readings" fill={c.faint} textAnchor="middle">
              {Number(bound.toPrecision(Math.abs(bound) < 1000 ? 3 : 4))}
            </SvgText>
          ),
      )}
      {earlier.map((value, i) => (
        <Line key={i} x1={x(value)} y1={baseline - 10} x2={x(value)} y2={baseline - 1} stroke={c.faint} strokeWidth={1} />
      ))}
      {takes.map(({ seq, value }) => {
        const inside = (min === undefined || value >= min) && (max === undefined || value <= max)
        return (
          <G key={seq}>
            <Path
              d={`M${x(value)} ${baseline + 2} l5 11 h-10 Z`}
              fill={inside && seq === newest?.seq ? c.ink : 'none'}
              stroke={inside ? c.ink : c.fail}
              strokeWidth={1.5}
            />
            {seq === newest?.seq && (
              <SvgText x={x(value)} y={baseline + 27} fontSize={11} fontFamily="Readings" fill={c.ink} textAnchor="middle">
                {`take ${seq}`}
              </SvgText>
            )}
          </G>
        )
      })}
    </Figure>
  )
}
