import type { Finding, StoredEntry, TakeBody } from '@taraf/contract'
import { spreadScale } from '../parts/ruleScale'
import { mountingOf } from '../stations/orientation/board'
import { mapsOf } from '../stations/sensors/CompassResult'
import { spreadOf } from './Spread'
import type { TakeEntry } from '../parts/findings'

const take = (seq: number, findings: Finding[], verdict: TakeBody['verdict'] = 'pass'): TakeEntry =>
  ({ seq, body: { kind: 'take', verdict, findings } }) as unknown as StoredEntry & { body: TakeBody }
const bias = (value: number): Finding => ({ key: 'biasX', value, unit: 'deg/s', limit: { min: -0.2, max: 0.2 }, verdict: 'pass' })

describe('what was measured over the takes', () => {
  test('oldest first, without refused ones, beside other airframes that have the same finding', () => {
    const refused = take(3, [{ key: 'refused', value: 'a knock', unit: '', verdict: 'refused' }], 'refused')
    const lines = spreadOf(
      [refused, take(2, [bias(0.1), { key: 'biasXBefore', value: 0.9, unit: 'deg/s', verdict: 'shown' }]), take(1, [bias(0.9)])],
      [
        { tag: 'L4-001', at: '', values: { biasX: -0.05 } },
        { tag: 'L4-002', at: '', values: { other: 1 } },
      ],
    )
    expect(lines).toEqual([
      {
        key: 'biasX',
        unit: 'deg/s',
        limit: { min: -0.2, max: 0.2 },
        takes: [
          { seq: 1, value: 0.9 },
          { seq: 2, value: 0.1 },
        ],
        earlier: [-0.05],
      },
    ])
  })
  test('nothing is drawn of what is not judged, or is no number', () => {
    expect(spreadOf([take(1, [{ key: 'bias', value: [1, 2], unit: '', limit: { max: 1 }, verdict: 'pass' }])], [])).toEqual([])
    expect(spreadOf([], [])).toEqual([])
  })
  test('every value and every bound lies on its rule', () => {
    for (const limit of [{ min: -0.2, max: 0.2 }, { max: 0.3 }, { min: 8 }]) {
      const { share } = spreadScale(limit, [0.9, -1.5, 12])
      for (const v of [0.9, 12, limit.min ?? 0, limit.max ?? 0]) {
        expect(share(v)).toBeGreaterThan(0)
        expect(share(v)).toBeLessThan(1)
      }
    }
  })
})

test('the mounting is drawn as found, with what was told where the take says that', () => {
  const at = { roll: 0, pitch: 0, yaw: -90 }
  const finding: Finding = { key: 'mounting', value: at, unit: 'deg', verdict: 'fail' }
  expect(mountingOf([finding])).toEqual({ found: at })
  expect(mountingOf([{ ...finding, limit: { equals: { ...at, yaw: 0 } } }])).toEqual({ found: at, told: { ...at, yaw: 0 } })
  expect(mountingOf([{ key: 'refused', value: 'x', unit: '', verdict: 'refused' }])).toBeNull()
})

test('the compass map shows hard iron before and none after; without a fit there is none', () => {
  const rows = Array.from({ length: 2000 }, (_, i) => {
    const z = 1 - (2 * (i + 0.5)) / 2000
    const a = i * Math.PI * (3 - Math.sqrt(5))
    return [20 + 45 * Math.sqrt(1 - z * z) * Math.cos(a), 45 * Math.sqrt(1 - z * z) * Math.sin(a), 45 * z]
  })
  const column = (i: number) => rows.map((row) => row[i] ?? 0)
  const mag = { t: rows.map((_, i) => i * 0.02), mx: column(0), my: column(1), mz: column(2) }
  const evidence = {
    format: 'taraf-evidence/1' as const,
    check: 'sensors.compass',
    sheet: {},
    board: { settings: {} },
    segments: [{ label: 'turn', streams: { mag } }],
  }
  const shown = (key: string, value: Finding['value']): Finding => ({ key, value, unit: '', verdict: 'shown' })
  const unit = [
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
  ]
  const maps = mapsOf(evidence, [shown('hardIron', [20, 0, 0]), shown('softIron', unit), shown('fieldStrength', 45)])
  const worst = (map: Float64Array | undefined) => Math.max(...[...(map ?? [])].filter((d) => !Number.isNaN(d)).map(Math.abs))
  expect(worst(maps?.before)).toBeGreaterThan(0.35)
  expect(worst(maps?.after)).toBeLessThan(1e-6)
  expect(mapsOf(evidence, [])).toBeNull()
})
