import fc from 'fast-check'
import { Euler, Matrix4, Vector3 } from 'three'
import { angleBetween, apply, fromAngles, toAngles, type Rotation, type Vec3 } from './rotation'

// three.js (general-purpose library): Euler order 'ZYX' is R = Rz Ry Rx, as here.
const ours = (m: Rotation) => m.flat()
const theirs = (roll: number, pitch: number, yaw: number) => {
  const e = new Matrix4().makeRotationFromEuler(new Euler(roll, pitch, yaw, 'ZYX')).elements
  return [e[0], e[4], e[8], e[1], e[5], e[9], e[2], e[6], e[10]] as number[]
}
const angle = fc.double({ min: -Math.PI, max: Math.PI, noNaN: true })
const direction = fc
  .tuple(
    fc.double({ min: -1, max: 1, noNaN: true }),
    fc.double({ min: -1, max: 1, noNaN: true }),
    fc.double({ min: -1, max: 1, noNaN: true }),
  )
  .filter((v) => Math.hypot(...v) > 0.01)

describe('rotations against three.js', () => {
  test('a matrix from angles is the same', () => {
    fc.assert(
      fc.property(angle, angle, angle, (roll, pitch, yaw) => {
        const expected = theirs(roll, pitch, yaw)
        ours(fromAngles({ roll, pitch, yaw })).forEach((cell, i) => expect(cell).toBeCloseTo(expected[i] ?? NaN, 12))
      }),
    )
  })
  test('angles from a matrix are the same away from straight up and down', () => {
    fc.assert(
      fc.property(angle, fc.double({ min: -1.5, max: 1.5, noNaN: true }), angle, (roll, pitch, yaw) => {
        const m = new Matrix4().makeRotationFromEuler(new Euler(roll, pitch, yaw, 'ZYX'))
        const e = new Euler().setFromRotationMatrix(m, 'ZYX')
        const found = toAngles(fromAngles({ roll, pitch, yaw }))
        expect(Math.cos(found.roll - e.x)).toBeCloseTo(1, 9)
        expect(found.pitch).toBeCloseTo(e.y, 9)
        expect(Math.cos(found.yaw - e.z)).toBeCloseTo(1, 9)
      }),
    )
  })
  test('a turned vector and the angle between two directions are the same', () => {
    fc.assert(
      fc.property(angle, angle, angle, direction, direction, (roll, pitch, yaw, v, w) => {
        const turned = new Vector3(...v).applyEuler(new Euler(roll, pitch, yaw, 'ZYX'))
        apply(fromAngles({ roll, pitch, yaw }), v as Vec3).forEach((c, i) => expect(c).toBeCloseTo(turned.getComponent(i), 12))
        expect(angleBetween(v, w)).toBeCloseTo(new Vector3(...v).angleTo(new Vector3(...w)), 6)
      }),
    )
  })
})
