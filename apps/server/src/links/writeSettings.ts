import type { BoardSetting, Remedy, Settings } from '@taraf/contract'
import { ProblemError } from '../http/problem'
import type { BenchLink } from './benchLink'

export interface WrittenSettings {
  readonly before: Settings
  readonly after: Settings
}

/**
 * Changes a board's settings as one act (invariant 3): stage, write, save, restart, read back, compare. Ends equal, or
 * throws a problem that names what differs. Nothing is written while the board is armed or turning.
 */
export const writeSettings = (link: BenchLink, staged: Settings): Promise<WrittenSettings> =>
  changeSettings(link, async (list) => {
    for (const [name, value] of Object.entries(staged)) {
      const known = list.find((s) => s.name === name)
      if (known === undefined) throw new ProblemError('board-refused', `This board has no setting ${name}. Nothing was written.`)
      if (value < known.min || value > known.max)
        throw new ProblemError(
          'board-refused',
          `${name} = ${value} is outside ${known.min} to ${known.max} ${known.unit}. Nothing was written.`,
        )
    }
    await link.ask({ ask: 'settings.write', values: staged })
    return staged
  })

/**
 * Clears a board to its factory's values and writes others over them, as one act: until it is saved nothing is lost. `wanted` is
 * told what was set before.
 */
export const clearAndWrite = (link: BenchLink, wanted: (before: Settings) => Settings): Promise<WrittenSettings> =>
  changeSettings(link, async (list) => {
    const staged = wanted(valuesOf(list))
    const unknown = Object.keys(staged).filter((name) => !list.some((s) => s.name === name))
    if (unknown.length > 0)
      throw new ProblemError('board-refused', `This board has no setting ${unknown.join(', ')}. Nothing was cleared.`)
    const outside = list.find(({ name, min, max }) => (staged[name] ?? min) < min || (staged[name] ?? min) > max)
    if (outside !== undefined)
      throw new ProblemError(
        'board-refused',
        `${outside.name} = ${staged[outside.name] ?? ''} is outside its range. Nothing was cleared.`,
      )
    await link.ask({ ask: 'settings.clear' })
    await link.ask({ ask: 'settings.write', values: staged })
    return staged
  })

/** Lets the board measure its gyro's bias and keeps it, as one act like any other write. */
export const calibrateGyro = (link: BenchLink): Promise<WrittenSettings> =>
  changeSettings(link, async () => (await link.ask({ ask: 'calibrate', sensor: 'gyro' }, 8_000)).values)

/** What Taraf can do of a remedy over the link. */
export const writeRemedy = (link: BenchLink, { settings }: Remedy): Promise<WrittenSettings> =>
  settings === undefined ? calibrateGyro(link) : writeSettings(link, settings)

const changeSettings = async (link: BenchLink, write: (list: BoardSetting[]) => Promise<Settings>): Promise<WrittenSettings> => {
  if (link.state?.motors !== 'still') throw new ProblemError('bench-busy', 'The motors are not still. Nothing was written.')
  const { settings: list } = await link.ask({ ask: 'settings.list' })
  const wanted = await write(list)
  await link.ask({ ask: 'settings.save' })
  await link.restart()
  const { settings: readBack } = await link.ask({ ask: 'settings.list' })
  const after = valuesOf(readBack)
  const differing = Object.entries(wanted).filter(([name, value]) => !isSame(after[name], value))
  if (differing.length > 0)
    throw new ProblemError(
      'write-differs',
      differing.map(([name, value]) => `${name}: wrote ${value}, read back ${after[name] ?? 'nothing'}`).join('; '),
    )
  return { before: valuesOf(list), after }
}

export const valuesOf = (list: readonly BoardSetting[]): Settings => Object.fromEntries(list.map((s) => [s.name, s.saved]))

/** Boards may keep single precision. */
const isSame = (a: number | undefined, b: number): boolean =>
  a !== undefined && Math.abs(a - b) <= 1e-6 * Math.max(1, Math.abs(b))
