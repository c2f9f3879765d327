import type { Rotation, Vec3 } from '@taraf/core/rotation'
import { add, scale } from '../vector'

/** Position m and velocity m/s in world axes (north, east, down), attitude as a quaternion from body to world, body rates rad/s. */
export interface RigidState {
  readonly position: Vec3
  readonly velocity: Vec3
  readonly attitude: Quaternion
  readonly rate: Vec3
}
/** w, x, y, z; of length 1. */
export type Quaternion = readonly [number, number, number, number]

/**
 * One step of a rigid body under a force (world axes, N) and a torque (body axes, Nm), both held over the step: fourth-order
 * Runge and Kutta for Euler's equations and the quaternion's kinematics, exact for the position under a constant force.
 * `inertia` holds the principal moments, kg m2.
 */
export const stepRigidBody = (
  { position, velocity, attitude, rate }: RigidState,
  force: Vec3,
  torque: Vec3,
  massKg: number,
  inertia: Vec3,
  dtS: number,
): RigidState => {
  const h = dtS / 2
  const w1 = rate
  const a1 = spinUp(torque, inertia, w1)
  const q1 = turning(attitude, w1)
  const w2 = along(rate, a1, h)
  const a2 = spinUp(torque, inertia, w2)
  const q2 = turning(along4(attitude, q1, h), w2)
  const w3 = along(rate, a2, h)
  const a3 = spinUp(torque, inertia, w3)
  const q3 = turning(along4(attitude, q2, h), w3)
  const w4 = along(rate, a3, dtS)
  const a4 = spinUp(torque, inertia, w4)
  const q4 = turning(along4(attitude, q3, dtS), w4)
  const push = scale(force, 1 / massKg)
  return {
    position: add(position, scale(velocity, dtS), scale(push, (dtS * dtS) / 2)),
    velocity: along(velocity, push, dtS),
    attitude: unit([
      attitude[0] + ((q1[0] + 2 * q2[0] + 2 * q3[0] + q4[0]) * dtS) / 6,
      attitude[1] + ((q1[1] + 2 * q2[1] + 2 * q3[1] + q4[1]) * dtS) / 6,
      attitude[2] + ((q1[2] + 2 * q2[2] + 2 * q3[2] + q4[2]) * dtS) / 6,
      attitude[3] + ((q1[3] + 2 * q2[3] + 2 * q3[3] + q4[3]) * dtS) / 6,
    ]),
    rate: [
      rate[0] + ((a1[0] + 2 * a2[0] + 2 * a3[0] + a4[0]) * dtS) / 6,
      rate[1] + ((a1[1] + 2 * a2[1] + 2 * a3[1] + a4[1]) * dtS) / 6,
      rate[2] + ((a1[2] + 2 * a2[2] + 2 * a3[2] + a4[2]) * dtS) / 6,
    ],
  }
}

/** Euler's equations: what a torque makes of a turn rate, rad/s2. */
const spinUp = (torque: Vec3, inertia: Vec3, w: Vec3): Vec3 => [
  (torque[0] - (inertia[2] - inertia[1]) * w[1] * w[2]) / inertia[0],
  (torque[1] - (inertia[0] - inertia[2]) * w[2] * w[0]) / inertia[1],
  (torque[2] - (inertia[1] - inertia[0]) * w[0] * w[1]) / inertia[2],
]

/** The rotation matrix of a quaternion. */
export const rotationOf = ([w, x, y, z]: Quaternion): Rotation => [
  [1 - 2 * (y * y + z * z), 2 * (x * y - w * z), 2 * (x * z + w * y)],
  [2 * (x * y + w * z), 1 - 2 * (x * x + z * z), 2 * (y * z - w * x)],
  [2 * (x * z - w * y), 2 * (y * z + w * x), 1 - 2 * (x * x + y * y)],
]

/** The quaternion of a rotation matrix (Shepperd 1978: the largest component first). */
export const quaternionOf = (m: Rotation): Quaternion => {
  const trace = m[0][0] + m[1][1] + m[2][2]
  if (trace > 0) {
    const s = 2 * Math.sqrt(1 + trace)
    return unit([s / 4, (m[2][1] - m[1][2]) / s, (m[0][2] - m[2][0]) / s, (m[1][0] - m[0][1]) / s])
  }
  if (m[0][0] > m[1][1] && m[0][0] > m[2][2]) {
    const s = 2 * Math.sqrt(1 + m[0][0] - m[1][1] - m[2][2])
    return unit([(m[2][1] - m[1][2]) / s, s / 4, (m[0][1] + m[1][0]) / s, (m[0][2] + m[2][0]) / s])
  }
  if (m[1][1] > m[2][2]) {
    const s = 2 * Math.sqrt(1 + m[1][1] - m[0][0] - m[2][2])
    return unit([(m[0][2] - m[2][0]) / s, (m[0][1] + m[1][0]) / s, s / 4, (m[1][2] + m[2][1]) / s])
  }
  const s = 2 * Math.sqrt(1 + m[2][2] - m[0][0] - m[1][1])
  return unit([(m[1][0] - m[0][1]) / s, (m[0][2] + m[2][0]) / s, (m[1][2] + m[2][1]) / s, s / 4])
}

const along = (v: Vec3, by: Vec3, t: number): Vec3 => [v[0] + by[0] * t, v[1] + by[1] * t, v[2] + by[2] * t]
const along4 = (q: Quaternion, by: Quaternion, t: number): Quaternion => [
  q[0] + by[0] * t,
  q[1] + by[1] * t,
  q[2] + by[2] * t,
  q[3] + by[3] * t,
]
const turning = ([w, x, y, z]: Quaternion, [p, q, r]: Vec3): Quaternion => [
  (-x * p - y * q - z * r) / 2,
  (w * p + y * r - z * q) / 2,
  (w * q + z * p - x * r) / 2,
  (w * r + x * q - y * p) / 2,
]
const unit = ([w, x, y, z]: Quaternion): Quaternion => {
  const n = Math.hypot(w, x, y, z)
  return [w / n, x / n, y / n, z / n]
}
