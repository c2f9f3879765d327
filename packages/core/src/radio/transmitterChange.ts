import type { Remedy, TransmitterSetting } from '@taraf/contract'
import { controls, type Control } from './sticks'

type Item = Extract<Remedy, { by: 'transmitter' }>['transmitter'][number]
type Name = TransmitterSetting['name']

/** What is set now, as far as it is known. */
export type SetNow = (channel: number, name: Name) => number | null

/**
 * What a remedy sets on a transmitter, from what it is now to what it is to be. What is moved by so much, or turned round, starts from
 * zero where nobody knows what it was.
 */
export const transmitterSettingsOf = (items: readonly Item[], now: SetNow): TransmitterSetting[] =>
  items.flatMap(({ channel, ...item }) => {
    const from = (name: Name) => now(channel, name)
    const one = (name: Name, to: number): TransmitterSetting => ({ channel, name, from: from(name), to })
    return Object.entries(item).flatMap(([key, value]): TransmitterSetting[] => {
      switch (key) {
        case 'travelLow':
        case 'travelHigh':
          return [one(key, Number(value))]
        case 'subTrimByUs':
          return [one('subTrim', Math.round((from('subTrim') ?? 0) + Number(value)))]
        case 'invert':
          return value === true ? [one('inverted', 1 - (from('inverted') ?? 0))] : []
        case 'mix':
          return [one('mix', 0)]
        case 'stick':
          return [one('stick', controls.indexOf(value as Control))]
        default:
          return []
      }
    })
  })

const names: Readonly<Record<Name, string>> = {
  travelLow: 'travel, low side',
  travelHigh: 'travel, high side',
  subTrim: 'sub-trim',
  trim: 'trim',
  inverted: 'inverted',
  mix: 'mix',
  stick: 'stick',
}
const units: Partial<Record<Name, string>> = { travelLow: '%', travelHigh: '%', subTrim: 'us', trim: 'us' }

export const transmitterSettingName = ({ channel, name }: Pick<TransmitterSetting, 'channel' | 'name'>): string =>
  `channel ${channel} ${names[name]}`

/** A value as it is said, with its unit. */
export const transmitterValue = (name: Name, value: number | null): string => {
  if (value === null) return 'not known'
  if (name === 'inverted') return value === 1 ? 'yes' : 'no'
  if (name === 'stick') return controls[value] ?? 'none'
  return [String(value), units[name]].filter((w) => w !== undefined).join(' ')
}

/** What was set on a transmitter, in one line. */
export const transmitterWords = (set: readonly TransmitterSetting[]): string =>
  set
    .map(
      (one) => `${transmitterSettingName(one)} ${transmitterValue(one.name, one.from)} to ${transmitterValue(one.name, one.to)}`,
    )
    .join(', ')
