import type { Geometry } from '@taraf/contract'
import { memo } from 'react'
import Svg, { Circle, G, Line, Path, Rect, Text as SvgText } from 'react-native-svg'
import { useColours } from '../look/useColours'
import { planAt } from './planAt'

interface PlanProps {
  readonly geometry: Geometry
  readonly size?: number
  /** How it is on the bench: nose up on the drawing, or turned by half a turn. */
  readonly turned?: boolean
  readonly note?: string
  /** Booms to look at, by name. */
  readonly marked?: readonly string[]
}

/** The airframe in plan, to the scale of its build sheet, with its largest dimension. */
export const Plan = memo(function Plan({ geometry, size = 220, turned = false, note, marked = [] }: PlanProps) {
  const c = useColours()
  const { booms, body, propDiameterM } = geometry
  const { reach, scale, middle, end: at } = planAt(geometry, size)
  const [w, l] = [body.widthM * scale, body.lengthM * scale]
  return (
    <Svg
      width={size}
      height={size}
      viewBox={`0 0 ${size} ${size}`}
      role="img"
      aria-label={note ?? `Plan of the airframe, ${booms.length} booms, nose ${turned ? 'down' : 'up'}`}
    >
      <G rotation={turned ? 180 : 0} origin={`${middle}, ${middle}`}>
        {booms.map((boom) => {
          const end = at(boom)
          return (
            <G key={boom.name}>
              <Line x1={middle} y1={middle} x2={end.x} y2={end.y} stroke={c.mark} strokeWidth={4} />
              <Circle
                cx={end.x}
                cy={end.y}
                r={(propDiameterM / 2) * scale}
                stroke={marked.includes(boom.name) ? c.tide : c.line}
                strokeWidth={marked.includes(boom.name) ? 3 : 1}
                fill="none"
              />
              {boom.motors.map((motor) => (
                <Circle
                  key={motor.tier}
                  cx={end.x}
                  cy={end.y}
                  r={motor.tier === 'lower' ? 9 : 5}
                  stroke={c.ink}
                  strokeWidth={1.5}
                  fill={motor.tier === 'lower' ? 'none' : c.sheet}
                />
              ))}
            </G>
          )
        })}
        <Rect x={middle - w / 2} y={middle - l / 2} width={w} height={l} rx={4} fill={c.sheet} stroke={c.ink} strokeWidth={1.5} />
        <Path d={`M${middle} ${middle - l / 2 - 12} l5 10 h-10 Z`} fill={c.tide} />
      </G>
      <SvgText x={middle} y={turned ? size - 4 : 12} fontSize={12} fontFamily="Words" fill={c.faint} textAnchor="middle">
        nose
      </SvgText>
      <Line
        x1={middle - reach * scale}
        y1={size - 14}
        x2={middle + reach * scale}
        y2={size - 14}
        stroke={turned ? 'none' : c.mark}
        strokeWidth={1}
      />
      {!turned && (
        <SvgText x={middle} y={size - 2} fontSize={11} fontFamily="Readings" fill={c.faint} textAnchor="middle">
          {(2 * reach).toFixed(2)} m
        </SvgText>
      )}
    </Svg>
  )
})
