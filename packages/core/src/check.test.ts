import type { Finding } from '@taraf/contract'
import { checks } from './checks'
import { byHand, judged, refusal, shown, withProof } from './check'
import { evaluate } from './evaluate'
import { planOf } from './plan'
import { writeOf } from './take'

const measure = { by: 'calibration' as const, act: 'Let the board measure it.', calibrate: 'gyro' as const }
const bias = (key: string, value: number) => judged(key, value, 'deg/s', { min: -0.2, max: 0.2 }, measure)
const noisy = judged('noiseX', 1, 'deg/s rms', { max: 0.3 }, byHand('Fasten the board.', ['fasten board']))

describe('what a calibration writes within its take', () => {
  test('is the one remedy of all that fails', () => {
    expect(writeOf([bias('biasX', 1), bias('biasY', 2), bias('biasZ', 0)])).toEqual(measure)
  })
  test('is nothing where something else fails too, where nothing fails, and where it proves nothing', () => {
    expect(writeOf([bias('biasX', 1), noisy])).toBeNull()
    expect(writeOf([noisy])).toBeNull()
    expect(writeOf([bias('biasX', 0)])).toBeNull()
    expect(writeOf([bias('biasX', 1), ...refusal('a knock', 'Run it again.')])).toBeNull()
  })
})

describe('a take that wrote', () => {
  const before: Finding[] = [bias('biasX', 1), shown('temperature', 20, 'C')]
  test('keeps what was found before as shown, and is decided by what was found after', () => {
    expect(withProof(before, [bias('biasX', 0.1)])).toEqual([
      { key: 'biasXBefore', value: 1, unit: 'deg/s', verdict: 'shown' },
      shown('temperature', 20, 'C'),
      bias('biasX', 0.1),
    ])
  })
  test('that proved nothing to begin with proves nothing now', () => {
    const refused = refusal('a knock', 'Run it again.')
    expect(withProof(refused, [bias('biasX', 0.1)])).toEqual(refused)
  })
})

describe('the guard that every check shares', () => {
  const samples = (stage: 'raw' | 'calibrated' | 'body') => {
    const t = Array.from({ length: 400 }, (_, i) => i / 200)
    const at = (value: number) => t.map(() => value)
    const zero = at(0)
    return {
      imu: { stage, t, ax: zero, ay: zero, az: at(-9.81), gx: zero, gy: zero, gz: zero },
      attitude: { t, roll: zero, pitch: zero, yaw: zero },
    }
  }
  const staged = checks.filter((c) => c.stages !== null)
  test.each(staged.map((c) => [c.id, c] as const))(
    '%s refuses samples of another stage before it looks at anything',
    (_id, check) => {
      const wrong = (['raw', 'calibrated', 'body'] as const).filter((s) => check.stages?.includes(s) === false)
      expect(wrong.length).toBeGreaterThan(0)
      for (const stage of wrong) {
        const segments = planOf(check, {}).map(({ label }) => ({ label, streams: samples(stage) }))
        const found = evaluate(check, { format: 'taraf-evidence/1', check: check.id, sheet: {}, board: {}, segments })
        expect(found).toMatchObject({
          verdict: 'refused',
          findings: [{ value: expect.stringContaining(`stage ${stage}`) as unknown }],
        })
      }
    },
  )
  test('every check that reads imu samples in body axes, or of the sensor alone, says so', () => {
    expect(staged.map((c) => c.id)).toEqual([
      'sensors.sixPoses',
      'orientation.board',
      'orientation.follow',
      'orientation.level',
      'motors.response',
      'arming.refuses',
      'failsafe.levels',
    ])
  })
})
