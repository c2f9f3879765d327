import type { Geometry } from '@taraf/contract'
import { useState } from 'react'
import { View } from '@tamagui/core'
import { Act } from './Act'
import { Plan } from './Plan'
import { planAt } from './planAt'
import { Column, Row, Words } from './type'

type Turn = 'clockwise' | 'anticlockwise' | 'none'
interface MotorPadProps {
  readonly geometry: Geometry
  /** What was said of this step already. */
  readonly said: boolean
  readonly off: boolean
  readonly onSay: (seen: { position: string; turn: Turn }) => void
}

const size = 320
/** A thumb's width; of a pair the upper motor lies beside the lower one. */
const [wide, high] = [92, 48]
const turns: readonly (readonly [Turn, string])[] = [
  ['clockwise', '↻ Clockwise'],
  ['anticlockwise', '↺ Anticlockwise'],
]

/** The plan with every motor to tap: the one that turned, then the way that its flag went, seen from above. */
export const MotorPad = ({ geometry, said, off, onSay }: MotorPadProps) => {
  const [position, setPosition] = useState<string | null>(null)
  const { end } = planAt(geometry, size)
  return (
    <Column alignItems="center" gap="$3" role="group" aria-label="Which motor turned, and which way">
      <Words kind="strong">
        {said ? 'Noted. Tap again to change it.' : 'Tap the motor that turned, then the way that its flag went.'}
      </Words>
      <View width={size} height={size} position="relative">
        <Plan geometry={geometry} size={size} />
        {geometry.booms.map((boom) => {
          const { x, y } = end(boom)
          return (
            <View
              key={boom.name}
              position="absolute"
              width={wide}
              gap="$1"
              left={Math.min(size - wide, Math.max(0, x - wide / 2))}
              top={Math.min(size - high * boom.motors.length, Math.max(0, y - (high * boom.motors.length) / 2))}
            >
              {boom.motors.map(({ tier }) => {
                const name = tier === 'only' ? boom.name : `${boom.name} ${tier}`
                return (
                  <Act
                    key={tier}
                    label={tier === 'only' ? boom.name : tier}
                    named={name}
                    selected={position === name}
                    off={off}
                    onPress={() => setPosition(name)}
                  />
                )
              })}
            </View>
          )
        })}
      </View>
      <Row gap="$3" flexWrap="wrap" justifyContent="center" role="group" aria-label="Way, seen from above">
        {turns.map(([turn, label]) => (
          <Act
            key={turn}
            label={label}
            off={off || position === null}
            onPress={() => {
              if (position !== null) onSay({ position, turn })
              setPosition(null)
            }}
          />
        ))}
      </Row>
      {position === null && <Act label="Nothing turned" off={off} onPress={() => onSay({ position: 'none', turn: 'none' })} />}
      <Words kind="small">{position === null ? 'Seen from above.' : `${position}: which way, seen from above?`}</Words>
    </Column>
  )
}
