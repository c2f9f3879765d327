import type { HandsState } from '@taraf/contract'
import { useState } from 'react'
import { Act } from '../parts/Act'
import { Column, Row, Words } from '../parts/type'
import { CursorRule } from './CursorRule'
import { Elevations } from './Elevations'
import { Group } from './Group'
import { poseWords } from './Seen'
import type { HandsActs } from './useHands'
import { fixed } from '../parts/fixed'

const tilts = [
  ['Nose up', 0, 80],
  ['Nose down', 0, -80],
  ['Right side down', 80, 0],
  ['Left side down', -80, 0],
  ['Upside down', 180, 0],
  ['At an angle', 35, 35],
] as const

/** The airframe: laid on the plate, held in a pose or by the cursors, put elsewhere, or knocked. */
export const FrameHands = ({ hands, act, drag, off }: HandsActs & { hands: HandsState }) => {
  const [yaw, setYaw] = useState(0)
  const tilt = (rollDeg: number, pitchDeg: number, yawDeg = yaw) => {
    setYaw(yawDeg)
    drag({ act: 'tilt', rollDeg, pitchDeg, yawDeg, dragged: true })
  }
  return (
    <Column>
      <Words kind="small">Airframe {poseWords(hands)}</Words>
      <Elevations rollDeg={hands.rollDeg} pitchDeg={hands.pitchDeg} />
      <Group title="On the plate">
        <Row flexWrap="wrap">
          <Act label="Lay it, nose away" grow off={off} onPress={() => act({ act: 'lay', way: 'forward' })} />
          <Act label="Lay it, nose to you" grow off={off} onPress={() => act({ act: 'lay', way: 'reversed' })} />
        </Row>
      </Group>
      <Group title="In the hand">
        <Row flexWrap="wrap">
          {tilts.map(([label, rollDeg, pitchDeg]) => (
            <Act key={label} label={label} grow off={off} onPress={() => act({ act: 'tilt', rollDeg, pitchDeg })} />
          ))}
          <Act label="Turn it all ways" grow off={off} onPress={() => act({ act: 'turn all ways' })} />
          <Act
            label="Turn it nose right"
            grow
            off={off}
            onPress={() => {
              setYaw(90)
              act({ act: 'tilt', rollDeg: 0, pitchDeg: 0, yawDeg: 90 })
            }}
          />
        </Row>
        <Row justifyContent="space-around">
          <Column>
            <CursorRule
              label="roll"
              value={hands.rollDeg / 90}
              off={off}
              onMove={(v) => tilt(v * 90, hands.pitchDeg)}
              shown={(v) => `${fixed(v * 90, 0)} deg`}
            />
            <CursorRule
              label="turn"
              value={yaw / 180}
              off={off}
              onMove={(v) => tilt(hands.rollDeg, hands.pitchDeg, v * 180)}
              shown={(v) => `${fixed(v * 180, 0)} deg`}
            />
          </Column>
          <CursorRule
            label="nose up"
            upright
            value={hands.pitchDeg / 90}
            off={off}
            onMove={(v) => tilt(hands.rollDeg, v * 90)}
            shown={(v) => `${fixed(v * 90, 0)} deg`}
          />
        </Row>
        <Words kind="small">Drag the cursors, or use the arrow keys on them.</Words>
      </Group>
      <Group title="Elsewhere">
        <Row flexWrap="wrap">
          <Act label="On the stand" grow off={off} onPress={() => act({ act: 'stand', axis: 'roll', tiltDeg: 10 })} />
          <Act label="Out on the grass" grow off={off} onPress={() => act({ act: 'put out' })} />
          <Act
            label={hands.sky ? 'Carry it indoors' : 'Carry it under the open sky'}
            grow
            off={off}
            onPress={() => act({ act: 'sky', open: !hands.sky })}
          />
        </Row>
      </Group>
      <Group title="The bench">
        <Act label="Knock the bench" off={off} onPress={() => act({ act: 'knock' })} />
      </Group>
    </Column>
  )
}
