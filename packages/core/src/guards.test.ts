import { streams, type Evidence, type Segment, type Streams } from '@taraf/contract'
import fc from 'fast-check'
import { evidenceOf, imuOf, type Wish } from '../tests/samples'
import { defineCheck, shown } from './check'
import { evaluate } from './evaluate'
import { gyroRest } from './sensors/gyroRest'
import { unsaid } from './guards'

type Imu = NonNullable<Streams['imu']>
const rest = (imu: object, label = 'rest'): Segment => ({ label, streams: { imu: imu as Imu } })
const judged = (segments: Segment[], more: Partial<Evidence> = {}) =>
  evaluate(gyroRest, evidenceOf('sensors.gyroRest', segments, more))
const why = (...args: Parameters<typeof judged>) => {
  const { verdict, findings } = judged(...args)
  return `${verdict}: ${String(findings[0]?.value)}`
}
const sound = (wish: Wish = {}) => imuOf(wish)
const frozenFrom = (imu: Imu, from: number, to: number, names: readonly string[]) => ({
  ...imu,
  ...Object.fromEntries(
    names.map((name) => [
      name,
      Array.from(imu[name as 'ax'], (v, i) => (i > from && i <= to ? (imu[name as 'ax'][from] as number) : v)),
    ]),
  ),
})
const all = streams.imu.columns

describe('the guards that every check stands behind', () => {
  test('a sound take passes them', () => expect(judged([rest(sound())]).verdict).toBe('pass'))

  test.each<[string, Segment[], string]>([
    ['a segment that is missing', [rest(sound(), 'proof')], 'the segment "rest" is missing'],
    ['a segment twice', [rest(sound()), rest(sound({ seed: 2 }))], 'the segment "rest" is there twice'],
    ['a segment that nobody asked for', [rest(sound()), rest(sound(), 'nose-up')], 'nobody asked for the segment "nose-up"'],
    ['a proof where nothing was written', [rest(sound()), rest(sound(), 'proof')], 'nobody asked for the segment "proof"'],
    ['a stream that is missing', [{ label: 'rest', streams: {} }], 'imu: the stream is missing'],
    [
      'an empty stream',
      [rest(Object.fromEntries(Object.entries(sound()).map(([k, v]) => [k, typeof v === 'string' ? v : []])))],
      'imu: the stream is empty',
    ],
    ['a stream frozen for a moment', [rest(frozenFrom(sound(), 500, 515, all))], 'it is frozen'],
    ['one dead axis', [rest(frozenFrom(sound(), 0, 1000, ['gy']))], 'gy reads'],
    ['one axis that dies in the middle', [rest(frozenFrom(sound(), 400, 700, ['az']))], 'az reads'],
    [
      'more than a sensor can say',
      [rest({ ...sound(), gx: Array.from(sound().gx, (v, i) => (i === 9 ? 90 : v)) })],
      'gx reads 90',
    ],
    ['a knock', [rest(sound({ bend: (i) => (i === 400 ? { rateDegPerS: [30, 0, 0] } : null) }))], 'knock'],
  ])('%s is refused', (_what, segments, words) => expect(why(segments)).toMatch(new RegExp(`^refused: .*${words}`)))

  test('a write without its proof proves nothing', () =>
    expect(why([rest(sound({ rateDegPerS: [1, 0, 0] }))], { written: { 'gyro.biasX': 1 } })).toContain('"proof" is missing'))

  test('a sheet whose limit is said otherwise than it is applied is refused, with the place', () => {
    const sheet = (name: string, limit: object) => ({ limits: { [name]: { reason: 'a reason', ...limit } } })
    const with_ = (name: string, limit: object) => why([rest(sound())], { sheet: sheet(name, limit) })
    expect(with_('gyroRest.noise', { min: 5 })).toContain('limits["gyroRest.noise"].min')
    expect(with_('gyroRest.hum', { max: 5 })).toContain('no limit of this name')
    expect(with_('rails.volts', { min: 6 })).toContain('no value is from 6')
    expect(with_('gyroRest.noise', { max: 0.5 })).toMatch(/^pass/)
  })

  test('any stretch of rows that is lost, repeated or swapped is refused', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 20, max: 700 }),
        fc.integer({ min: 12, max: 250 }),
        fc.constantFrom('lose', 'repeat', 'shift'),
        (from, rows, how) => {
          const imu = sound()
          const keep = (i: number) => how !== 'lose' || i < from || i >= from + rows
          const column = (x: ArrayLike<number>, isTime: boolean) =>
            Array.from(x, (v, i) => {
              if (i < from || i >= from + rows || how === 'lose') return v
              if (how === 'repeat') return isTime ? v : (x[from] as number)
              return isTime ? v - 0.1 : v
            }).filter((_, i) => keep(i))
          const bent = Object.fromEntries(
            Object.entries(imu).map(([k, v]) => [k, typeof v === 'string' ? v : column(v as number[], k === 't')]),
          )
          expect(judged([rest(bent)]).verdict).toBe('refused')
        },
      ),
      { numRuns: 60 },
    )
  })
})

describe('what leaves an evaluation', () => {
  const saying = (value: number) => defineCheck({ ...gyroRest, id: 'test.says', evaluate: () => [shown('figure', value, 'deg')] })
  test('is never a value that is no number', () => {
    const evidence = evidenceOf('test.says', [rest(sound())])
    expect(evaluate(saying(1), evidence).verdict).toBe('pass')
    for (const value of [NaN, Infinity, -Infinity])
      expect(evaluate(saying(value), evidence)).toMatchObject({
        verdict: 'refused',
        findings: [{ value: 'this evidence gives no figure for figure' }],
      })
  })
  test('is never nothing at all', () => expect(unsaid([])?.why).toContain('no finding'))
})

test('a million rows are judged and neither throw nor run out of stack', () => {
  const n = 1_000_000
  const noise = new Float64Array(n)
  let state = 1
  for (let i = 0; i < n; i++) noise[i] = ((state = (state * 48271) % 2147483647) / 2147483647 - 0.5) * 0.003
  const shifted = (by: number, k: number) => noise.map((_, i) => by + (noise[(i * k + 13) % n] as number))
  const imu = {
    stage: 'calibrated' as const,
    t: Float64Array.from(noise, (_, i) => i / 200),
    ax: shifted(0, 3),
    ay: shifted(0, 7),
    az: shifted(-9.81, 11),
    gx: shifted(0, 17),
    gy: shifted(0, 19),
    gz: shifted(0, 23),
  }
  expect(judged([rest(imu)]).verdict).toBe('pass')
})
