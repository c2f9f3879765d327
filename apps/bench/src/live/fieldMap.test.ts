import { directionPatches } from '@taraf/core'
import { fieldMapOf, noMap, type Field, type FieldMap } from './fieldMap'
import { FieldMapper, type Mapper } from './fieldMapper'
import { StreamTracks } from './streams'

const middle = [30, -12, 5] as const
/** Samples spread over all directions (Fibonacci's lattice), 45 uT about a middle, stretched along the first axis. */
const around = (count: number, stretch = 1) =>
  Array.from({ length: count }, (_, i) => {
    const z = 1 - (2 * (i + 0.5)) / count
    const a = i * Math.PI * (3 - Math.sqrt(5))
    const r = Math.sqrt(1 - z * z)
    return [middle[0] + stretch * 45 * r * Math.cos(a), middle[1] + 45 * r * Math.sin(a), middle[2] + 45 * z]
  })
const fieldOf = (rows: readonly (readonly number[])[]): Field => {
  const column = (i: number) => Float32Array.from(rows, (row) => row[i] ?? 0)
  return { x: column(0), y: column(1), z: column(2) }
}

test('a full turn about any middle covers all patches, half of one about half', () => {
  const whole = fieldMapOf(fieldOf(around(4000, 1.2)))
  expect(whole.seen.size).toBe(directionPatches.length)
  expect(whole.strength).toBeCloseTo(45 * Math.cbrt(1.2), 1)
  expect(whole.residual).toBeLessThan(1e-4)
  const half = fieldMapOf(fieldOf(around(4000).filter(([, , z = 0]) => z > middle[2])))
  // About the fit's middle, and not about that of what was seen, half a turn is half a map.
  expect(half.coverage).toBeGreaterThan(0.45)
  expect(half.coverage).toBeLessThan(0.55)
})

test('nothing, and what was not turned, is no map', () => {
  expect(fieldMapOf(fieldOf([]))).toBe(noMap)
  expect(fieldMapOf(fieldOf(Array.from({ length: 50 }, () => [1, 2, 3])))).toBe(noMap)
})

describe('the mapper', () => {
  const made = () => {
    const asked: Field[] = []
    let told: (map: FieldMap) => void = () => {}
    let fail: () => void = () => {}
    let started = 0
    const worker: Mapper = {
      post: (field) => void asked.push(field),
      listen: (to, failed) => {
        told = to
        fail = failed
      },
      end: () => {},
    }
    const answer = (map: Partial<FieldMap>) => told({ ...noMap, ...map })
    const start = async () => {
      started += 1
      return { ...worker }
    }
    return { asked, answer, fail: () => fail(), starts: () => started, mapper: new FieldMapper(start) }
  }
  const rows = around(200)

  test('goes on with another worker where one failed, and where none could be started', async () => {
    const { asked, answer, fail, starts, mapper } = made()
    mapper.of(rows.slice(0, 20))
    await Promise.resolve()
    mapper.of(rows.slice(0, 20))
    fail()
    mapper.of(rows.slice(0, 60))
    await Promise.resolve()
    mapper.of(rows.slice(0, 60))
    expect([starts(), asked.map((f) => f.x.length)]).toEqual([2, [20, 60]])
    answer({ coverage: 0.3 })
    expect(mapper.of(rows.slice(0, 60)).coverage).toBe(0.3)
    let tries = 0
    const none = new FieldMapper(() => (tries++, Promise.reject(new Error('no worker'))))
    for (let i = 0; i < 3; i++) {
      none.of(rows.slice(0, 20))
      await new Promise((resolve) => setTimeout(resolve, 0))
    }
    expect(tries).toBe(3)
  })

  test('fits one at a time, the next with all that has come meanwhile', async () => {
    const { asked, answer, mapper } = made()
    mapper.of(rows.slice(0, 20))
    await Promise.resolve()
    mapper.of(rows.slice(0, 20))
    mapper.of(rows.slice(0, 60))
    expect(asked.map((f) => f.x.length)).toEqual([20])
    answer({ coverage: 0.1 })
    expect(mapper.of(rows.slice(0, 90)).coverage).toBe(0.1)
    expect(asked.map((f) => f.x.length)).toEqual([20, 90])
    answer({ coverage: 0.2 })
    expect(mapper.of(rows.slice(0, 95)).coverage).toBe(0.2)
    expect(asked).toHaveLength(2)
  })

  test('forgets a take when another begins, and what was still being fitted of it', async () => {
    const { answer, mapper } = made()
    mapper.of(rows)
    await Promise.resolve()
    mapper.of(rows)
    expect(mapper.of(rows.slice(0, 3))).toBe(noMap)
    answer({ coverage: 0.9 })
    expect(mapper.of(rows.slice(0, 5))).toBe(noMap)
  })
})

test('rows of a stream are kept in their columns, and a new sense starts anew', () => {
  const tracks = new StreamTracks()
  const block = (seq: number, values: number[]) =>
    tracks.push({ tell: 'stream', stream: 'mag', seq, t: Float64Array.of(0, 0.02), values: Float32Array.from(values) })
  block(0, [1, 2, 3, 4, 5, 6])
  block(1, [7, 8, 9, 10, 11, 12])
  expect(tracks.rows('mag')).toEqual([
    [1, 3, 5],
    [2, 4, 6],
    [7, 9, 11],
    [8, 10, 12],
  ])
  block(0, [0, 0, 0, 0, 0, 0])
  expect(tracks.rows('mag')).toHaveLength(2)
  expect(tracks.rows('baro')).toEqual([])
})
