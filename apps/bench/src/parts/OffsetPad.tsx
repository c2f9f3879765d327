import type { Geometry, Offset } from '@taraf/contract'
import { useState } from 'react'
import { View, type GestureResponderEvent } from 'react-native'
import Svg, { Circle, G, Line, Rect, Text as SvgText } from 'react-native-svg'
import { useColours } from '../look/useColours'
import { Act } from './Act'
import { Field } from './Field'
import { offsetMm, type OffsetMm } from './offsetMm'
import { Column, Row, Words } from './type'

interface OffsetPadProps {
  readonly geometry: Geometry
  readonly wanted: OffsetMm | null
  readonly entered: boolean
  readonly off: boolean
  readonly onEnter: (offset: Offset) => void
}

const size = 150
const stepMm = 5

/** Where a part sits: tapped on the plan and on the elevation from the right, or typed in millimetres; both show the same. */
export const OffsetPad = ({ geometry, wanted, entered, off, onEnter }: OffsetPadProps) => {
  const [text, setText] = useState({ ahead: '', right: '', up: '' })
  const at = offsetMm(text)
  const set = (part: Partial<OffsetMm>) =>
    setText({ ...text, ...Object.fromEntries(Object.entries(part).map(([name, value]) => [name, String(value)])) })
  const { body } = geometry
  return (
    <Column gap="$2" role="group" aria-label="Where the antenna sits">
      <Words kind="strong">
        {entered ? 'Entered. Enter it again to change it.' : 'Measure where the position antenna sits.'}
      </Words>
      <Row gap="$3" flexWrap="wrap" justifyContent="center">
        <Face
          label="plan, nose up"
          half={[body.widthM * 500, body.lengthM * 500]}
          at={at === null ? null : [at.right, -at.ahead]}
          wanted={wanted === null ? null : [wanted.right, -wanted.ahead]}
          onTap={(x, y) => set({ right: x, ahead: -y + 0 })}
        />
        <Face
          label="from its right, nose to the right"
          half={[body.lengthM * 500, body.widthM * 250]}
          at={at === null ? null : [at.ahead, -at.up]}
          wanted={wanted === null ? null : [wanted.ahead, -wanted.up]}
          onTap={(x, y) => set({ ahead: x, up: -y + 0 })}
        />
      </Row>
      <Row gap="$2">
        {(['ahead', 'right', 'up'] as const).map((name) => (
          <Field
            key={name}
            narrow
            label={`mm ${name}`}
            value={text[name]}
            onChange={(value) => setText({ ...text, [name]: value })}
          />
        ))}
      </Row>
      <Words kind="small">
        From the middle of the airframe; behind, left and below are negative. The cross is where the sheet has it.
      </Words>
      <Act
        label="The antenna sits there"
        off={off || at === null}
        onPress={() => at !== null && onEnter({ forwardM: at.ahead / 1000, rightM: at.right / 1000, downM: -at.up / 1000 })}
      />
    </Column>
  )
}

interface FaceProps {
  readonly label: string
  /** Half the body as it is seen, mm across and down. */
  readonly half: readonly [number, number]
  readonly at: readonly [number, number] | null
  readonly wanted: readonly [number, number] | null
  readonly onTap: (x: number, y: number) => void
}
const Face = ({ label, half, at, wanted, onTap }: FaceProps) => {
  const c = useColours()
  const reach = Math.max(...half) * 1.4
  const px = (mm: number) => size / 2 + (mm / reach) * (size / 2)
  const mm = (from: number) => Math.round((((from - size / 2) / (size / 2)) * reach) / stepMm) * stepMm + 0
  const tap = ({ nativeEvent }: GestureResponderEvent) => onTap(mm(nativeEvent.locationX), mm(nativeEvent.locationY))
  return (
    <View
      role="img"
      aria-label={`${label}: ${at === null ? 'not entered' : `${at[0]} mm across, ${at[1]} mm down`}`}
      onStartShouldSetResponder={() => true}
      onResponderGrant={tap}
      onResponderMove={tap}
      style={{ width: size, height: size + 14, touchAction: 'none', cursor: 'crosshair' } as never}
    >
      <Svg width={size} height={size + 14} pointerEvents="none">
        <Rect
          x={px(-half[0])}
          y={px(-half[1])}
          width={px(half[0]) - px(-half[0])}
          height={px(half[1]) - px(-half[1])}
          rx={4}
          fill={c.sheet}
          stroke={c.mark}
          strokeWidth={1}
        />
        <Line x1={px(0)} y1={0} x2={px(0)} y2={size} stroke={c.line} strokeWidth={1} />
        <Line x1={0} y1={px(0)} x2={size} y2={px(0)} stroke={c.line} strokeWidth={1} />
        {wanted !== null && (
          <G stroke={c.mark} strokeWidth={1.5}>
            <Line x1={px(wanted[0]) - 6} y1={px(wanted[1]) - 6} x2={px(wanted[0]) + 6} y2={px(wanted[1]) + 6} />
            <Line x1={px(wanted[0]) - 6} y1={px(wanted[1]) + 6} x2={px(wanted[0]) + 6} y2={px(wanted[1]) - 6} />
          </G>
        )}
        {at !== null && <Circle cx={px(at[0])} cy={px(at[1])} r={6} fill="none" stroke={c.tide} strokeWidth={2.5} />}
        <SvgText x={size / 2} y={size + 11} fontSize={11} fontFamily="Words" fill={c.faint} textAnchor="middle">
          {label}
        </SvgText>
      </Svg>
    </View>
  )
}
