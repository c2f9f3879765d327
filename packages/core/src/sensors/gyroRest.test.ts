import fc from 'fast-check'
import { evidenceOf, imuOf, type Wish } from '../../tests/samples'
import { isNeeded } from '../check'
import { evaluate } from '../evaluate'
import { gyroRest } from './gyroRest'
import type { Evidence } from '@taraf/contract'

const judge = (wish: Wish, rest: Partial<Evidence> = {}) =>
  evaluate(gyroRest, evidenceOf('sensors.gyroRest', [{ label: 'rest', streams: { imu: imuOf(wish) } }], rest))
const valueOf = (result: ReturnType<typeof judge>, key: string) => result.findings.find((f) => f.key === key)

describe('gyro at rest', () => {
  test('measures bias and noise of each axis within what the noise allows', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 1e6 }),
        fc.tuple(...[0, 1, 2].map(() => fc.double({ min: -3, max: 3, noNaN: true }))),
        (seed, bias) => {
          const result = judge({ seed, rateDegPerS: bias as [number, number, number], noiseDegPerS: [0.1, 0.1, 0.1] })
          // Five standard errors of 1001 samples.
          ;['biasX', 'biasY', 'biasZ'].forEach((key, i) =>
            expect(Math.abs(Number(valueOf(result, key)?.value) - (bias[i] ?? NaN))).toBeLessThan(5 * (0.1 / Math.sqrt(1001))),
          )
          expect(Number(valueOf(result, 'noiseY')?.value)).toBeCloseTo(0.1, 1)
        },
      ),
      { numRuns: 40 },
    )
  })

  test('measured anew within the take, it is decided by the rest after the write', () => {
    const after = (rateDegPerS: [number, number, number], bend?: Wish['bend']) => {
      const rest = { label: 'rest', streams: { imu: imuOf({ rateDegPerS: [0.9, 0, 0] }) } }
      const proof = { label: 'proof', streams: { imu: imuOf({ rateDegPerS, seed: 2, ...(bend === undefined ? {} : { bend }) }) } }
      return evaluate(gyroRest, evidenceOf('sensors.gyroRest', [rest, proof], { written: { 'gyro.biasX': 0.9 } }))
    }
    expect(after([0, 0, 0]).verdict).toBe('pass')
    expect(valueOf(after([0, 0, 0]), 'biasXBefore')).toMatchObject({ verdict: 'shown', value: expect.closeTo(0.9, 1) as number })
    expect(after([0, 0.4, 0]).verdict).toBe('fail')
    expect(after([0, 0, 0], (i) => (i > 500 && i < 520 ? { force: [0, 4, -9.81] } : null)).verdict).toBe('refused')
  })

  test('a quiet, unbiased gyro passes', () => expect(judge({}).verdict).toBe('pass'))

  test('a bias over the limit fails on its axis, and the remedy is the board measuring it anew', () => {
    const result = judge({ rateDegPerS: [0, -0.25, 0] })
    expect(result.verdict).toBe('fail')
    expect(valueOf(result, 'biasY')).toMatchObject({
      verdict: 'fail',
      limit: { min: -0.2, max: 0.2 },
      remedy: { calibrate: 'gyro' },
    })
    expect(valueOf(result, 'biasX')).not.toHaveProperty('remedy')
  })

  test('a noisy axis fails, and its remedy is for hands', () => {
    const finding = valueOf(judge({ noiseDegPerS: [0.05, 0.05, 0.5] }), 'noiseZ')
    expect(finding?.verdict).toBe('fail')
    expect(finding?.remedy).toMatchObject({
      act: expect.stringContaining('fasten it') as string,
      work: ['fasten board', 'replace board'],
    })
    expect(finding?.remedy).not.toHaveProperty('calibrate')
  })

  test("a sheet's own limit holds instead of the default", () => {
    const sheet = { limits: { 'gyroRest.bias': { max: 0.4, reason: 'slow survey frame' } } }
    expect(judge({ rateDegPerS: [0.3, 0, 0] }, { sheet }).verdict).toBe('pass')
    expect(judge({ rateDegPerS: [0.3, 0, 0] }).verdict).toBe('fail')
  })

  test('a knock is refused, never averaged away', () => {
    const result = judge({ bend: (i) => (i === 400 ? { rateDegPerS: [30, 0, 0] } : null) })
    expect(result.verdict).toBe('refused')
    expect(result.findings).toHaveLength(1)
    expect(result.findings[0]).toMatchObject({
      key: 'refused',
      remedy: { act: expect.stringContaining('keep your hands off') as string },
    })
  })

  test('too short a capture, or none, is refused', () => {
    expect(judge({ seconds: 3 }).verdict).toBe('refused')
    expect(evaluate(gyroRest, evidenceOf('sensors.gyroRest', [{ label: 'rest', streams: {} }])).verdict).toBe('refused')
  })

  test('a sheet can leave it out', () => {
    expect(isNeeded(gyroRest, {})).toBe(true)
    expect(isNeeded(gyroRest, { leavesOut: { 'sensors.gyroRest': 'it has none' } })).toBe(false)
  })
})
