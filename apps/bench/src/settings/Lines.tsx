import type { BoardSetting, Settings, SettingsView } from '@taraf/contract'
import { isOwn } from '@taraf/core'
import { memo } from 'react'
import { StyleSheet, Text, TextInput, View as Box } from 'react-native'
import { useMedia } from '@tamagui/core'
import { useColours } from '../look/useColours'
import { dateWords } from '../parts/dates'
import { LongList } from '../parts/LongList'
import { useTyped } from '../parts/useTyped'
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
    <LongList
      label="Settings"
      count={lines.length}
      rowHeight={wide ? 64 : 104}
      height={560}
      keyOf={(index) => lines[index]?.setting.name ?? ''}
      row={(index) => {
        const line = lines[index]
        return (
          line !== undefined && (
            <SettingLine
              line={line}
              changed={view.changed[line.setting.name]}
              staged={staged[line.setting.name]}
              may={may}
              set={set}
              wide={wide}
            />
          )
        )
      }}
    />
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
  const c = useColours()
  const { name, unit, min, max, choices } = setting
  const says =
    sheet === undefined ? (isOwn(name) ? 'this airframe’s own' : 'not on the sheet') : `sheet: ${valueOf(setting, sheet)}`
  const history = changed === undefined ? '' : `; changed ${dateWords(changed.at)} by ${changed.by}: ${changed.cause}`
  return (
    <Box role="listitem" style={[styles.line, { borderColor: c.line }, wide && styles.oneRow]}>
      <Box style={wide && styles.half}>
        <Text style={[differs ? styles.strong : styles.words, { color: c.ink }]}>{name}</Text>
        <Text style={[styles.small, { color: c.faint }]}>
          {says}
          {history}
        </Text>
      </Box>
      {may ? (
        <Entry setting={setting} staged={staged} set={set} />
      ) : (
        <Text style={[styles.reading, { color: differs ? c.fail : c.ink }]}>{valueOf(setting, setting.saved)}</Text>
      )}
      {may && (
        <Text style={[styles.small, wide && styles.bounds, { color: c.faint }]}>
          {staged === undefined ? `${min} to ${max} ${unit}` : `was ${valueOf(setting, setting.saved)}`}
          {choices !== undefined && `: ${choices.map((one, i) => `${i} ${one}`).join(', ')}`}
        </Text>
      )}
    </Box>
  )
})

interface EntryProps extends Pick<LinesProps, 'set'> {
  readonly setting: BoardSetting
  readonly staged: number | undefined
}

/** The value of a setting, edited where it stands; what is no number yet is said. */
const Entry = ({ setting: { name, saved, choices }, staged, set }: EntryProps) => {
  const c = useColours()
  const { shown, wrong, change, left } = useTyped(staged ?? saved, (value) => set(name, value), choices !== undefined)
  return (
    <Box style={styles.entry}>
      <TextInput
        aria-label={`Value of ${name}`}
        aria-invalid={wrong !== undefined}
        inputMode="decimal"
        value={shown}
        onChangeText={change}
        onBlur={left}
        style={[
          styles.reading,
          styles.field,
          {
            color: staged === undefined ? c.ink : c.tide,
            borderColor: wrong === undefined ? c.line : c.fail,
            backgroundColor: c.sheet,
          },
        ]}
      />
      {wrong !== undefined && <Text style={[styles.small, { color: c.fail }]}>{wrong}</Text>}
    </Box>
  )
}

const styles = StyleSheet.create({
  line: { borderBottomWidth: 1, paddingVertical: 6, gap: 4 },
  oneRow: { flexDirection: 'row', alignItems: 'center', columnGap: 16 },
  half: { flexGrow: 1, flexShrink: 1, flexBasis: 0, minWidth: 0 },
  bounds: { width: 190 },
  entry: { width: 130 },
  field: { minHeight: 48, borderWidth: 1, borderRadius: 4, paddingHorizontal: 10, width: '100%' },
  words: { fontFamily: 'Words', fontSize: 15, lineHeight: 22 },
  strong: { fontFamily: 'WordsBold', fontSize: 15, lineHeight: 22 },
  reading: { fontFamily: 'Readings', fontVariant: ['tabular-nums'], fontSize: 17, lineHeight: 24 },
  small: { fontFamily: 'Words', fontSize: 13, lineHeight: 18, flexShrink: 1 },
})

const valueOf = ({ unit, choices }: BoardSetting, value: number): string =>
  choices?.[value] !== undefined ? `${value}, ${choices[value]}` : `${Number(value.toFixed(6))} ${unit}`.trim()
