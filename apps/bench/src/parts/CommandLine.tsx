import { G, Line, Path, Rect, Text as SvgText } from 'react-native-svg'
import { Figure } from './Figure'
import { useColours } from '../look/useColours'

const [width, height] = [340, 160]
const edge = { left: 40, right: 8, top: 34, bottom: 24 }

export interface CommandLineProps {
  /** When something began, s, in order, and what it is called. */
  readonly marks: readonly { readonly t: number; readonly words: string }[]
  /** The collective command over time, 0..1. */
  readonly command: readonly { readonly t: number; readonly share: number }[]
  /** The command in hover, 0..1, and where it must lie, points of it; null where none is known. */
  readonly hover: number | null
  readonly band: { readonly min: number; readonly max: number }
}

/** The command on a line of time, against that of hover, with what began when. */
export const CommandLine = ({ marks, command, hover, band }: CommandLineProps) => {
  const c = useColours()
  const [first, last] = [command[0], command[command.length - 1]]
  if (first === undefined || last === undefined || last.t <= first.t) return null
  const top = Math.min(1, Math.max(0.6, ...command.map(({ share }) => share)))
  const x = (t: number) => edge.left + ((t - first.t) / (last.t - first.t)) * (width - edge.left - edge.right)
  const y = (share: number) => height - edge.bottom - (share / top) * (height - edge.top - edge.bottom)
  const shown = marks.filter(({ t }, i) => t <= last.t && (marks[i + 1]?.t ?? Infinity) > first.t)
  const said = shown.map(({ t, words }) => `${words} from ${Math.max(0, t - first.t).toFixed(1)} s`).join(', ')
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
      {shown.map(({ t, words }, i) => {
        const from = x(Math.max(first.t, t))
        const to = x(Math.min(last.t, shown[i + 1]?.t ?? last.t))
        return (
          <G key={`${words}${t}`}>
            <Line x1={from} x2={from} y1={edge.top - 8} y2={height - edge.bottom} stroke={c.mark} strokeWidth={1} />
            {to - from > 36 && (
              <SvgText x={from + 3} y={edge.top - 12} fontSize={12} fontFamily="Words" fill={c.ink}>
                {words}
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
