import fc from 'fast-check'
import { randomFrom } from '../../rig/src/random'
import { mean, median, noiseLevel, standardDeviation } from './statistics'

describe('statistics', () => {
  test('the median of an even count lies between the two middle values', () => {
    expect(median([4, 1, 3, 2])).toBe(2.5)
    expect(median([9, 1, 5])).toBe(5)
  })

  test('a part of a column is as good as a column of that part', () => {
    const column = [9, 9, 1, 2, 3, 9]
    expect(mean(column, 2, 5)).toBe(2)
    expect(standardDeviation(column, 2, 5)).toBe(1)
  })

  test('shifting all samples shifts the mean and leaves the deviation', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: -1, max: 1, noNaN: true }), { minLength: 3, maxLength: 50 }),
        fc.integer({ min: -1000, max: 1000 }),
        (data, shift) => {
          const shifted = data.map((x) => x + shift)
          expect(mean(shifted)).toBeCloseTo(mean(data) + shift, 9)
          expect(standardDeviation(shifted)).toBeCloseTo(standardDeviation(data), 9)
        },
      ),
    )
  })

  test('the noise level sees white noise and neither drift nor single knocks', () => {
    const random = randomFrom(7)
    const noisy = Array.from({ length: 1000 }, (_, i) => 0.5 * random.normal() + i * 0.01 + (i === 500 ? 80 : 0))
    expect(noiseLevel(noisy)).toBeGreaterThan(0.45)
    expect(noiseLevel(noisy)).toBeLessThan(0.55)
  })
})
