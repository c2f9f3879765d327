import type { BoardSetting, Finding, Reports, SheetPart } from '@taraf/contract'
import { defineCheck, refusal, reportsOf, shown } from '../check'
import { hasBoard } from '../sheetHas'
import { want } from '../take'

/**
 * Everything that the board says of itself before anything is changed: versions, settings with what each means, sockets, sensors. It
 * happened once, and nothing can spoil it; what looks odd in it is shown, and judged where it is repaired.
 */
export const asReceived = defineCheck({
  id: 'board.asReceived',
  version: 1,
  station: 'board',
  title: 'As received',
  proves: 'The state of the board as it arrived is kept before anything is changed.',
  words: {
    target: 'Target',
    firmware: 'Firmware',
    settings: 'Settings',
    notFactory: "Changed from the factory's",
    unsaved: 'In force, not saved',
    escs: 'ESCs',
    'loss.act': 'At signal loss, as set',
  },
  needs: [],
  reads: { settings: [], parts: [], acts: ['board'], image: false },
  appliesTo: hasBoard,
  stages: null,
  *take() {
    yield* want.reports({
      label: 'asked',
      ask: 'Plug the cable in and change nothing yet. The board is asked for all that it can say.',
      of: ['identity', 'settings', 'sockets', 'escs'],
    })
  },
  evaluate: (evidence): Finding[] => {
    const { identity, settings, sockets, escs } = reportsOf(evidence)
    if (identity === undefined || settings === undefined || sockets === undefined)
      return refusal('the board did not say all that it was asked', 'Make sure it is not in its loader, then run it again.')
    const setTo = (name: string) => settings.find((s) => s.name === name)?.saved
    const { firmware } = identity
    return [
      shown('target', identity.target, ''),
      shown('firmware', firmware === null ? 'none' : `${firmware.name} ${firmware.version}`, ''),
      shown('settings', settings.length, 'settings kept'),
      shown('notFactory', settings.filter((s) => s.saved !== s.factory).length, 'settings that are not the factory’s'),
      shown('unsaved', settings.filter((s) => s.value !== s.saved).length, 'settings in force and not saved'),
      ...notFitted(evidence.sheet, setTo).map(([key, why]) => shown(key, why, '')),
      ...notPlanned(evidence.sheet, settings).map(([key, why]) => shown(key, why, '')),
      ...modes(setTo),
      shown('escs', (escs ?? []).filter((e) => e.found).length, 'ESCs that answer'),
    ]
  },
})

const uses = [
  ['compass.use', 'compass'],
  ['baro.use', 'barometer'],
  ['position.use', 'position'],
] as const

/** What is switched on though the sheet has no such part. */
const notFitted = (sheet: SheetPart, setTo: (name: string) => number | undefined): [string, string][] => {
  const sensors = uses.flatMap(([name, part]): [string, string][] =>
    setTo(name) === 1 && sheet.fitted?.includes(part) !== true ? [[name, 'on, and the sheet has none']] : [],
  )
  const sockets = Array.from({ length: 12 }, (_, i) => i + 1).flatMap((socket): [string, string][] => {
    const should = sheet.board?.sockets.find((s) => s.socket === socket)?.use ?? 'free'
    const use = setTo(`socket.${socket}.use`)
    return use !== undefined && use !== 0 && should === 'free' ? [[`socket.${socket}.use`, 'set, and nothing goes there']] : []
  })
  return [...sensors, ...sockets]
}

/** Functions on a channel that the switch plan does not have. */
const notPlanned = ({ switchPlan }: SheetPart, settings: readonly BoardSetting[]): [string, string][] =>
  switchPlan === undefined
    ? []
    : settings.flatMap(({ name, saved }): [string, string][] => {
        const [group, planned, what] = name.split('.')
        return group === 'switch' && what === 'channel' && saved > 0 && !switchPlan.some((row) => row.function === planned)
          ? [[name, `on channel ${saved}, and not in the switch plan`]]
          : []
      })

const modes = (setTo: (name: string) => number | undefined): Finding[] => {
  const act = setTo('loss.act')
  return act === undefined ? [] : [shown('loss.act', act, 'of what it does when the signal is lost')]
}

/** Settings whose number means something else than it did: another unit, range or list of choices; and those that are gone or new. */
export const meansOther = (before: NonNullable<Reports['settings']>, after: NonNullable<Reports['settings']>): string[] => {
  const meaning = ({ unit, min, max, choices }: BoardSetting) => JSON.stringify([unit, min, max, choices ?? []])
  const now = new Map(after.map((s) => [s.name, s]))
  return [
    ...before.flatMap((was) => {
      const is = now.get(was.name)
      return is === undefined || meaning(is) !== meaning(was) ? [was.name] : []
    }),
    ...after.filter((is) => !before.some((was) => was.name === is.name)).map((is) => is.name),
  ]
}
