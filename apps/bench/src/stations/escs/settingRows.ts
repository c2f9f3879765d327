import type { Finding } from '@taraf/contract'
import { escGroups, escSetting, escValueWords } from '@taraf/core'

export interface SettingRow {
  readonly name: string
  readonly words: string
  readonly wanted: string
  /** What all have, or what each has that differs from the others. */
  readonly found: string
  readonly isWrong: boolean
}
export interface SettingGroup {
  readonly group: string
  readonly rows: readonly SettingRow[]
}

/** What a take found of ESC settings, grouped by what they do; what is no setting is left out. */
export const settingRows = (findings: readonly Finding[]): SettingGroup[] => {
  const rows = findings.flatMap(({ key, value, limit, verdict }) => {
    const isSetting = typeof value === 'number' || (typeof value === 'object' && !Array.isArray(value))
    if (!isSetting || key.endsWith('Before')) return []
    const { words, group } = escSetting(key)
    const said = (one: unknown) => (typeof one === 'number' ? escValueWords(key, one) : '–')
    return [
      {
        group,
        row: { name: key, words, wanted: said(limit?.equals), found: foundWords(value, said), isWrong: verdict === 'fail' },
      },
    ]
  })
  return escGroups.flatMap((group) => {
    const mine = rows.filter((one) => one.group === group).map(({ row }) => row)
    return mine.length === 0 ? [] : [{ group, rows: mine }]
  })
}

/** One value for all; or the one of most, and which others differ. */
const foundWords = (value: Finding['value'], said: (one: unknown) => string): string => {
  if (typeof value !== 'object' || Array.isArray(value)) return `all ${said(value)}`
  const byValue = new Map<number, string[]>()
  for (const [output, one] of Object.entries(value))
    byValue.set(one, [...(byValue.get(one) ?? []), output.replace('output ', '')])
  return [...byValue]
    .sort((a, b) => b[1].length - a[1].length)
    .map(([one, outputs]) => `${outputs.join(', ')}: ${one < 0 ? '–' : said(one)}`)
    .join(' · ')
}
