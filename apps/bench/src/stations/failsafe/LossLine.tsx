import { G, Line, Path, Rect, Text as SvgText } from 'react-native-svg'
import { Figure } from '../../parts/Figure'
import { useColours } from '../../look/useColours'

const [width, height] = [340, 160]
const edge = { left: 40, right: 8, top: 34, bottom: 24 }

/** What each phase of a loss is called on the line. */
const phaseWords: Readonly<Record<string, string>> = {
  none: 'sticks',
  notice: 'missing',
  wait: 'waits',
  act: 'acts',
  end: 'ended',
  recover: 'returns',
}

export interface LossLineProps {
  /** When each phase began, s, in order. */
  readonly phases: readonly { readonly t: number; readonly phase: string }[]
  /** The collective command over time, 0..1. */
  readonly command: readonly { readonly t: number; readonly share: number }[]
  /** The command in hover, 0..1, and where it must lie while it acts, points of it; null where none is known. */
  readonly hover: number | null
  readonly band: { readonly min: number; readonly max: number }
}

/** One loss of signal on a line of time: its phases, and the command against that of hover. */
export const LossLine = ({ phases, command, hover, band }: LossLineProps) => {
  const c = useColours()
  const [first, last] = [command[0], command[command.length - 1]]
  if (first === undefined || last === undefined || last.t <= first.t) return null
  const top = Math.min(1, Math.max(0.6, ...command.map(({ share }) => share)))
  const x = (t: number) => edge.left + ((t - first.t) / (last.t - first.t)) * (width - edge.left - edge.right)
  const y = (share: number) => height - edge.bottom - (share / top) * (height - edge.top - edge.bottom)
  const shown = phases.filter(({ t }, i) => t <= last.t && (phases[i + 1]?.t ?? Infinity) > first.t)
  const said = shown
    .map(({ t, phase }) => `${phaseWords[phase] ?? phase} from ${Math.max(0, t - first.t).toFixed(1)} s`)
    .join(', ')
  return (
    <Figure width={width} height={height} words={`${said}; command ${(100 * last.share).toFixed(0)} % now`}>
      {hover !== null && (
        <G>
          <Rect
            x={edge.left}
            width={width - edge.left - edge.right}
            y={y(hover + band.max / 100)}
            height={y(hover + band.min / 100) - y(hover + band.max / 100)}
            fill={c.line}
          />
          <Line
            x1={edge.left}
            x2={width - edge.right}
            y1={y(hover)}
            y2={y(hover)}
            stroke={c.mark}
            strokeWidth={1.5}
            strokeDasharray="6 3"
          />
          <SvgText x={width - edge.right} y={y(hover) - 4} fontSize={11} fontFamily="Words" fill={c.faint} textAnchor="end">
            hover
          </SvgText>
        </G>
      )}
      {shown.map(({ t, phase }, i) => {
        const from = x(Math.max(first.t, t))
        const to = x(Math.min(last.t, shown[i + 1]?.t ?? last.t))
        return (
          <G key={`${phase}${t}`}>
            <Line x1={from} x2={from} y1={edge.top - 8} y2={height - edge.bottom} stroke={c.mark} strokeWidth={1} />
            {to - from > 36 && (
              <SvgText x={from + 3} y={edge.top - 12} fontSize={12} fontFamily="Words" fill={c.ink}>
                {phaseWords[phase] ?? phase}
              </SvgText>
            )}
          </G>
        )
      })}
      <Path
        d={command.map(({ t, share }, i) => `${i === 0 ? 'M' : 'L'}${x(t).toFixed(1)} ${y(share).toFixed(1)}`).join('')}
        fill="none"
        stroke={c.tide}
        strokeWidth={2}
      />
      <Line x1={edge.left} x2={width - edge.right} y1={y(0)} y2={y(0)} stroke={c.mark} strokeWidth={1} />
      {[0, hover ?? 0.5].map((share) => (
        <SvgText
          key={share}
          x={edge.left - 5}
          y={y(share) + 4}
          fontSize={11}
          fontFamily="Readings"
          fill={c.faint}
          textAnchor="end"
        >
          {(100 * share).toFixed(0)} %
        </SvgText>
      ))}
      <SvgText x={width - edge.right} y={height - 8} fontSize={11} fontFamily="Readings" fill={c.faint} textAnchor="end">
        {(last.t - first.t).toFixed(1)} s
      </SvgText>
    </Figure>
  )
}
