import type { BoardSetting, Settings, SettingsView } from '@taraf/contract'
import { isOwn } from '@taraf/core'
import { memo, useState } from 'react'
import { FlatList, Pressable, StyleSheet, Text, View as Box } from 'react-native'
import { useMedia, View } from '@tamagui/core'
import { useColours } from '../look/useColours'
import { dateWords } from '../parts/dates'
import { NumberField } from '../parts/NumberField'
import { Column, Words } from '../parts/type'
import type { Line } from './settingLines'

interface LinesProps {
  readonly lines: readonly Line[]
  readonly view: SettingsView
  readonly staged: Settings
  readonly may: boolean
  readonly set: (name: string, value: number | undefined) => void
}

/** Only the lines that are seen are drawn: a board has hundreds. */
export const Lines = ({ lines, view, staged, may, set }: LinesProps) => {
  const { wide } = useMedia()
  return (
    <View height={560}>
      <FlatList
        role="list"
        aria-label="Settings"
        data={lines as Line[]}
        keyExtractor={({ setting }) => setting.name}
        initialNumToRender={wide === true ? 10 : 5}
        maxToRenderPerBatch={6}
        updateCellsBatchingPeriod={80}
        windowSize={5}
        renderItem={({ item }) => (
          <SettingLine
            line={item}
            changed={view.changed[item.setting.name]}
            staged={staged[item.setting.name]}
            may={may}
            set={set}
            wide={wide === true}
          />
        )}
      />
    </View>
  )
}

interface SettingLineProps extends Pick<LinesProps, 'may' | 'set'> {
  readonly line: Line
  readonly changed: SettingsView['changed'][string] | undefined
  readonly staged: number | undefined
  /** All in one row, where there is room for it. */
  readonly wide: boolean
}

/** Drawn by the hundred: plain text and boxes, which cost a third of styled ones. */
const SettingLine = memo(function SettingLine({
  line: { setting, sheet, differs },
  changed,
  staged,
  may,
  set,
  wide,
}: SettingLineProps) {
  const [open, setOpen] = useState(false)
  const c = useColours()
  const { name, unit, min, max, choices } = setting
  const says =
    sheet === undefined ? (isOwn(name) ? 'this airframe’s own' : 'not on the sheet') : `sheet: ${valueOf(setting, sheet)}`
  return (
    <Box role="listitem" style={[styles.line, { borderColor: c.line }]}>
      <Box style={wide ? styles.oneRow : styles.twoRows}>
        <Box style={[styles.row, wide && styles.half]}>
          <Text style={[differs ? styles.strong : styles.words, { color: c.ink }]}>{name}</Text>
          <Text style={[styles.reading, { color: differs ? c.fail : c.ink }]}>{valueOf(setting, setting.saved)}</Text>
        </Box>
        <Box style={[styles.row, styles.act, wide && styles.half]}>
          <Text style={[styles.small, { color: c.faint }]}>
            {changed === undefined ? says : `${says}; changed ${dateWords(changed.at)} by ${changed.by}: ${changed.cause}`}
          </Text>
          {may && (
            <Pressable role="button" aria-label={`Change ${name}`} style={styles.change} onPress={() => setOpen(!open)}>
              <Text style={[styles.strong, { color: c.tide }]}>
                {staged === undefined ? 'Change' : `to ${valueOf(setting, staged)}`}
              </Text>
            </Pressable>
          )}
        </Box>
      </Box>
      {open && (
        <Column>
          <NumberField
            label={`${name}, ${min} to ${max} ${unit}`}
            value={staged ?? setting.saved}
            onChange={(value) => set(name, value)}
            whole={choices !== undefined}
          />
          {choices !== undefined && <Words kind="small">{choices.map((one, i) => `${i} ${one}`).join(', ')}</Words>}
        </Column>
      )}
    </Box>
  )
})

const styles = StyleSheet.create({
  line: { borderBottomWidth: 1, paddingVertical: 8, gap: 4 },
  row: { flexDirection: 'row', flexWrap: 'wrap', justifyContent: 'space-between', alignItems: 'center', columnGap: 8 },
  twoRows: { gap: 4 },
  oneRow: { flexDirection: 'row', alignItems: 'center', columnGap: 24 },
  half: { flexGrow: 1, flexShrink: 1, flexBasis: 0 },
  words: { fontFamily: 'Words', fontSize: 17, lineHeight: 24 },
  strong: { fontFamily: 'WordsBold', fontSize: 17, lineHeight: 24 },
  reading: { fontFamily: 'Readings', fontVariant: ['tabular-nums'], fontSize: 17, lineHeight: 24 },
  small: { fontFamily: 'Words', fontSize: 14, lineHeight: 20, flexShrink: 1 },
  act: { minHeight: 48 },
  change: { minHeight: 48, paddingHorizontal: 8, justifyContent: 'center' },
})

const valueOf = ({ unit, choices }: BoardSetting, value: number): string =>
  choices?.[value] !== undefined ? `${value}, ${choices[value]}` : `${Number(value.toFixed(6))} ${unit}`.trim()
