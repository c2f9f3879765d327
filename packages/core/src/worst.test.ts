import fc from 'fast-check'
import { highestOf, worstStretch } from './worst'

const times = (n: number, hz = 20) => Array.from({ length: n }, (_, i) => 7 + i / hz)

test('the worst second lies within the values, holds the mean, and is what a plain search over every second finds', () => {
  fc.assert(
    fc.property(fc.array(fc.double({ min: -5, max: 5, noNaN: true }), { minLength: 1, maxLength: 90 }), (x) => {
      const t = times(x.length)
      const { lowest, highest } = worstStretch(t, x, 1)
      const means = x.flatMap((_, i) => {
        const part = x.slice(i, i + 21)
        return part.length === 21 ? [part.reduce((a, b) => a + b, 0) / 21] : []
      })
      const all = means.length > 0 ? means : [x.reduce((a, b) => a + b, 0) / x.length]
      expect(lowest).toBeCloseTo(Math.min(...all), 9)
      expect(highest).toBeCloseTo(Math.max(...all), 9)
    }),
  )
})

test('only the rows asked for count', () =>
  expect(worstStretch(times(60), [...Array<number>(20).fill(9), ...Array<number>(40).fill(1)], 1, 20).highest).toBe(1))

test('the highest of a million values is found', () => {
  const x = new Float64Array(1e6)
  x[777_777] = 3
  expect(highestOf(x)).toBe(3)
})
