import { entryOf, type SheetPart } from '@taraf/contract'

/** What a setting of an ESC does: which way it turns, how it drives, when it gives up. */
export const escGroups = ['Which way it turns', 'How it drives', 'When it gives up'] as const
export interface EscSettingWords {
  readonly words: string
  readonly unit: string
  readonly group: (typeof escGroups)[number]
  /** It saves the motor or the ESC. */
  readonly protects: boolean
  /** What zero is called, and one where there is nothing between. */
  readonly called?: readonly [nought: string, one?: string]
}

const [turns, drives, givesUp] = escGroups
const of = (
  group: EscSettingWords['group'],
  words: string,
  unit = '',
  protects = false,
  called?: EscSettingWords['called'],
): EscSettingWords => ({
  words,
  unit,
  group,
  protects,
  ...(called === undefined ? {} : { called }),
})
const table: Readonly<Record<string, EscSettingWords>> = {
  reverse: of(turns, 'Turns the other way', '', false, ['no', 'yes']),
  timingDeg: of(drives, 'Timing advance', 'deg'),
  switchingKHz: of(drives, 'Switching frequency', 'kHz'),
  startPower: of(drives, 'Start power'),
  brake: of(drives, 'Brake when told to stop', '', false, ['off', 'on']),
  cutCellV: of(givesUp, 'Low-voltage cut-off', 'V per cell', false, ['off']),
  lockedRotorS: of(givesUp, 'Locked rotor after', 's', true, ['off']),
  heatLimitC: of(givesUp, 'Heat limit', 'C', true, ['off']),
  ampLimit: of(givesUp, 'Current limit', 'A', true, ['off']),
}

export const escSettingNames = Object.keys(table)

/** What a setting is called and does; one that nobody knows is called by its own name. */
export const escSetting = (name: string): EscSettingWords => entryOf(table, name) ?? of(drives, name)

/** A value as people say it: `16 deg`, `off`. */
export const escValueWords = (name: string, value: number): string => {
  const { unit, called } = escSetting(name)
  return called?.[value] ?? `${Number(value.toFixed(3))} ${unit}`.trim()
}

/**
 * What a sheet wants every ESC to be set to. Where it does not say, a rotor coasts and is never cut off for a low pack: a brake shakes the
 * frame, and a craft whose motors are cut falls (common practice).
 */
export const settingsWanted = ({ escs }: SheetPart): Readonly<Record<string, number>> =>
  escs === undefined ? {} : { brake: 0, cutCellV: 0, ...escs.settings }
