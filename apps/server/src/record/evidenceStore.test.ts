import { createHash } from 'node:crypto'
import type { Evidence } from '@taraf/contract'
import { plainEvidence } from './evidenceStore'
import { packEvidence, unpackEvidence } from '../files/packEvidence'

const columns = (rows: number) =>
  Object.fromEntries(
    ['ax', 'ay', 'az', 'gx', 'gy', 'gz'].map((name, i) => [name, Float32Array.from({ length: rows }, (_, k) => k / 7 + i)]),
  )
const document = (): Evidence =>
  ({
    format: 'taraf-evidence/1',
    check: 'sensors.gyroRest',
    sheet: {},
    board: {},
    segments: [
      {
        label: 'rest',
        streams: { imu: { stage: 'calibrated', t: Float64Array.from({ length: 50 }, (_, i) => i / 200), ...columns(50) } },
      },
    ],
  }) as unknown as Evidence

describe('kept evidence', () => {
  test('comes back as it was captured, bit for bit', () => {
    expect(unpackEvidence(packEvidence(document()).data)).toEqual(document())
  })

  test('has the hash of its bytes, and the same document always the same bytes', () => {
    const [one, two] = [packEvidence(document()), packEvidence(document())]
    expect(one.sha256.equals(createHash('sha256').update(one.data).digest())).toBe(true)
    expect(one.data.equals(two.data)).toBe(true)
  })

  test('is far smaller than its JSON', () => {
    expect(packEvidence(document()).data.length).toBeLessThan(JSON.stringify(plainEvidence(document())).length / 2)
  })

  test('is refused when it was cut short', () => {
    const { data } = packEvidence(document())
    for (const cut of [0, 10, data.length >> 1, data.length - 1]) expect(() => unpackEvidence(data.subarray(0, cut))).toThrow()
  })

  test('leaves with plain lists for columns', () => {
    const plain = plainEvidence(document()) as Evidence
    expect(Array.isArray(plain.segments[0]?.streams.imu?.t)).toBe(true)
  })
})
