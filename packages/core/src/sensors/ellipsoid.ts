import type { Column } from '@taraf/contract'
import { directionPatches, patchOf } from '../directions'
import { eigenSymmetric, leastSquares } from '../linear'
import { apply, length, type Rotation, type Vec3 } from '../rotation'

/** Corrected = softIron (raw - hardIron), of length `strength`; softIron is symmetric with determinant 1. */
export interface EllipsoidFit {
  readonly hardIron: Vec3
  readonly softIron: Rotation
  readonly strength: number
  /** Share of all directions, in patches of equal area, that has a sample. */
  readonly coverage: number
  /** Root mean square of the corrected length about the strength, as a share of it. */
  readonly residual: number
}

const refinements = 6
const leastSamples = 20

/**
 * Fits an ellipsoid to field samples: a quadric by linear least squares, then the distance itself by Gauss and Newton's
 * method. Null where the samples are on none, or on so little of one that it cannot be told.
 */
export const fitEllipsoid = (x: Column, y: Column, z: Column): EllipsoidFit | null => {
  const n = x.length
  if (n < leastSamples) return null
  const { centre, size } = scaleOf(x, y, z)
  if (!(size > 0)) return null
  const u = new Float64Array(3 * n)
  for (let i = 0; i < n; i++) {
    u[3 * i] = ((x[i] as number) - centre[0]) / size
    u[3 * i + 1] = ((y[i] as number) - centre[1]) / size
    u[3 * i + 2] = ((z[i] as number) - centre[2]) / size
  }
  const first = quadric(u, n)
  if (first === null) return null
  const { shape, middle } = refined(u, n, first)
  const determinant = det(shape)
  if (!(determinant > 0)) return null
  const unit = Math.cbrt(determinant)
  const softIron = shape.map((row) => row.map((v) => v / unit)) as unknown as Rotation
  const hardIron: Vec3 = [centre[0] + size * middle[0], centre[1] + size * middle[1], centre[2] + size * middle[2]]
  const strength = size / unit
  return { hardIron, softIron, strength, ...fitness(x, y, z, { hardIron, softIron, strength }) }
}

/** How well a correction fits samples: the share of directions covered by the corrected ones, and the residual. */
export const fitness = (
  x: Column,
  y: Column,
  z: Column,
  { hardIron, softIron, strength }: Pick<EllipsoidFit, 'hardIron' | 'softIron' | 'strength'>,
): { coverage: number; residual: number } => {
  const seen = new Set<number>()
  let squares = 0
  for (let i = 0; i < x.length; i++) {
    const corrected = apply(softIron, [
      (x[i] as number) - hardIron[0],
      (y[i] as number) - hardIron[1],
      (z[i] as number) - hardIron[2],
    ])
    squares += (length(corrected) / strength - 1) ** 2
    seen.add(patchOf(corrected))
  }
  return { coverage: seen.size / directionPatches.length, residual: Math.sqrt(squares / x.length) }
}

interface Shape {
  /** Symmetric; |shape (u - middle)| is 1 on the ellipsoid. */
  readonly shape: number[][]
  readonly middle: Vec3
}

const scaleOf = (x: Column, y: Column, z: Column): { centre: Vec3; size: number } => {
  const n = x.length
  let [sx, sy, sz] = [0, 0, 0]
  for (let i = 0; i < n; i++) {
    sx += x[i] as number
    sy += y[i] as number
    sz += z[i] as number
  }
  const centre: Vec3 = [sx / n, sy / n, sz / n]
  let squares = 0
  for (let i = 0; i < n; i++)
    squares += ((x[i] as number) - centre[0]) ** 2 + ((y[i] as number) - centre[1]) ** 2 + ((z[i] as number) - centre[2]) ** 2
  return { centre, size: Math.sqrt(squares / n) }
}

/** A quadric whose second-order part has a fixed trace, so that a sphere is the plain case (Li and Griffiths, 2004, in kind). */
const quadric = (u: Float64Array, n: number): Shape | null => {
  const a = new Float64Array(9 * n)
  const b = new Float64Array(n)
  for (let i = 0; i < n; i++) {
    const [x, y, z] = [u[3 * i] as number, u[3 * i + 1] as number, u[3 * i + 2] as number]
    const k = 9 * i
    a[k] = x * x + y * y - 2 * z * z
    a[k + 1] = x * x + z * z - 2 * y * y
    a[k + 2] = 2 * x * y
    a[k + 3] = 2 * x * z
    a[k + 4] = 2 * y * z
    a[k + 5] = 2 * x
    a[k + 6] = 2 * y
    a[k + 7] = 2 * z
    a[k + 8] = 1
    b[i] = x * x + y * y + z * z
  }
  const p = leastSquares(a, n, 9, b)
  if (p === null) return null
  const [p0, p1, xy, xz, yz, gx, gy, gz, constant] = p as unknown as [
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
  ]
  // x2 + y2 + z2 - (...) = 0, written as u'Mu - 2 g'u = constant.
  const m = [
    [1 - p0 - p1, -xy, -xz],
    [-xy, 1 - p0 + 2 * p1, -yz],
    [-xz, -yz, 1 + 2 * p0 - p1],
  ]
  const { values, vectors } = eigenSymmetric(m)
  if (!values.every((v) => v > 1e-6)) return null
  const along = vectors.map(
    (v, i) => ((v[0] as number) * gx + (v[1] as number) * gy + (v[2] as number) * gz) / (values[i] as number),
  )
  const middle = [0, 1, 2].map((i) =>
    vectors.reduce((sum, v, j) => sum + (v[i] as number) * (along[j] as number), 0),
  ) as unknown as Vec3
  const radius = constant + along.reduce((sum, t, i) => sum + t * t * (values[i] as number), 0)
  if (!(radius > 0)) return null
  const shape = [0, 1, 2].map((i) =>
    [0, 1, 2].map((j) =>
      vectors.reduce((sum, v, k) => sum + (v[i] as number) * (v[j] as number) * Math.sqrt((values[k] as number) / radius), 0),
    ),
  )
  return { shape, middle }
}

