import type { AnswerOf, BoardSetting, Settings } from '@taraf/contract'
import type { Written } from '../take'
import type { LinkStep } from './ask'

/** What is done to a board's settings, as one act. */
export type SettingsAct =
  | { readonly do: 'write'; readonly settings: Settings }
  /** Clears to the factory's values, and writes over them what is wanted of those that were set before. */
  | { readonly do: 'clear'; readonly wanted: (before: Settings) => Settings }
  | { readonly do: 'calibrate'; readonly sensor: 'gyro' }

/** Why nothing was written, in one sentence: the board is as it was. */
export interface NotWritten {
  readonly why: string
}

/**
 * Changes a board's settings as one act (invariant 3): list, stage, write, save, restart, read back, compare. Whoever has the link does
 * each step and hands back its answer. What is unknown or out of range is found before anything is written, and until it is
 * saved nothing is lost. Ends with what was kept, and names what was kept otherwise.
 */
export function* changeSettings(act: SettingsAct): Generator<LinkStep, Written | NotWritten, never> {
  const { settings: list } = (yield { ask: 'settings.list' }) as AnswerOf<'settings.list'>
  const before = valuesOf(list)
  let asked: Settings
  if (act.do === 'calibrate') {
    const { values } = (yield { ask: 'calibrate', sensor: act.sensor }) as AnswerOf<'calibrate'>
    asked = values
  } else {
    asked = act.do === 'write' ? act.settings : act.wanted(before)
    const wrong = outside(asked, list)
    if (wrong !== null) return { why: `${wrong} Nothing was ${act.do === 'clear' ? 'cleared' : 'written'}.` }
    if (act.do === 'clear') yield { ask: 'settings.clear' }
    yield { ask: 'settings.write', values: asked }
  }
  yield { ask: 'settings.save' }
  yield { restart: true }
  const { settings: readBack } = (yield { ask: 'settings.list' }) as AnswerOf<'settings.list'>
  const after = valuesOf(readBack)
  const otherwise = Object.entries(asked).filter(([name, value]) => !isSame(after[name], value))
  const differs = otherwise.map(([name, value]) => `${name}: wrote ${value}, read back ${after[name] ?? 'nothing'}`)
  return { before, after, asked: Object.fromEntries(otherwise), differs }
}

/** What of the settings wanted this board does not have, or cannot be set to; or null. */
const outside = (asked: Settings, list: readonly BoardSetting[]): string | null => {
  const known = new Map(list.map((s) => [s.name, s]))
  const unknown = Object.keys(asked).filter((name) => !known.has(name))
  if (unknown.length > 0) return `This board has no setting ${unknown.join(', ')}.`
  for (const [name, value] of Object.entries(asked)) {
    const { min, max, unit } = known.get(name) as BoardSetting
    if (!(value >= min && value <= max)) return `${name} = ${value} is outside ${min} to ${max} ${unit}`.trimEnd() + '.'
  }
  return null
}

/** What a board has saved, by name. */
export const valuesOf = (list: readonly BoardSetting[]): Settings => Object.fromEntries(list.map((s) => [s.name, s.saved]))

/** What a board calls the choices of its settings, by name. */
export const choicesOf = (list: readonly BoardSetting[]): Record<string, string[]> =>
  Object.fromEntries(list.flatMap((s) => (s.choices === undefined ? [] : [[s.name, s.choices]])))

/** Boards may keep single precision. */
const isSame = (a: number | undefined, b: number): boolean =>
  a !== undefined && Math.abs(a - b) <= 1e-6 * Math.max(1, Math.abs(b))
