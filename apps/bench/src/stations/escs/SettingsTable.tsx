import type { Finding } from '@taraf/contract'
import { View } from '@tamagui/core'
import { StandingShape } from '../../parts/StandingMark'
import { Column, Reading, Words } from '../../parts/type'
import { settingRows } from './settingRows'

/** The settings of all ESCs in one table, grouped by what they do: what is wanted, and which output has what. */
export const SettingsTable = ({ findings }: { findings: readonly Finding[] }) => (
  <Column gap="$4">
    {settingRows(findings).map(({ group, rows }) => (
      <Column key={group} gap="$0" role="table" aria-label={group}>
        <View
          role="row"
          flexDirection="row"
          gap="$2"
          minHeight={32}
          alignItems="center"
          borderBottomWidth={1}
          borderColor="$mark"
        >
          <View role="columnheader" flex={5}>
            <Words kind="strong">{group}</Words>
          </View>
          <View role="columnheader" flex={3}>
            <Words kind="small">wanted</Words>
          </View>
          <View role="columnheader" flex={6}>
            <Words kind="small">read, by output</Words>
          </View>
        </View>
        {rows.map(({ name, words, wanted, found, isWrong }) => (
          <View
            key={name}
            role="row"
            flexDirection="row"
            gap="$2"
            minHeight={36}
            alignItems="center"
            borderBottomWidth={1}
            borderColor="$line"
          >
            <View role="rowheader" flex={5} minWidth={0}>
              <Words>{words}</Words>
            </View>
            <View role="cell" flex={3} minWidth={0}>
              <Reading color="$faint">{wanted}</Reading>
            </View>
            <View role="cell" flex={6} minWidth={0} flexDirection="row" gap="$2" alignItems="center">
              {isWrong && <StandingShape state="fail" size={16} />}
              <Reading flexShrink={1} color={isWrong ? '$fail' : '$ink'}>
                {found}
              </Reading>
            </View>
          </View>
        ))}
      </Column>
    ))}
  </Column>
)
