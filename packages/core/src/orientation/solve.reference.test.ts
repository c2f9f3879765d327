import { Matrix, SingularValueDecomposition } from 'ml-matrix'
import { Euler, MathUtils, Matrix4 } from 'three'
import { anyDirection, normalOf, uniformFrom } from '../../tests/poses'
import { apply, fromAngles, length, toAngles, type Rotation, type Vec3 } from '../rotation'
import { mountings } from './mountings'
import { fitRotation } from './solve'

/** Wahba's problem by singular values (Markley, Attitude determination using vector observations and the SVD, 1988). */
const bySvd = (observed: readonly { board: Vec3; body: Vec3; weight: number }[]): number[][] => {
  const b = Matrix.zeros(3, 3)
  for (const { board, body, weight } of observed)
    b.add(
      Matrix.columnVector([...body])
        .mmul(Matrix.rowVector([...board]))
        .mul(weight),
    )
  const svd = new SingularValueDecomposition(b)
  const [u, v] = [svd.leftSingularVectors, svd.rightSingularVectors]
  const sign = Math.sign(det3(u) * det3(v))
  return u
    .mmul(Matrix.diag([1, 1, sign]))
    .mmul(v.transpose())
    .to2DArray()
}
const det3 = (m: Matrix): number => {
  const [[a = 0, b = 0, c = 0] = [], [d = 0, e = 0, f = 0] = [], [g = 0, h = 0, i = 0] = []] = m.to2DArray()
  return a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g)
}
const same = (ours: Rotation, theirs: readonly (readonly number[])[], digits: number) =>
  ours.forEach((row, i) => row.forEach((value, j) => expect(value).toBeCloseTo(theirs[i]?.[j] ?? NaN, digits)))

describe('the fitted rotation', () => {
  test('is that of a singular value decomposition by a general-purpose library, in noise and with unlike weights', () => {
    const uniform = uniformFrom(4)
    for (let run = 0; run < 500; run++) {
      const truth = fromAngles({ roll: 6 * uniform() - 3, pitch: 3 * uniform() - 1.5, yaw: 6 * uniform() - 3 })
      const observed = Array.from({ length: 3 + (run % 5) }, () => {
        const board = anyDirection(uniform)
        const noisy = apply(truth, board).map((v) => v + 0.1 * normalOf(uniform)) as unknown as Vec3
        const by = 1 / length(noisy)
        return { board, body: [noisy[0] * by, noisy[1] * by, noisy[2] * by] as Vec3, weight: 0.2 + 5 * uniform() }
      })
      same(fitRotation(observed), bySvd(observed), 8)
    }
  })

  // With two exact directions it is the TRIAD solution (Black, A passive system for determining the attitude of a satellite,
  // 1964): a quarter turn about the vertical takes front to right and leaves down where it is.
  test('is the quarter turn that two directions name', () => {
    const found = fitRotation([
      { board: [1, 0, 0], body: [0, 1, 0], weight: 1 },
      { board: [0, 0, 1], body: [0, 0, 1], weight: 1 },
    ])
    same(
      found,
      [
        [0, -1, 0],
        [1, 0, 0],
        [0, 0, 1],
      ],
      12,
    )
    expect(toAngles(found).yaw).toBeCloseTo(Math.PI / 2, 12)
  })
})

test('the named mountings are the rotations that three.js makes of their angles in the order ZYX', () => {
  for (const { angles, rotation } of mountings) {
    const [roll, pitch, yaw] = [angles.roll, angles.pitch, angles.yaw].map(MathUtils.degToRad) as [number, number, number]
    const e = new Matrix4().makeRotationFromEuler(new Euler(roll, pitch, yaw, 'ZYX')).elements
    same(
      rotation,
      [
        [e[0], e[4], e[8]],
        [e[1], e[5], e[9]],
        [e[2], e[6], e[10]],
      ],
      12,
    )
  }
})
