import type { ChannelSetupChange, HandsState } from '@taraf/contract'
import { View } from '@tamagui/core'
import { useState } from 'react'
import { Act } from '../parts/Act'
import { Column, Reading, Row, Words } from '../parts/type'
import { CursorRule } from './CursorRule'
import { Group } from './Group'
import type { HandsActs } from './useHands'

type Stick = keyof HandsState['transmitter']['sticks']
const positionWords = { 2: ['back', 'forward'], 3: ['back', 'middle', 'forward'] } as const

/** The transmitter in the hands: its face with four rules for the sticks, its switches, and its settings by channel. */
export const TransmitterHands = ({ hands, act, drag, off }: HandsActs & { hands: HandsState }) => {
  const { transmitter, receiver } = hands
  const rule = (stick: Stick, upright: boolean) => (
    <CursorRule
      label={stick}
      value={transmitter.sticks[stick]}
      upright={upright}
      centres={stick !== 'throttle'}
      off={off}
      onMove={(to) => drag({ act: 'stick', stick, to })}
    />
  )
  return (
    <Column>
      <View borderWidth={2} borderColor="$mark" borderRadius={20} paddingVertical="$2" backgroundColor="$sheet">
        <Row justifyContent="space-around" gap={0}>
          {rule('throttle', true)}
          {rule('pitch', true)}
        </Row>
        <Row justifyContent="space-around" gap={0}>
          {rule('yaw', false)}
          {rule('roll', false)}
        </Row>
        {transmitter.switches.map(({ name, positions, at }) => (
          <Row key={name} paddingHorizontal="$2" gap="$1">
            <Words kind="small">{name}</Words>
            {positionWords[positions === 3 ? 3 : 2].map((word, i) => (
              <Act
                key={word}
                kind="quiet"
                label={word}
                named={`Switch ${name} ${word}`}
                selected={at === i}
                off={off}
                onPress={() => act({ act: 'switch', name, to: i })}
              />
            ))}
          </Row>
        ))}
      </View>
      <Act
        label={transmitter.on ? 'Switch the transmitter off' : 'Switch the transmitter on'}
        off={off}
        onPress={() => act({ act: 'transmitter', on: !transmitter.on })}
      />
      <Group title="Set on the transmitter">
        <ChannelSettings hands={hands} act={act} off={off} />
        <Row flexWrap="wrap">
          <Act label="Calibrate the sticks" grow off={off} onPress={() => act({ act: 'stick calibration' })} />
          <Act
            label={`Model ${transmitter.modelId === 7 ? 3 : 7}`}
            named={`Choose model ${transmitter.modelId === 7 ? 3 : 7}`}
            grow
            off={off}
            onPress={() => act({ act: 'model', id: transmitter.modelId === 7 ? 3 : 7 })}
          />
        </Row>
        <Words kind="small">Model {transmitter.modelId} is chosen.</Words>
      </Group>
      <Group title="Receiver">
        <Words kind="small">
          Light {receiver.light}; at signal loss {receiver.atLoss}.
        </Words>
        <Row flexWrap="wrap">
          <Act label="Bind" grow off={off} onPress={() => act({ act: 'bind' })} />
          <Act label="Block the signal, 2 s" grow off={off} onPress={() => act({ act: 'block signal', seconds: 2 })} />
          <Act
            label={receiver.lead ? 'Pull receiver lead' : 'Plug receiver lead'}
            grow
            off={off}
            onPress={() => act({ act: 'receiver lead', in: !receiver.lead })}
          />
          <Act label="Place its antenna" grow off={off} onPress={() => act({ act: 'receiver antenna' })} />
        </Row>
        <Row flexWrap="wrap">
          {(['silent', 'preset', 'last'] as const).map((kind) => (
            <Act
              key={kind}
              label={kind}
              named={`Receiver at loss: ${kind}`}
              grow
              selected={receiver.atLoss === kind}
              off={off}
              onPress={() => act({ act: 'loss', receiver: kind })}
            />
          ))}
        </Row>
      </Group>
    </Column>
  )
}

const steps = [
  ['trim', 'trimUs', 1],
  ['sub-trim', 'subTrimUs', 1],
  ['travel low', 'travelLow', 1],
  ['travel high', 'travelHigh', 1],
] as const

/** What of one channel the transmitter lets be set. */
const ChannelSettings = ({ hands, act, off }: Pick<HandsActs, 'act' | 'off'> & { hands: HandsState }) => {
  const [channel, setChannel] = useState(1)
  const setup = hands.transmitter.channels[channel - 1]
  if (setup === undefined) return null
  const set = (change: ChannelSetupChange) => act({ act: 'channel', channel, set: change })
  const count = hands.transmitter.channels.length
  return (
    <Column borderWidth={1} borderColor="$line" padding="$2" gap="$1">
      <Row justifyContent="space-between">
        <Act kind="quiet" label="<" named="Channel before" onPress={() => setChannel(((channel + count - 2) % count) + 1)} />
        <Words kind="strong">
          channel {channel}: {setup.source}
        </Words>
        <Act kind="quiet" label=">" named="Next channel" onPress={() => setChannel((channel % count) + 1)} />
      </Row>
      {steps.map(([label, key, by]) => (
        <Row key={key} justifyContent="space-between" gap="$1">
          <Words kind="small">{label}</Words>
          <Row gap={0}>
            <Act kind="quiet" label="-" named={`${label} less`} off={off} onPress={() => set({ [key]: setup[key] - by })} />
            <Reading size="small">
              {setup[key].toFixed(0)} {key.startsWith('travel') ? '%' : 'us'}
            </Reading>
            <Act kind="quiet" label="+" named={`${label} more`} off={off} onPress={() => set({ [key]: setup[key] + by })} />
          </Row>
        </Row>
      ))}
      <Row gap="$1">
        <Act
          label={setup.inverted ? 'inverted' : 'as is'}
          named={`Channel ${channel} ${setup.inverted ? 'inverted' : 'not inverted'}`}
          grow
          off={off}
          onPress={() => set({ inverted: !setup.inverted })}
        />
        {setup.mixed && <Act label="Take the mix out" grow off={off} onPress={() => set({ mix: null })} />}
      </Row>
    </Column>
  )
}
