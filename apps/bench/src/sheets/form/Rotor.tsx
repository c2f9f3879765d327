import type { Sheet } from '@taraf/contract'
import { Act } from '../../parts/Act'
import { Choices } from '../../parts/Choices'
import { Field } from '../../parts/Field'
import { NumberField } from '../../parts/NumberField'
import { Paper, Row, Words } from '../../parts/type'
import type { PartProps } from './partProps'

type Rotor = NonNullable<Sheet['rotor']>
const hands = ['clockwise', 'anticlockwise'] as const

/** What turns on the booms: the motors’ own constant, and the props by hand. */
export const RotorForm = ({ sheet, set }: PartProps) => {
  const { rotor } = sheet
  if (rotor === undefined)
    return (
      <Paper>
        <Words kind="heading">Rotor</Words>
        <Words kind="small">Without this, speeds are compared with each other only, and there is no prop plan.</Words>
        <Row>
          <Act label="Say what turns" onPress={() => set({ rotor: { kv: 1000 } })} />
        </Row>
      </Paper>
    )
  const change = (news: Partial<Rotor>) => set({ rotor: { ...rotor, ...news } })
  const hasLower = sheet.geometry.booms.some(({ motors }) => motors.some(({ tier }) => tier === 'lower'))
  return (
    <Paper>
      <Words kind="heading">Rotor</Words>
      <NumberField
        label="KV of the motors, rpm for each volt"
        place="rotor.kv"
        value={rotor.kv}
        onChange={(kv) => kv !== undefined && change({ kv })}
      />
      <NumberField
        label="Command in hover, from 0 to 1, at mid-pack voltage and with the payload"
        place="rotor.hover"
        value={rotor.hover}
        onChange={(hover) => change({ hover })}
      />
      <NumberField
        whole
        label="Cells of its packs, in series"
        place="pack.cells"
        value={sheet.pack?.cells}
        onChange={(cells) => cells !== undefined && set({ pack: { cells } })}
      />
      <Row flexWrap="wrap" alignItems="flex-start">
        {hands.map((turn) => (
          <Field
            key={turn}
            narrow
            label={`Mark of a ${turn} prop`}
            place={`rotor.props.${turn}`}
            value={rotor.props?.[turn] ?? ''}
            onChange={(mark) => change({ props: { clockwise: '', anticlockwise: '', ...rotor.props, [turn]: mark } })}
          />
        ))}
      </Row>
      {hasLower && (
        <Choices
          label="Props of lower motors"
          choices={
            [
              ['pusher', 'Pushers'],
              ['puller', 'Pullers'],
            ] as const
          }
          chosen={rotor.lower ?? 'pusher'}
          choose={(lower) => change({ lower })}
        />
      )}
    </Paper>
  )
}
