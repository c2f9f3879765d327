import type { Vec3 } from '@taraf/core/rotation'

/** The sum of vectors. */
export const add = (first: Vec3, second: Vec3, ...others: Vec3[]): Vec3 => {
  let [x, y, z] = [first[0] + second[0], first[1] + second[1], first[2] + second[2]]
  for (const v of others) {
    x += v[0]
    y += v[1]
    z += v[2]
  }
  return [x, y, z]
}

export const scale = (v: Vec3, by: number): Vec3 => [v[0] * by, v[1] * by, v[2] * by]

/** The mean of at least one vector. */
export const meanOf = (vectors: readonly Vec3[]): Vec3 =>
  scale(
    vectors.reduce((sum, v) => add(sum, v), [0, 0, 0] as Vec3),
    1 / vectors.length,
  )
