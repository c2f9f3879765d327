/**
 * Rotations as 3 x 3 matrices, row by row. A rotation from frame A to frame B takes the components of a vector
 * in A to its components in B. Axes are forward, right, down (ISO 1151); angles are radians.
 */
export type Vec3 = readonly [number, number, number]
export type Rotation = readonly [Vec3, Vec3, Vec3]
export interface Angles {
  readonly roll: number
  readonly pitch: number
  readonly yaw: number
}

export const radians = (deg: number): number => (deg * Math.PI) / 180
export const degrees = (rad: number): number => (rad * 180) / Math.PI

/** R = Rz(yaw) Ry(pitch) Rx(roll): intrinsic yaw, pitch, roll. */
export const fromAngles = ({ roll, pitch, yaw }: Angles): Rotation => {
  const cr = Math.cos(roll)
  const sr = Math.sin(roll)
  const cp = Math.cos(pitch)
  const sp = Math.sin(pitch)
  const cy = Math.cos(yaw)
  const sy = Math.sin(yaw)
  return [
    [cy * cp, cy * sp * sr - sy * cr, cy * sp * cr + sy * sr],
    [sy * cp, sy * sp * sr + cy * cr, sy * sp * cr - cy * sr],
    [-sp, cp * sr, cp * cr],
  ]
}

/** The same from angles in degrees. */
export const fromDegrees = ({ roll, pitch, yaw }: Angles): Rotation =>
  fromAngles({ roll: radians(roll), pitch: radians(pitch), yaw: radians(yaw) })

/** The angles of a rotation: roll and yaw in (-pi, pi], pitch in [-pi/2, pi/2]; at pitch +-pi/2 roll is 0. */
export const toAngles = (m: Rotation): Angles => {
  const sine = Math.max(-1, Math.min(1, -m[2][0]))
  const pitch = Math.asin(sine)
  // Within 1e-6 rad of straight up or down roll and yaw turn about the same axis: all of it is called yaw.
  if (Math.abs(sine) > 1 - 5e-13) return { roll: 0, pitch, yaw: turn(Math.atan2(-m[0][1], m[1][1])) }
  return { roll: turn(Math.atan2(m[2][1], m[2][2])), pitch, yaw: turn(Math.atan2(m[1][0], m[0][0])) }
}

export const multiply = (a: Rotation, b: Rotation): Rotation => [rowTimes(a[0], b), rowTimes(a[1], b), rowTimes(a[2], b)]

const rowTimes = (row: Vec3, m: Rotation): Vec3 => [
  row[0] * m[0][0] + row[1] * m[1][0] + row[2] * m[2][0],
  row[0] * m[0][1] + row[1] * m[1][1] + row[2] * m[2][1],
  row[0] * m[0][2] + row[1] * m[1][2] + row[2] * m[2][2],
]

export const apply = (m: Rotation, v: Vec3): Vec3 => [dot(m[0], v), dot(m[1], v), dot(m[2], v)]

export const dot = (a: Vec3, b: Vec3): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2]

/** The inverse of a rotation. */
export const inverse = (m: Rotation): Rotation => [
  [m[0][0], m[1][0], m[2][0]],
  [m[0][1], m[1][1], m[2][1]],
  [m[0][2], m[1][2], m[2][2]],
]

/** The angle of a rotation about its own axis, radians in [0, pi], exact for small ones too. */
export const angleOf = (m: Rotation): number => {
  const sine = Math.hypot(m[2][1] - m[1][2], m[0][2] - m[2][0], m[1][0] - m[0][1]) / 2
  return Math.atan2(sine, (m[0][0] + m[1][1] + m[2][2] - 1) / 2)
}

export const length = ([x, y, z]: Vec3): number => Math.hypot(x, y, z)

export const cross = (a: Vec3, b: Vec3): Vec3 => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]]

/** The same direction, of length 1. */
export const unit = (v: Vec3): Vec3 => {
  const by = 1 / length(v)
  return [v[0] * by, v[1] * by, v[2] * by]
}

/** The angle between two directions, exact for small angles too. */
export const angleBetween = (a: Vec3, b: Vec3): number => Math.atan2(length(cross(a, b)), dot(a, b))

/** An angle brought into (-pi, pi]. */
export const turn = (angle: number): number => {
  const wrapped = angle - 2 * Math.PI * Math.round(angle / (2 * Math.PI))
  return wrapped <= -Math.PI ? wrapped + 2 * Math.PI : wrapped + 0
}

/** Roll and pitch of a craft at rest, from the specific force in its body axes: level is (0, 0, -g). */
export const tiltOf = (f: Vec3): { roll: number; pitch: number } => ({
  roll: Math.atan2(-f[1], -f[2]),
  pitch: Math.atan2(f[0], Math.sqrt(f[1] * f[1] + f[2] * f[2])),
})
