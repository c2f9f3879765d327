import type { HandsState } from '@taraf/contract'
import { useState } from 'react'
import { Act } from '../parts/Act'
import { Column, Row, Words } from '../parts/type'
import { CursorRule } from './CursorRule'
import { Elevations } from './Elevations'
import { poseWords } from './Seen'
import type { HandsActs } from './useHands'
import { fixed } from '../parts/fixed'

const tilts = [
  ['Nose up', 0, 80],
  ['Nose down', 0, -80],
  ['Right side down', 80, 0],
  ['Left side down', -80, 0],
] as const

/** The airframe in the hands: laid, tilted by drag or to a pose, knocked, put on a stand or out into the open. */
export const FrameHands = ({ hands, act, drag, off }: HandsActs & { hands: HandsState }) => {
  const [yaw, setYaw] = useState(0)
  const tilt = (rollDeg: number, pitchDeg: number, yawDeg = yaw) => {
    setYaw(yawDeg)
    drag({ act: 'tilt', rollDeg, pitchDeg, yawDeg, dragged: true })
  }
  return (
    <Column>
      <Words kind="small">{poseWords(hands)}</Words>
      <Elevations rollDeg={hands.rollDeg} pitchDeg={hands.pitchDeg} />
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
      <Act label="Lay it, nose away" off={off} onPress={() => act({ act: 'lay', way: 'forward' })} />
      <Act label="Lay it, nose to you" off={off} onPress={() => act({ act: 'lay', way: 'reversed' })} />
      {[tilts.slice(0, 2), tilts.slice(2)].map((pair) => (
        <Row key={pair[0]?.[0]}>
          {pair.map(([label, rollDeg, pitchDeg]) => (
            <Act key={label} label={label} grow off={off} onPress={() => act({ act: 'tilt', rollDeg, pitchDeg })} />
          ))}
        </Row>
      ))}
      <Act label="Hold it upside down" off={off} onPress={() => act({ act: 'tilt', rollDeg: 180, pitchDeg: 0 })} />
      <Act label="Hold it askew" off={off} onPress={() => act({ act: 'tilt', rollDeg: 35, pitchDeg: 35 })} />
      <Act label="Turn it all ways" off={off} onPress={() => act({ act: 'turn all ways' })} />
      <Act
        label="Turn it nose right"
        off={off}
        onPress={() => {
          setYaw(90)
          act({ act: 'tilt', rollDeg: 0, pitchDeg: 0, yawDeg: 90 })
        }}
      />
      <Act label="Knock the bench" off={off} onPress={() => act({ act: 'knock' })} />
      <Act label="Tighten the board screws" off={off} onPress={() => act({ act: 'fasten' })} />
      <Row>
        <Act label="On the stand" grow off={off} onPress={() => act({ act: 'stand', axis: 'roll', tiltDeg: 10 })} />
        <Act label="Out on the grass" grow off={off} onPress={() => act({ act: 'put out' })} />
      </Row>
      <Act
        label={hands.sky ? 'Carry it indoors' : 'Carry it under the open sky'}
        off={off}
        onPress={() => act({ act: 'sky', open: !hands.sky })}
      />
      <Words kind="small">Drag the cursors, or use the arrow keys on them.</Words>
    </Column>
  )
}
