import type { HandsState } from '@taraf/contract'
import { Act } from '../parts/Act'
import { Column, Reading, Row, Words } from '../parts/type'
import { CursorRule } from './CursorRule'
import { Group } from './Group'
import type { HandsActs } from './useHands'
import { fixed } from '../parts/fixed'

const sources = [
  ['none', 'No battery'],
  ['pack', 'Pack'],
  ['supply', 'Supply'],
] as const
const supplyMost = 27

/** Cable, battery, limiter, supply, charger, props and nuts; and the meter at the plug. */
export const PowerHands = ({ hands, act, drag, off }: HandsActs & { hands: HandsState }) => (
  <Column>
    <Reading size="large">
      {hands.meter.volts.toFixed(2)} V {fixed(hands.meter.amps, 2)} A
    </Reading>
    <Words kind="small">Meter at the battery plug. Last charge put back {hands.meter.chargedMah.toFixed(0)} mAh.</Words>
    <Group title="Cable">
      <Act
        label={hands.cable ? 'Pull the cable' : 'Plug the cable in'}
        off={off}
        onPress={() => act({ act: 'cable', in: !hands.cable })}
      />
    </Group>
    <Group title="Battery plug">
      <Row>
        {sources.map(([source, label]) => (
          <Act
            key={source}
            label={label}
            grow
            selected={hands.battery === source}
            off={off}
            onPress={() => act({ act: 'battery', source })}
          />
        ))}
      </Row>
      {hands.battery === 'supply' && (
        <CursorRule
          label="supply"
          value={(hands.supplyVolts / supplyMost) * 2 - 1}
          off={off}
          onMove={(v) => drag({ act: 'supply', volts: ((v + 1) / 2) * supplyMost })}
          shown={(v) => `${(((v + 1) / 2) * supplyMost).toFixed(1)} V`}
        />
      )}
      <Act
        label={hands.limiter ? 'Take the limiter out' : 'Put the limiter in line'}
        off={off}
        onPress={() => act({ act: 'limiter', in: !hands.limiter })}
      />
      <Act label="Charge the pack" off={off} onPress={() => act({ act: 'charge' })} />
    </Group>
    <Group title="Props">
      <Row>
        <Act
          label={hands.props === 'off' ? 'Put props on' : 'Take props off'}
          grow
          off={off}
          onPress={() => act({ act: 'props', on: hands.props === 'off' })}
        />
        <Act
          label={hands.nuts ? 'Take nuts off' : 'Put nuts on'}
          grow
          off={off}
          onPress={() => act({ act: 'nuts', on: !hands.nuts })}
        />
      </Row>
    </Group>
  </Column>
)
