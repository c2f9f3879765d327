import type { Geometry } from '@taraf/contract'
import fc from 'fast-check'
import { mixerOf, positionsOf, type MotorPosition } from './geometry'

type Turn = MotorPosition['turn']
const frame = (
  bearings: readonly number[],
  tiers: readonly ('only' | 'upper' | 'lower')[] = ['only'],
  first: Turn = 'clockwise',
): Geometry => ({
  booms: bearings.map((bearingDeg, i) => ({
    name: `boom ${i + 1}`,
    bearingDeg,
    radiusM: 0.2,
    motors: tiers.map((tier, j) => ({
      tier,
      output: i * tiers.length + j + 1,
      turn: ((tiers.length === 1 ? i : j) % 2 === 0) === (first === 'clockwise') ? 'clockwise' : 'anticlockwise',
    })),
  })),
  body: { lengthM: 0.2, widthM: 0.1 },
  propDiameterM: 0.2,
})
const frames: Record<string, Geometry> = {
  'quad X': frame([45, 135, 225, 315]),
  'quad plus': frame([0, 90, 180, 270]),
  'stretched quad': frame([35, 145, 215, 325]),
  hexa: frame([30, 90, 150, 210, 270, 330]),
  octo: frame([22.5, 67.5, 112.5, 157.5, 202.5, 247.5, 292.5, 337.5]),
  Y6: frame([60, 180, 300], ['upper', 'lower']),
  X8: frame([45, 135, 225, 315], ['upper', 'lower']),
}

describe.each(Object.entries(frames))('the mixer of a %s', (_name, geometry) => {
  const positions = positionsOf(geometry)
  const mix = mixerOf(positions)
  const effect = (axis: 'roll' | 'pitch' | 'yaw' | 'collective') => {
    const sum = (weight: (p: MotorPosition) => number) => positions.reduce((s, p, i) => s + weight(p) * (mix[i]?.[axis] ?? 0), 0)
    return {
      roll: sum((p) => -p.y),
      pitch: sum((p) => p.x),
      yaw: sum((p) => (p.turn === 'anticlockwise' ? 1 : -1)),
      lift: sum(() => 1),
    }
  }
  test('moves one axis and no other', () => {
    for (const axis of ['roll', 'pitch', 'yaw'] as const) {
      const { lift, ...turns } = effect(axis)
      expect(lift).toBeCloseTo(0, 9)
      for (const [other, value] of Object.entries(turns))
        if (other === axis) expect(value).toBeGreaterThan(0.1)
        else expect(value).toBeCloseTo(0, 9)
    }
  })
  test('lifts with every position alike where the frame is even', () => {
    const { lift, ...turns } = effect('collective')
    expect(lift).toBeGreaterThan(1)
    for (const value of Object.values(turns)) expect(value).toBeCloseTo(0, 9)
  })
  test('pushes no position by more than 1', () => {
    for (const row of mix)
      for (const value of Object.values(row)) expect(Math.abs(value as number)).toBeLessThanOrEqual(1 + 1e-12)
  })
})

test('roll right is pushed by the left, nose up by the front, nose right by what turns anticlockwise', () => {
  const positions = positionsOf(frames['quad X'] as Geometry)
  const mix = mixerOf(positions)
  positions.forEach((p, i) => {
    expect(Math.sign(mix[i]?.roll ?? 0)).toBe(-Math.sign(p.y))
    expect(Math.sign(mix[i]?.pitch ?? 0)).toBe(Math.sign(p.x))
    expect(Math.sign(mix[i]?.yaw ?? 0)).toBe(p.turn === 'anticlockwise' ? 1 : -1)
  })
})

test('positions that cannot control an axis are refused', () => {
  const sameTurn = frames['quad X'] as Geometry
  const all = {
    ...sameTurn,
    booms: sameTurn.booms.map((b) => ({ ...b, motors: b.motors.map((m) => ({ ...m, turn: 'clockwise' as const })) })),
  }
  expect(() => mixerOf(positionsOf(all))).toThrow(RangeError)
  const inLine = { ...sameTurn, booms: sameTurn.booms.map((b, i) => ({ ...b, bearingDeg: i % 2 === 0 ? 0 : 180 })) }
  expect(() => mixerOf(positionsOf(inLine))).toThrow(RangeError)
})

test('turned as a whole, a frame is mixed alike about its new axes', () => {
  fc.assert(
    fc.property(fc.double({ min: -180, max: 180, noNaN: true }), (by) => {
      const base = mixerOf(positionsOf(frame([30, 90, 150, 210, 270, 330])))
      const turned = mixerOf(positionsOf(frame([30, 90, 150, 210, 270, 330].map((b) => b + by))))
      turned.forEach((row, i) => {
        expect(row.yaw).toBeCloseTo(base[i]?.yaw ?? NaN, 6)
        expect(row.collective).toBeCloseTo(base[i]?.collective ?? NaN, 6)
      })
    }),
  )
})
