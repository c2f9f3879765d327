import fc from 'fast-check'
import { streams, type Column } from '@taraf/contract'
import { discontinuity as discontinuityOf } from './continuity'

const times = (n: number, without: (i: number) => boolean = () => false) =>
  Array.from({ length: n }, (_, i) => i)
    .filter((i) => !without(i))
    .map((i) => i / 200)

const discontinuity = (t: Column, wantedS: number) => discontinuityOf(t, wantedS, streams.imu)

describe('discontinuity', () => {
  test('an unbroken stream of the wanted length is continuous', () => expect(discontinuity(times(1001), 5)).toBeNull())
  test('a short stream is not', () => expect(discontinuity(times(700), 5)).toContain('only 3.50 s'))
  test('an empty stream is not', () => expect(discontinuity([], 5)).toContain('only 0.00 s'))
  test('a gap over 50 ms is not', () =>
    expect(
      discontinuity(
        times(1001, (i) => i > 500 && i < 512),
        5,
      ),
    ).toContain('60 ms'))
  test('a gap of 50 ms is allowed while under 1 % is lost', () =>
    expect(
      discontinuity(
        times(1001, (i) => i > 500 && i < 510),
        5,
      ),
    ).toBeNull())
  test('over 1 % of lost samples is not', () =>
    expect(
      discontinuity(
        times(1001, (i) => i % 50 === 25),
        5,
      ),
    ).toContain('% of the samples'))
  test('a block that comes twice is not', () =>
    expect(discontinuity([...times(500), ...times(1001).slice(480)], 5)).toContain('do not rise'))
  test('two samples five seconds apart are not, nor one row in four of a stream', () => {
    expect(discontinuity([0, 5], 5)).toContain('missing for 5000 ms')
    expect(
      discontinuity(
        times(1001, (i) => i % 4 !== 0),
        5,
      ),
    ).toContain('samples came in a second')
  })
  test('times that are rounded lose no sample, whatever the rate and to whatever they are rounded', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.9 * 4000, max: 1.1 * 4000, noNaN: true }), fc.constantFrom(1e-6, 1e-5, 2e-5), (hz, to) => {
        const t = Array.from({ length: Math.round(2.05 * hz) }, (_, i) => Math.round(i / hz / to) * to)
        expect(discontinuityOf(t, 2, streams.imuBurst)).toBeNull()
        expect(
          discontinuityOf(
            t.filter((_, i) => i % 20 !== 7),
            2,
            streams.imuBurst,
          ),
        ).toContain('% of the samples')
      }),
      { numRuns: 20 },
    )
  })
  test('what may fall silent is counted while it speaks', () => {
    const frames = (hz: number) => [0, 70].flatMap((from) => Array.from({ length: 5 * hz }, (_, i) => from + i / hz))
    expect(discontinuityOf(frames(50), 70, streams.radio)).toBeNull()
    expect(discontinuityOf(frames(5), 70, streams.radio)).toContain('only 5.0 samples came in a second')
  })
  test('a slower stream has its own measure of a gap', () => {
    const slow = Array.from({ length: 40 }, (_, i) => i / 5)
    expect(discontinuityOf(slow, 7, streams.fix)).toBeNull()
    expect(discontinuityOf([...slow, 11], 7, streams.fix)).toContain('missing for 3200 ms')
  })
})
