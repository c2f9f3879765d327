import type { Finding, Work } from '@taraf/contract'
import { defineCheck, refusal, reportsOf } from '../check'
import { hasBoard } from '../sheetHas'
import { want } from '../take'

const parts = {
  imu: { words: 'imu', work: 'replace board', of: null },
  baro: { words: 'barometer', work: 'replace barometer', of: 'barometer' },
  compass: { words: 'compass', work: 'replace compass', of: 'compass' },
  position: { words: 'position receiver', work: 'replace position receiver', of: 'position' },
} as const satisfies Record<string, { words: string; work: Work; of: 'compass' | 'barometer' | 'position' | null }>

/** Each sensor of the sheet is found; a silent one is looked for at its other bus address too. */
export const sensorsAnswer = defineCheck({
  id: 'board.sensors',
  version: 2,
  station: 'board',
  title: 'Sensors answer',
  proves: 'Every sensor of the sheet answers where the board looks for it.',
  words: { imu: 'Gyro and accelerometer', baro: 'Barometer', compass: 'Compass', position: 'Position receiver' },
  needs: ['board.identity', 'board.sockets'],
  reads: {
    settings: ['baro.*', 'compass.use', 'compass.bus', 'position.use', 'socket.*'],
    parts: ['board', 'barometer', 'compass', 'position receiver', 'sockets'],
    acts: [],
    image: true,
  },
  appliesTo: hasBoard,
  stages: null,
  *take() {
    yield* want.reports({ label: 'asked', ask: 'Leave the cable in. Each sensor is asked.', of: ['sensors'] })
  },
  evaluate: (evidence) => {
    const { sensors } = reportsOf(evidence)
    if (sensors === undefined) return refusal('the board was not asked for its sensors', 'Run it again.')
    return Object.entries(parts).flatMap(([name, { words, work, of }]): Finding[] => {
      if (of !== null && evidence.sheet.fitted?.includes(of) !== true) return []
      const sensor = sensors.find((s) => s.name === name)
      const use = `${name}.use`
      if (evidence.board.settings?.[use] === 0)
        return [
          {
            key: name,
            value: 'switched off',
            unit: '',
            verdict: 'fail',
            remedy: { by: 'settings', act: `The ${words} is fitted and switched off. Switch it on.`, settings: { [use]: 1 } },
          },
        ]
      if (sensor?.found === true) return [{ key: name, value: 'answers', unit: '', verdict: 'pass' }]
      if (sensor?.foundAt !== undefined)
        return [
          {
            key: name,
            value: 'answers at its other bus address',
            unit: '',
            verdict: 'fail',
            remedy: {
              by: 'settings',
              act: `Tell the board to look for the ${words} at its other address.`,
              settings: { [`${name}.bus`]: sensor.foundAt },
            },
          },
        ]
      return [
        {
          key: name,
          value: 'silent',
          unit: '',
          verdict: 'fail',
          remedy: {
            by: 'work',
            act: `Make sure the lead of the ${words} is fully in; if it fails again, replace it.`,
            work: [work],
          },
        },
      ]
    })
  },
})
