import { frameParts } from '@taraf/core'
import { G, Line, Rect, Text as SvgText } from 'react-native-svg'
import { Figure } from '../../parts/Figure'
import { Column, Words } from '../../parts/type'
import { useColours } from '../../look/useColours'
import type { ResultProps } from '../panel'
import { ticksOf } from './ticks'

const [width, height, left, top, bar] = [340, 112, 8, 34, 26]

/** One command on the wire, to scale: the command, the turn-round and the reply, and the period that they must fit. */
export const SignalLine = ({ take: { body } }: ResultProps) => {
  const c = useColours()
  const whole = body.findings.find((f) => f.key === 'frameUs')
  const signal = body.findings.find((f) => f.key === 'understood')?.value
  const periodUs = whole?.limit?.max
  if (typeof signal !== 'string' || typeof whole?.value !== 'number' || periodUs === undefined) return null
  const bare = frameParts(signal, false)
  // What is longer than the bare command has a reply behind it.
  const parts = whole.value > bare.command + 1e-6 ? frameParts(signal, true) : bare
  const end = 1.06 * Math.max(periodUs, whole.value)
  const x = (us: number) => left + ((width - 2 * left) * us) / end
  const fits = whole.value <= periodUs
  const pieces = [
    { name: 'command', from: 0, us: parts.command, fill: c.tide },
    { name: 'turn', from: parts.command, us: parts.turnRound, fill: c.line },
    { name: 'reply', from: parts.command + parts.turnRound, us: parts.reply, fill: c.mark },
  ].filter(({ us }) => us > 0)
  const words = `${signal}: ${pieces.map(({ name, us }) => `${name} ${us.toFixed(1)} us`).join(', ')}; whole ${whole.value.toFixed(1)} us of a period of ${periodUs.toFixed(0)} us`
  return (
    <Column gap="$1">
      <Figure width={width} height={height} words={words}>
        {pieces.map(({ name, from, us, fill }) => (
          <G key={name}>
            <Rect x={x(from)} y={top} width={Math.max(1, x(from + us) - x(from))} height={bar} fill={fits ? fill : c.fail} />
            <Line x1={x(from)} x2={x(from)} y1={top - 6} y2={top + bar} stroke={c.ink} strokeWidth={1} />
            <SvgText x={x(from) + 3} y={top - 10} fontSize={11} fontFamily="Words" fill={c.faint}>
              {x(from + us) - x(from) > 30 ? name : ''}
            </SvgText>
          </G>
        ))}
        <Line x1={x(periodUs)} x2={x(periodUs)} y1={top - 24} y2={top + bar + 14} stroke={c.ink} strokeWidth={2} />
        <SvgText x={x(periodUs) - 4} y={top - 22} fontSize={11} fontFamily="Words" fill={c.ink} textAnchor="end">
          next command
        </SvgText>
        <Line x1={left} x2={width - left} y1={top + bar + 14} y2={top + bar + 14} stroke={c.mark} strokeWidth={1} />
        {ticksOf(end).map((us) => (
          <G key={us}>
            <Line x1={x(us)} x2={x(us)} y1={top + bar + 14} y2={top + bar + 20} stroke={c.mark} strokeWidth={1} />
            <SvgText x={x(us)} y={top + bar + 34} fontSize={11} fontFamily="Readings" fill={c.faint} textAnchor="middle">
              {us}
            </SvgText>
          </G>
        ))}
      </Figure>
      <Words kind="small">
        {pieces.map(({ name, us }) => `${name === 'turn' ? 'turn-round' : name} ${us.toFixed(1)}`).join(' + ')} us, of{' '}
        {periodUs.toFixed(0)} us
      </Words>
    </Column>
  )
}
