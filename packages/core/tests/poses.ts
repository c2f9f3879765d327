import type { Side } from '@taraf/contract'
import { apply, fromAngles, inverse, length, multiply, radians, type Rotation, type Vec3 } from '../src/rotation'

/** Numbers in [0, 1) from a seed: Park and Miller's minimal standard generator (1988). */
export const uniformFrom = (seed: number): (() => number) => {
  let state = (Math.abs(Math.round(seed)) % 2147483646) + 1
  return () => (state = (state * 48271) % 2147483647) / 2147483647
}
export const normalOf = (uniform: () => number): number =>
  Math.sqrt(-2 * Math.log(1 - uniform() * (1 - 1e-12))) * Math.cos(2 * Math.PI * uniform())

/** A rotation by an angle about an axis (Rodrigues' formula). */
export const about = (axis: Vec3, angle: number): Rotation => {
  const by = 1 / length(axis)
  const [x, y, z] = [axis[0] * by, axis[1] * by, axis[2] * by]
  const [c, s, v] = [Math.cos(angle), Math.sin(angle), 1 - Math.cos(angle)]
  return [
    [c + x * x * v, x * y * v - z * s, x * z * v + y * s],
    [y * x * v + z * s, c + y * y * v, y * z * v - x * s],
    [z * x * v - y * s, z * y * v + x * s, c + z * z * v],
  ]
}

export const anyDirection = (uniform: () => number): Vec3 => {
  const z = 2 * uniform() - 1
  const angle = 2 * Math.PI * uniform()
  const r = Math.sqrt(1 - z * z)
  return [r * Math.cos(angle), r * Math.sin(angle), z]
}

/** A direction that strays from another by at most so much, uniformly in the angle. */
export const strayed = (direction: Vec3, most: number, uniform: () => number): Vec3 => {
  let axis: Vec3 = [0, 0, 0]
  while (length(axis) < 1e-3) {
    const other = anyDirection(uniform)
    axis = [
      direction[1] * other[2] - direction[2] * other[1],
      direction[2] * other[0] - direction[0] * other[2],
      direction[0] * other[1] - direction[1] * other[0],
    ]
  }
  return apply(about(axis, most * uniform()), direction)
}

export interface Hold {
  /** Up in body axes while it is held. */
  readonly up: Vec3
  readonly label: string
  readonly mark?: Side
}
const g = 9.80665

/** The up directions of the three poses, body axes: tilts in radians. */
export const upOf = {
  level: [0, 0, -1] as Vec3,
  noseUp: (tilt: number): Vec3 => [Math.sin(tilt), 0, -Math.cos(tilt)],
  rightDown: (tilt: number): Vec3 => [0, -Math.sin(tilt), -Math.cos(tilt)],
}

/** An evidence document as it is read from a file. */
export interface HoldsDocument {
  format: 'taraf-evidence/1'
  check: string
  sheet: object
  board: object
  observations: { segment: string; up: Side }[]
  segments: { label: string; streams: { imu: Record<string, number[] | string> } }[]
}

/** Evidence of holds as a board in this mounting (board to body) captures them, raw, at 200 Hz. */
export const holdsAs = (
  check: string,
  toBody: Rotation,
  holds: readonly Hold[],
  {
    seconds = 1,
    noise = 0.03,
    seed = 1,
    bias = [0, 0, 0] as Vec3,
    gain = [1, 1, 1] as Vec3,
  }: { seconds?: number; noise?: number; seed?: number; bias?: Vec3; gain?: Vec3 } = {},
): HoldsDocument => {
  const uniform = uniformFrom(seed)
  const rows = Math.round(seconds * 200) + 1
  const toBoard = inverse(toBody)
  return {
    format: 'taraf-evidence/1',
    check,
    sheet: {},
    board: {},
    observations: holds.flatMap(({ label, mark }) => (mark === undefined ? [] : [{ segment: label, up: mark }])),
    segments: holds.map(({ label, up }) => {
      const force = apply(toBoard, up)
      const column = (i: number) =>
        Array.from(
          { length: rows },
          () => ((force[i] as number) * g) / (gain[i] as number) + (bias[i] as number) + noise * normalOf(uniform),
        )
      const still = () => Array.from({ length: rows }, () => 0.0015 * normalOf(uniform))
      return {
        label,
        streams: {
          imu: {
            stage: 'raw',
            t: Array.from({ length: rows }, (_, i) => i * 0.005),
            ax: column(0),
            ay: column(1),
            az: column(2),
            gx: still(),
            gy: still(),
            gz: still(),
          },
        },
      }
    }),
  }
}

export const inDegrees = (roll: number, pitch: number, yaw: number): Rotation =>
  fromAngles({ roll: radians(roll), pitch: radians(pitch), yaw: radians(yaw) })
/** A mounting with a seating error: a turn by an angle about any axis. */
export const seated = (mounting: Rotation, most: number, uniform: () => number): Rotation =>
  multiply(about(anyDirection(uniform), most * uniform()), mounting)
