import type { Finding } from '@taraf/contract'
import { checks } from './checks'
import { judged, refusal, segmentsOf, shown, withProof, writeOf } from './check'

const gyro = checks.find((c) => c.id === 'sensors.gyroRest')
const mounting = checks.find((c) => c.id === 'orientation.board')
if (gyro === undefined || mounting === undefined) throw new Error('checks missing')
const measure = { act: 'Let the board measure it.', calibrate: 'gyro' as const }
const bias = (key: string, value: number) => judged(key, value, 'deg/s', { min: -0.2, max: 0.2 }, measure)
const noisy = judged('noiseX', 1, 'deg/s rms', { max: 0.3 }, { act: 'Fasten the board.', work: ['fasten board'] })

describe('what a calibration writes within its take', () => {
  test('is the one remedy of all that fails', () => {
    expect(writeOf(gyro, [bias('biasX', 1), bias('biasY', 2), bias('biasZ', 0)])).toEqual(measure)
  })
  test('is nothing where something else fails too, where nothing fails, and where it proves nothing', () => {
    expect(writeOf(gyro, [bias('biasX', 1), noisy])).toBeNull()
    expect(writeOf(gyro, [noisy])).toBeNull()
    expect(writeOf(gyro, [bias('biasX', 0)])).toBeNull()
    expect(writeOf(gyro, [bias('biasX', 1), ...refusal('a knock', 'Take it again.')])).toBeNull()
  })
  test('is nothing for a check that proves itself by another: a mounting is written by hand, and proved by Follow', () => {
    expect(writeOf(mounting, [bias('mounting', 1)])).toBeNull()
    expect(segmentsOf(mounting)).toEqual(mounting.capture.segments)
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
    const refused = refusal('a knock', 'Take it again.')
    expect(withProof(refused, [bias('biasX', 0.1)])).toEqual(refused)
  })
})
