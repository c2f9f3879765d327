import type { Sheet } from '@taraf/contract'
import { Act } from '../../parts/Act'
import { BesideFields, Field } from '../../parts/Field'
import { NumberField } from '../../parts/NumberField'
import { Within } from '../../parts/wrong'
import type { PartProps } from './partProps'
import { Rows } from './Rows'

type Row = NonNullable<Sheet['switchPlan']>[number]
type Band = NonNullable<Row['with']>
type Switch = NonNullable<Sheet['switches']>[number]

/** Which function is on where, and the switches of the transmitter that goes with the airframe. */
export const SwitchPlan = ({ sheet, set }: PartProps) => (
  <>
    <Rows<Row>
      title="Switch plan"
      place="switchPlan"
      rows={sheet.switchPlan ?? []}
      change={(switchPlan) => set({ switchPlan })}
      fresh={{ function: '', channel: 5, from: 1700, to: 2100 }}
      row={(one, put) => (
        <>
          <Field label="Function" place="function" value={one.function} onChange={(text) => put({ ...one, function: text })} />
          <BandFields band={one} put={(band) => put({ ...one, ...band })} />
          {one.with === undefined ? (
            <BesideFields>
              <Act
                kind="quiet"
                label="Only with another"
                named={`${one.function}: only with another condition`}
                onPress={() => put({ ...one, with: { channel: 6, from: 1700, to: 2100 } })}
              />
            </BesideFields>
          ) : (
            <Within place="with">
              <BandFields second band={one.with} put={(band) => put({ ...one, with: band })} />
              <BesideFields>
                <Act
                  kind="quiet"
                  label="By itself"
                  named={`${one.function}: by itself`}
                  onPress={() => put(without(one, 'with'))}
                />
              </BesideFields>
            </Within>
          )}
          <Field
            label="Restriction"
            place="restriction"
            value={one.restriction ?? ''}
            onChange={(text) => put(text === '' ? without(one, 'restriction') : { ...one, restriction: text })}
          />
          <Field
            label="Without a switch, because"
            place="meant"
            value={one.meant ?? ''}
            onChange={(text) => put(text === '' ? without(one, 'meant') : { ...one, meant: text })}
          />
        </>
      )}
    />
    <Rows<Switch>
      title="Switches of the transmitter"
      place="switches"
      rows={sheet.switches ?? []}
      change={(switches) => set({ switches: switches.length === 0 ? undefined : switches } as Partial<Sheet>)}
      fresh={{ name: '', channel: freeChannel(sheet.switches ?? []), positions: 2, atPowerUp: 1 }}
      row={(one, put) => (
        <>
          <Field label="Switch" place="name" value={one.name} onChange={(name) => put({ ...one, name })} />
          <NumberField
            whole
            label="Channel"
            place="channel"
            value={one.channel}
            onChange={(channel) => put({ ...one, channel: channel ?? 5 })}
          />
          <NumberField
            whole
            label="Positions"
            place="positions"
            value={one.positions}
            onChange={(positions) => put({ ...one, positions: positions ?? 2 })}
          />
          <NumberField
            whole
            label="At power-up"
            place="atPowerUp"
            value={one.atPowerUp}
            onChange={(atPowerUp) => put({ ...one, atPowerUp: atPowerUp ?? 1 })}
          />
          <Field
            label="Two positions alike, because"
            place="alike"
            value={one.alike ?? ''}
            onChange={(text) => put(text === '' ? without(one, 'alike') : { ...one, alike: text })}
          />
        </>
      )}
    />
  </>
)

/** The same without what was emptied: a sheet says nothing of it then. */
const without = <T extends object, Key extends keyof T>(one: T, key: Key): T => {
  const { [key]: _, ...rest } = one
  return rest as T
}

interface BandFieldsProps {
  readonly band: Band
  readonly put: (band: Band) => void
  readonly second?: boolean
}
const BandFields = ({ band: { channel, from, to }, put, second = false }: BandFieldsProps) => {
  const label = (words: string) => (second ? `and ${words.charAt(0).toLowerCase()}${words.slice(1)}` : words)
  return (
    <>
      <NumberField
        whole
        label={label('Channel')}
        place="channel"
        value={channel}
        onChange={(value) => put({ channel: value ?? 5, from, to })}
      />
      <NumberField
        whole
        label={label('From, us')}
        place="from"
        value={from}
        onChange={(value) => put({ channel, from: value ?? 900, to })}
      />
      <NumberField
        whole
        label={label('To, us')}
        place="to"
        value={to}
        onChange={(value) => put({ channel, from, to: value ?? 2100 })}
      />
    </>
  )
}

/** The first channel after the sticks that no switch is on yet; the first of all where every one is taken. */
const freeChannel = (switches: readonly Switch[]): number => {
  for (let channel = 5; channel <= 16; channel++) if (!switches.some((one) => one.channel === channel)) return channel
  return 5
}
