import type { Finding } from '@taraf/contract'
import { byHand, defineCheck, refusal } from '../check'
import { hasBoard } from '../sheetHas'
import { want } from '../take'

/**
 * What belongs to one airframe alone, by name or `group.*`: calibration, scales, trims, and how its board is mounted, which is solved at
 * its own station. A sheet never overwrites it.
 */
export const ownSettings: readonly string[] = [
  'gyro.*',
  'accel.*',
  'level.roll',
  'level.pitch',
  'board.*',
  'chip.*',
  // Where its own sensors answer.
  'compass.bus',
  'baro.bus',
  'compass.hard*',
  'compass.soft*',
  'power.voltScale',
  'power.ampScale',
  'power.ampOffset',
  'rotor.hover',
]

export const isOwn = (name: string): boolean =>
  ownSettings.some((own) => (own.endsWith('*') ? name.startsWith(own.slice(0, -1)) : own === name))

const writeAct = 'Write the settings of the sheet as one act.'
const same = (a: number, b: number): boolean => Math.abs(a - b) <= 1e-6 * Math.max(1, Math.abs(b))

/** What a sheet sets. What a later station calibrates or solves is not among it, and spoils nothing here. */
const sheetGroups: readonly string[] = (
  'radio.* telemetry.* arm.* switch.* gesture.* curve.* gain.* filter.* level.most motors.* output.* esc.* loop.* loss.* home.* ' +
  'bound.* socket.* baro.use compass.use position.* power.cells power.warnCell power.lowCell power.armCell power.capacity ' +
  'power.voltDivides power.ampDivides video.* overlay.* lights.* sounder.* gimbal.* log.*'
).split(' ')

/** Every setting of the sheet on the board, but what is the airframe's own. Written as one act where it differs. */
export const baseline = defineCheck({
  id: 'board.baseline',
  version: 2,
  station: 'board',
  title: 'Settings match the sheet',
  proves: 'The board is set as the sheet says.',
  words: { unknown: 'Not a setting of this board', differing: 'Different from the sheet', compared: 'Settings compared' },
  needs: ['board.asReceived', 'board.identity', 'board.firmware'],
  reads: { settings: sheetGroups, parts: ['board'], acts: [], image: true },
  appliesTo: hasBoard,
  stages: null,
  *take() {
    yield* want.reports({ label: 'asked', ask: 'Leave the cable in. All settings are read and compared.', of: ['identity'] })
  },
  evaluate: ({ board: { settings: found }, sheet }) => {
    if (found === undefined) return refusal('the evidence does not say what the board is set to', 'Run it again.')
    const wanted = Object.entries(sheet.settings ?? {}).filter(([name]) => !isOwn(name))
    const unknown = wanted.filter(([name]) => found[name] === undefined)
    const differing = wanted.filter(([name, value]) => found[name] !== undefined && !same(found[name], value))
    return [
      count('unknown', unknown, 'settings that this board does not have', {
        by: 'technician',
        act: `The board does not know ${unknown.map(([name]) => name).join(', ')}: its image was built without, or the sheet is for another one. Compare the image with the sheet.`,
      }),
      count(
        'differing',
        differing,
        'settings',
        unknown.length === 0
          ? { by: 'settings', act: writeAct, settings: Object.fromEntries(differing) }
          : byHand('First make sure the board knows every setting of the sheet.'),
      ),
      ...differing.map(([name, equals]): Finding => ({
        key: name,
        value: found[name] as number,
        unit: '',
        limit: { equals },
        verdict: 'fail',
        remedy: byHand(writeAct),
      })),
      { key: 'compared', value: wanted.length, unit: 'settings', verdict: 'shown' },
    ]
  },
})

const count = (key: string, list: readonly unknown[], unit: string, remedy: NonNullable<Finding['remedy']>): Finding => ({
  key,
  value: list.length,
  unit,
  limit: { max: 0 },
  ...(list.length === 0 ? { verdict: 'pass' } : { verdict: 'fail', remedy }),
})

/** Names of settings by group, the part before the first dot, in the order in which the groups first come. */
export const groupsOf = (names: readonly string[]): [group: string, names: string[]][] => {
  const groups = new Map<string, string[]>()
  for (const name of names) {
    const group = name.slice(0, name.indexOf('.'))
    groups.set(group, [...(groups.get(group) ?? []), name])
  }
  return [...groups]
}
