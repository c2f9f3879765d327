import { controls, movements, type Control } from '@taraf/core'
import { Circle, G, Line, Path, Text as SvgText } from 'react-native-svg'
import { useColours } from '../../look/useColours'
import { Figure } from '../../parts/Figure'

const width = 300
const height = 120
const [middleX, middleY] = [width / 2, height / 2 - 4]
const reach = 44
const upright: readonly Control[] = ['throttle', 'pitch']
const words: Readonly<Record<Control, readonly [towards: string, back: string]>> = {
  throttle: ['up', 'down'],
  pitch: ['forward', 'back'],
  roll: ['right', 'left'],
  yaw: ['right', 'left'],
}

interface Asked {
  readonly control: Control
  /** To both of its ends, or to the first alone. */
  readonly both: boolean
}

/** The control that a step asks for, by its label; null where it asks for none. */
export const askedControl = (label: string): Asked | null => {
  const one = controls.find((control) => movements[control].label === label)
  if (one !== undefined) return { control: one, both: false }
  const both = controls.find((control) => control === label)
  return both === undefined ? null : { control: both, both: true }
}

/** The stick to move, drawn as a rule that lies or stands as it moves: where it rests, and which way it goes. */
export const ControlPrompt = ({ label }: { label: string }) => {
  const c = useColours()
  const asked = askedControl(label)
  if (asked === null) return null
  const { control, both } = asked
  const stands = upright.includes(control)
  const [dx, dy] = stands ? [0, -1] : [1, 0]
  const rest = control === 'throttle' ? -1 : 0
  const at = (share: number) => ({ x: middleX + dx * share * (stands ? reach : 110), y: middleY + dy * share * reach })
  const [start, end, other] = [at(rest), at(1), at(-1)]
  const arrow = (to: { x: number; y: number }, way: 1 | -1) =>
    stands ? `M${to.x} ${to.y}l-7 ${12 * way}h14Z` : `M${to.x} ${to.y}l${-12 * way} -7v14Z`
  const [towards, back] = words[control]
  return (
    <Figure
      width={width}
      height={height}
      words={`${control} stick: from rest ${towards}${both ? `, then ${back}` : ', and back'}`}
    >
      <Line x1={other.x} y1={other.y} x2={end.x} y2={end.y} stroke={c.mark} strokeWidth={2} />
      <Line x1={start.x} y1={start.y} x2={end.x} y2={end.y} stroke={c.tide} strokeWidth={5} />
      {both && <Line x1={start.x} y1={start.y} x2={other.x} y2={other.y} stroke={c.tide} strokeWidth={5} />}
      <Path d={arrow(end, 1)} fill={c.tide} />
      {both && control !== 'throttle' && <Path d={arrow(other, -1)} fill={c.tide} />}
      <Circle cx={start.x} cy={start.y} r={6} fill={c.sheet} stroke={c.ink} strokeWidth={2} />
      <G>
        <SvgText
          x={stands ? middleX + 18 : end.x + 8}
          y={stands ? end.y + 6 : end.y + 4}
          fontSize={13}
          fontFamily="WordsBold"
          fill={c.ink}
        >
          {towards}
        </SvgText>
        {both && (
          <SvgText
            x={stands ? middleX + 18 : other.x - 8}
            y={stands ? other.y + 4 : other.y + 4}
            fontSize={13}
            fontFamily="WordsBold"
            fill={c.ink}
            textAnchor={stands ? 'start' : 'end'}
          >
            {back}
          </SvgText>
        )}
        <SvgText
          x={stands ? middleX - 18 : middleX}
          y={stands ? middleY + 4 : height - 12}
          fontSize={13}
          fontFamily="Words"
          fill={c.faint}
          textAnchor={stands ? 'end' : 'middle'}
        >
          {control}
        </SvgText>
      </G>
    </Figure>
  )
}
