import { replaceableParts, type HandAct, type HandsState } from '@taraf/contract'
import { useState } from 'react'
import { Act } from '../parts/Act'
import { Column, Row, Words } from '../parts/type'
import { Group } from './Group'
import type { HandsActs } from './useHands'

const mountings = [
  ['straight', 0, 0],
  ['quarter left', 0, -90],
  ['quarter right', 0, 90],
  ['end for end', 0, 180],
  ['upside down', 180, 0],
] as const
const others: readonly (readonly [string, HandAct])[] = [
  ['Fit the video antenna', { act: 'fit video antenna' }],
  ['Position antenna over the middle', { act: 'move antenna', forwardM: 0, rightM: 0, downM: -0.05 }],
  ['Position antenna on the tail', { act: 'move antenna', forwardM: -0.08, rightM: 0, downM: -0.05 }],
  ['Turn the camera', { act: 'turn camera' }],
  ['Unplug what bypasses the board', { act: 'unplug past the board' }],
  ['Clear the short', { act: 'clear short' }],
  ['Change the pack', { act: 'change pack' }],
  ['Take extra load off', { act: 'take load off' }],
]

/** Leads, plugs, the board's seat, and parts that can be replaced. */
export const PartsHands = ({ hands, act, off }: HandsActs & { hands: HandsState }) => {
  const [output, setOutput] = useState(hands.motors[0]?.output ?? 1)
  const next = hands.motors[(hands.motors.findIndex((m) => m.output === output) + 1) % hands.motors.length]?.output ?? output
  const at = hands.motors.find((m) => m.output === output)
  return (
    <Column>
      <Group title="Motor, ESC and prop">
        <Row justifyContent="space-between">
          <Words kind="strong">
            output {output}: {at?.position ?? 'nothing'}
          </Words>
          <Act kind="quiet" label=">" named="Next output" onPress={() => setOutput(next)} />
        </Row>
        <Row flexWrap="wrap">
          <Act label="Swap two leads" grow off={off} onPress={() => act({ act: 'swap leads', output })} />
          <Act label="Reseat its ESC" grow off={off} onPress={() => act({ act: 'reseat esc', output })} />
          <Act label="Replace motor" grow off={off} onPress={() => act({ act: 'replace motor', output })} />
          <Act label="Replace ESC" grow off={off} onPress={() => act({ act: 'replace esc', output })} />
          <Act
            label={`Swap with output ${next}`}
            grow
            off={off}
            onPress={() => act({ act: 'swap outputs', a: output, b: next })}
          />
          <Act
            label="Right prop on it"
            grow
            off={off}
            onPress={() =>
              act({ act: 'mount prop', position: hands.motors.findIndex((m) => m.output === output) + 1, prop: 'right' })
            }
          />
        </Row>
      </Group>
      <Group title="Sockets">
        {hands.sockets.map(({ socket, plugged }) => (
          <Row key={socket} justifyContent="space-between" gap="$1">
            <Words kind="small">
              {socket} {plugged}
            </Words>
            {plugged !== 'nothing' && (
              <Row gap={0}>
                <Act
                  kind="quiet"
                  label="reseat"
                  named={`Reseat socket ${socket}`}
                  off={off}
                  onPress={() => act({ act: 'reseat socket', socket })}
                />
                <Act
                  kind="quiet"
                  label="wires"
                  named={`Exchange wires of socket ${socket}`}
                  off={off}
                  onPress={() => act({ act: 'rewire socket', socket })}
                />
                <Act
                  kind="quiet"
                  label="move"
                  named={`Move the plug of socket ${socket}`}
                  off={off}
                  onPress={() =>
                    act({
                      act: 'move plug',
                      from: socket,
                      to: hands.sockets.find((s) => s.plugged === 'nothing')?.socket ?? socket,
                    })
                  }
                />
              </Row>
            )}
          </Row>
        ))}
      </Group>
      <Group title="The board in its mount">
        <Row flexWrap="wrap">
          {mountings.map(([label, rollDeg, yawDeg]) => (
            <Act
              key={label}
              label={label}
              named={`Mount the board ${label}`}
              grow
              off={off}
              onPress={() => act({ act: 'turn board', rollDeg, pitchDeg: 0, yawDeg })}
            />
          ))}
          <Act label="Seat it square" grow off={off} onPress={() => act({ act: 'seat board' })} />
          <Act label="Tighten the board screws" grow off={off} onPress={() => act({ act: 'fasten' })} />
        </Row>
      </Group>
      <Group title="Replace">
        <Row flexWrap="wrap">
          {replaceableParts.map((part) => (
            <Act
              key={part}
              label={part}
              named={`Replace the ${part}`}
              grow
              off={off}
              onPress={() => act({ act: 'replace', part })}
            />
          ))}
        </Row>
      </Group>
      <Group title="Antennas, load and wiring">
        <Row flexWrap="wrap">
          {others.map(([label, what]) => (
            <Act key={label} label={label} grow off={off} onPress={() => act(what)} />
          ))}
        </Row>
      </Group>
    </Column>
  )
}
