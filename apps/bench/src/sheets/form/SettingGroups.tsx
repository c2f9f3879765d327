import { groupsOf } from '@taraf/core'
import { useState } from 'react'
import { View } from '@tamagui/core'
import { Act } from '../../parts/Act'
import { BesideFields, Field } from '../../parts/Field'
import { NumberField } from '../../parts/NumberField'
import { Column, Paper, Row, Words } from '../../parts/type'
import type { PartProps } from './partProps'

export const SettingGroups = ({ sheet, set }: PartProps) => {
  const [name, setName] = useState('')
  const { settings } = sheet
  const put = (key: string, value: number | undefined) => {
    const { [key]: _, ...rest } = settings
    set({ settings: value === undefined ? rest : { ...settings, [key]: value } })
  }
  return (
    <Paper role="group" aria-label="Settings">
      <Words kind="heading">Settings</Words>
      {groupsOf(Object.keys(settings)).map(([group, names]) => (
        <Column key={group}>
          <Words kind="strong">{group}</Words>
          <View flexDirection="row" flexWrap="wrap" gap="$2">
            {names.map((one) => (
              <View key={one} width="48%" minWidth={150} flexGrow={1}>
                <NumberField
                  label={one}
                  place={`settings["${one}"]`}
                  value={settings[one]}
                  onChange={(value) => put(one, value)}
                />
              </View>
            ))}
          </View>
        </Column>
      ))}
      <Row alignItems="flex-start">
        <Field label="Another setting, by its name" value={name} onChange={setName} />
        <BesideFields>
          <Act
            label="Add it"
            off={!/^[a-z]+(\.[a-zA-Z0-9]+)+$/.test(name.trim())}
            onPress={() => (put(name.trim(), 0), setName(''))}
          />
        </BesideFields>
      </Row>
      <Words kind="small">A field that is emptied takes its setting off the sheet.</Words>
    </Paper>
  )
}
