import fc from 'fast-check'
import { angleBetween, apply, degrees, fromAngles, inverse, multiply, radians, tiltOf, toAngles, turn } from './rotation'

const angle = fc.double({ min: -Math.PI, max: Math.PI, noNaN: true })

describe('rotation', () => {
  test('a rotation times its inverse changes nothing', () => {
    fc.assert(
      fc.property(angle, angle, angle, (roll, pitch, yaw) => {
        const m = fromAngles({ roll, pitch, yaw })
        multiply(m, inverse(m))
          .flat()
          .forEach((cell, i) => expect(cell).toBeCloseTo(i % 4 === 0 ? 1 : 0, 12))
      }),
    )
  })

  test('straight up and down, roll is 0 and the rotation is kept', () => {
    for (const pitch of [Math.PI / 2, -Math.PI / 2]) {
      const m = fromAngles({ roll: 0.4, pitch, yaw: 1.1 })
      const found = toAngles(m)
      expect(found.roll).toBe(0)
      fromAngles(found)
        .flat()
        .forEach((cell, i) => expect(cell).toBeCloseTo(m.flat()[i] ?? NaN, 7))
    }
  })

  test('angles lie in (-180, 180]', () => {
    expect(turn(-Math.PI)).toBe(Math.PI)
    expect(turn(3 * Math.PI)).toBeCloseTo(Math.PI, 12)
    expect(Object.is(turn(0), 0)).toBe(true)
  })

  test('a board turned a quarter turn to the left (yaw -90) sees forward as its right', () => {
    const body = apply(fromAngles({ roll: 0, pitch: 0, yaw: radians(-90) }), [0, 1, 0])
    body.forEach((c, i) => expect(c).toBeCloseTo([1, 0, 0][i] ?? NaN, 12))
  })

  test('tilt of the specific force: right side down is positive roll, nose up positive pitch', () => {
    const rest = (roll: number, pitch: number) =>
      apply(inverse(fromAngles({ roll: radians(roll), pitch: radians(pitch), yaw: 0.7 })), [0, 0, -9.81])
    const { roll, pitch } = tiltOf(rest(12, -7))
    expect(degrees(roll)).toBeCloseTo(12, 9)
    expect(degrees(pitch)).toBeCloseTo(-7, 9)
  })

  test('small angles between directions keep their digits', () => {
    expect(angleBetween([1, 0, 0], [1, 1e-9, 0])).toBeCloseTo(1e-9, 15)
  })
})
