import type { Vec3 } from '@taraf/core/rotation'

/** The sum of vectors. */
export const add = (...vectors: Vec3[]): Vec3 => [
  vectors.reduce((sum, v) => sum + v[0], 0),
  vectors.reduce((sum, v) => sum + v[1], 0),
  vectors.reduce((sum, v) => sum + v[2], 0),
]

export const scale = (v: Vec3, by: number): Vec3 => [v[0] * by, v[1] * by, v[2] * by]

/** The mean of at least one vector. */
export const meanOf = (vectors: readonly Vec3[]): Vec3 => scale(add(...vectors), 1 / vectors.length)
