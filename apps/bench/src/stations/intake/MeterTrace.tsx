import { Line, Path, Text as SvgText } from 'react-native-svg'
import { Figure } from '../../parts/Figure'
import { useColours } from '../../look/useColours'
import { Loading } from '../../parts/Notice'
import { useEvidenceQuery } from '../../store/jobs'

const width = 320
const height = 150
const edge = { left: 44, right: 10, top: 12, bottom: 26 }

interface TraceProps {
  readonly job: string
  readonly seq: number
  readonly column: 'amps' | 'rail'
  readonly unit: string
  readonly most: number
}

/** What the bench's meter read over the take, with the limit drawn across. */
export const MeterTrace = ({ job, seq, column, unit, most }: TraceProps) => {
  const c = useColours()
  const { data, isLoading } = useEvidenceQuery({ job, seq, stream: 'meter' })
  const meter = data?.segments[0]?.streams.meter
  if (isLoading) return <Loading what="the trace" />
  if (meter === undefined) return null
  const [t, values] = [Array.from(meter.t), Array.from(meter[column])]
  const from = t[0] ?? 0
  const span = Math.max(0.1, (t[t.length - 1] ?? 0) - from)
  const top = 1.15 * Math.max(most, ...values)
  const x = (at: number) => edge.left + ((at - from) / span) * (width - edge.left - edge.right)
  const y = (value: number) => height - edge.bottom - (value / top) * (height - edge.top - edge.bottom)
  return (
    <Figure width={width} height={height} words={`Trace over ${span.toFixed(1)} s, at most ${most} ${unit} allowed`}>
      <Line x1={edge.left} y1={y(0)} x2={width - edge.right} y2={y(0)} stroke={c.mark} strokeWidth={1} />
      <Line
        x1={edge.left}
        y1={y(most)}
        x2={width - edge.right}
        y2={y(most)}
        stroke={c.mark}
        strokeWidth={1.5}
        strokeDasharray="6 3"
      />
      <Path
        d={t.map((at, i) => `${i === 0 ? 'M' : 'L'}${x(at).toFixed(1)} ${y(values[i] ?? 0).toFixed(1)}`).join('')}
        fill="none"
        stroke={c.ink}
        strokeWidth={1.5}
      />
      <SvgText x={edge.left - 6} y={y(most) + 4} fontSize={11} fontFamily="Readings" fill={c.faint} textAnchor="end">
        {most}
      </SvgText>
      <SvgText x={edge.left - 6} y={y(0) + 4} fontSize={11} fontFamily="Readings" fill={c.faint} textAnchor="end">
        0 {unit}
      </SvgText>
      <SvgText x={width - edge.right} y={height - 8} fontSize={11} fontFamily="Readings" fill={c.faint} textAnchor="end">
        {span.toFixed(1)} s
      </SvgText>
    </Figure>
  )
}
