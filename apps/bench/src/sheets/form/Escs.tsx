import type { Sheet } from '@taraf/contract'
import { escSetting, escSettingNames } from '@taraf/core'
import { Act } from '../../parts/Act'
import { Field } from '../../parts/Field'
import { NumberField } from '../../parts/NumberField'
import { Paper, Row, Words } from '../../parts/type'
import type { PartProps } from './partProps'
import { Rows } from './Rows'

type Escs = NonNullable<Sheet['escs']>

/** What the ESCs can do, what each is set to, and what they are known to be bad with. */
export const EscsForm = ({ sheet, set }: PartProps) => {
  const { escs } = sheet
  if (escs === undefined)
    return (
      <Paper>
        <Words kind="heading">ESCs</Words>
        <Words kind="small">Without this, nothing is looked at of them.</Words>
        <Row>
          <Act label="Say what they are" onPress={() => set({ escs: { understands: ['DShot300'], settings: {} } })} />
        </Row>
      </Paper>
    )
  const change = (news: Partial<Escs>) => set({ escs: { ...escs, ...news } })
  const put = <T,>(of: Readonly<Record<string, T>> | undefined, name: string, value: T | undefined): Record<string, T> => {
    const { [name]: _, ...rest } = of ?? {}
    return value === undefined ? rest : { ...rest, [name]: value }
  }
  const names = [...new Set([...escSettingNames.filter((name) => name !== 'reverse'), ...Object.keys(escs.settings)])]
  return (
    <>
      <Paper>
        <Words kind="heading">ESCs</Words>
        <Field
          label="Signals they understand, commas between"
          place="escs.understands"
          value={escs.understands.join(', ')}
          onChange={(text) => change({ understands: text.split(',').map((name) => name.trim()) })}
        />
        <Row flexWrap="wrap" alignItems="flex-start">
          {names.map((name) => {
            const { words, unit, protects } = escSetting(name)
            const value = escs.settings[name]
            return (
              <Row key={name} flexWrap="wrap" alignItems="flex-start">
                <NumberField
                  label={unit === '' ? words : `${words}, ${unit}`}
                  place={`escs.settings.${name}`}
                  value={value}
                  onChange={(now) => change({ settings: put(escs.settings, name, now) })}
                />
                {protects && value === 0 && (
                  <Field
                    label="Off, because"
                    place={`escs.reasons.${name}`}
                    value={escs.reasons?.[name] ?? ''}
                    onChange={(why) => change({ reasons: put(escs.reasons, name, why === '' ? undefined : why) })}
                  />
                )}
              </Row>
            )
          })}
        </Row>
      </Paper>
      <Rows
        title="ESC firmware that is known to be bad with the board’s"
        place="escs.badWith"
        rows={escs.badWith ?? []}
        change={(badWith) => change({ badWith })}
        fresh={{ firmware: '', board: '', reason: '' }}
        row={(one, now) => (
          <>
            <Field
              narrow
              label="Of the ESCs"
              place="firmware"
              value={one.firmware}
              onChange={(firmware) => now({ ...one, firmware })}
            />
            <Field narrow label="Of the board" place="board" value={one.board} onChange={(board) => now({ ...one, board })} />
            <Field label="Reason" place="reason" value={one.reason} onChange={(reason) => now({ ...one, reason })} />
          </>
        )}
      />
    </>
  )
}
