import { senseColumns } from '@taraf/contract'
import fc from 'fast-check'
import { SampleRing } from './sampleRing'

const block = (from: number, rows: number) => ({
  t: Float64Array.from({ length: rows }, (_, i) => (from + i) * 0.005),
  values: Float32Array.from(senseColumns.flatMap(() => Array.from({ length: rows }, (_, i) => from + i))),
})

describe('the ring of samples', () => {
  test('gives the newest seconds in order, however the blocks came', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 40 }), { minLength: 1, maxLength: 60 }), (sizes) => {
        const ring = new SampleRing(64)
        let n = 0
        for (const size of sizes) {
          ring.push(block(n, size))
          n += size
        }
        const recent = [...ring.recent('gx', 0.1)]
        const expected = Array.from({ length: Math.min(21, n) }, (_, i) => n - Math.min(21, n) + i)
        // 0.1 s hold 20 or 21 samples: the oldest is on the edge.
        expect(expected.slice(-recent.length)).toEqual(recent)
        expect(recent.length).toBeGreaterThanOrEqual(Math.min(20, n))
        expect(ring.last('gx')).toBe(n - 1)
        expect(ring.count).toBe(n)
      }),
    )
  })
  test('never gives more than it holds', () => {
    const ring = new SampleRing(8)
    ring.push(block(0, 30))
    expect([...ring.recent('az', 10)]).toEqual([22, 23, 24, 25, 26, 27, 28, 29])
  })
  test('is empty at first and after clearing', () => {
    const ring = new SampleRing(8)
    expect(ring.last('roll')).toBeNull()
    expect(ring.recent('roll', 1)).toHaveLength(0)
    ring.push(block(0, 3))
    ring.clear()
    expect(ring.last('roll')).toBeNull()
  })
})