/** Gauss and Newton on |shape (u - middle)| - 1: nine numbers, of which the shape's six are taken as symmetric. */
const refined = (u: Float64Array, n: number, first: Shape): Shape => {
  let [before, best, cost] = [first, first, Infinity]
  for (let round = 0; ; round++) {
    const { a, b, cost: now } = linearised(u, n, best)
    if (now > cost) return before
    if (round === refinements || cost - now < cost * 1e-12) return best
    cost = now
    before = best
    const d = leastSquares(a, n, 9, b)
    if (d === null) return best
    const { shape, middle } = best
    const at = (row: number, column: number) => (shape[row] as number[])[column] as number
    const step = (i: number) => d[i] as number
    best = {
      shape: [
        [at(0, 0) + step(0), at(0, 1) + step(1), at(0, 2) + step(2)],
        [at(0, 1) + step(1), at(1, 1) + step(3), at(1, 2) + step(4)],
        [at(0, 2) + step(2), at(1, 2) + step(4), at(2, 2) + step(5)],
      ],
      middle: [middle[0] + step(6), middle[1] + step(7), middle[2] + step(8)],
    }
  }
}

/** The distances' derivatives by the nine numbers, what is left to zero, and the sum of its squares. */
const linearised = (u: Float64Array, n: number, { shape, middle }: Shape): { a: Float64Array; b: Float64Array; cost: number } => {
  const s = (i: number, j: number) => (shape[i] as number[])[j] as number
  const [s00, s01, s02, s11, s12, s22] = [s(0, 0), s(0, 1), s(0, 2), s(1, 1), s(1, 2), s(2, 2)]
  const a = new Float64Array(9 * n)
  const b = new Float64Array(n)
  let cost = 0
  for (let i = 0; i < n; i++) {
    const dx = (u[3 * i] as number) - middle[0]
    const dy = (u[3 * i + 1] as number) - middle[1]
    const dz = (u[3 * i + 2] as number) - middle[2]
    const vx = s00 * dx + s01 * dy + s02 * dz
    const vy = s01 * dx + s11 * dy + s12 * dz
    const vz = s02 * dx + s12 * dy + s22 * dz
    const size = Math.sqrt(vx * vx + vy * vy + vz * vz)
    const ex = vx / size
    const ey = vy / size
    const ez = vz / size
    const k = 9 * i
    a[k] = ex * dx
    a[k + 1] = ex * dy + ey * dx
    a[k + 2] = ex * dz + ez * dx
    a[k + 3] = ey * dy
    a[k + 4] = ey * dz + ez * dy
    a[k + 5] = ez * dz
    a[k + 6] = -(s00 * ex + s01 * ey + s02 * ez)
    a[k + 7] = -(s01 * ex + s11 * ey + s12 * ez)
    a[k + 8] = -(s02 * ex + s12 * ey + s22 * ez)
    b[i] = 1 - size
    cost += (1 - size) ** 2
  }
  return { a, b, cost }
}

const det = (m: readonly (readonly number[])[]): number => {
  const at = (i: number, j: number) => (m[i] as number[])[j] as number
  return (
    at(0, 0) * (at(1, 1) * at(2, 2) - at(1, 2) * at(2, 1)) -
    at(0, 1) * (at(1, 0) * at(2, 2) - at(1, 2) * at(2, 0)) +
    at(0, 2) * (at(1, 0) * at(2, 1) - at(1, 1) * at(2, 0))
  )
}

/**
 * How far the corrected length strays from the strength by direction: the mean of each patch as a share of the strength, NaN where
 * it has no sample. The directions are those of the corrected samples.
 */
export const deviations = (
  x: Column,
  y: Column,
  z: Column,
  { hardIron, softIron, strength }: Pick<EllipsoidFit, 'hardIron' | 'softIron' | 'strength'>,
): Float64Array => {
  const sums = new Float64Array(directionPatches.length)
  const counts = new Float64Array(directionPatches.length)
  for (let i = 0; i < x.length; i++) {
    const raw: Vec3 = [(x[i] as number) - hardIron[0], (y[i] as number) - hardIron[1], (z[i] as number) - hardIron[2]]
    const corrected = apply(softIron, raw)
    const patch = patchOf(corrected)
    sums[patch] = (sums[patch] as number) + length(corrected) / strength - 1
    counts[patch] = (counts[patch] as number) + 1
  }
  return sums.map((sum, i) => sum / (counts[i] as number))
}
