import { angleOf, degrees, fromDegrees, inverse, multiply, toAngles, type Angles, type Rotation } from '../rotation'

/** A named turn of a board in its airframe: body = R board. Angles are degrees. */
export interface Mounting {
  readonly angles: Angles
  readonly rotation: Rotation
  /** How it looks from above, for a person: "arrow to the left". */
  readonly words: string
}

/** Whole degrees of a rotation, the same ones for every way of writing it. */
export const wholeDegrees = (rotation: Rotation): Angles => {
  const { roll, pitch, yaw } = toAngles(rotation)
  const whole = (angle: number) => {
    const rounded = Math.round(degrees(angle))
    return rounded === -180 ? 180 : rounded + 0
  }
  return { roll: whole(roll), pitch: whole(pitch), yaw: whole(yaw) }
}

const quarters = [0, 90, 180, -90]
const eighths = [45, 135, -135, -45]

const rightAngles = quarters
  .flatMap((yaw) => quarters.flatMap((roll) => [-90, 0, 90].map((pitch) => ({ roll, pitch, yaw }))))
  .map(fromDegrees)
  .filter((r, i, all) => all.findIndex((other) => angleOf(multiply(r, inverse(other))) < 1e-6) === i)

/** All ways in which shops mount boards: 24 right-angle ones, and upright or upside down turned by eighths. */
export const mountings: readonly Mounting[] = [
  ...rightAngles,
  ...eighths.flatMap((yaw) => [0, 180].map((roll) => fromDegrees({ roll, pitch: 0, yaw }))),
].map((rotation) => ({ angles: wholeDegrees(rotation), rotation, words: wordsOf(rotation) }))

function wordsOf(rotation: Rotation): string {
  const sideOf = (x: number, y: number, z: number): string => {
    if (z > 0.9) return 'down'
    if (z < -0.9) return 'up'
    const along = x > 0.4 ? 'front' : x < -0.4 ? 'rear' : ''
    const across = y > 0.4 ? 'right' : y < -0.4 ? 'left' : ''
    return `${along} ${across}`.trim()
  }
  const column = (i: 0 | 1 | 2, sign: 1 | -1) => sideOf(sign * rotation[0][i], sign * rotation[1][i], sign * rotation[2][i])
  const arrow = column(0, 1)
  const pointing = arrow === 'up' || arrow === 'down' ? arrow : `to the ${arrow}`
  const top = column(2, -1)
  const lying = top === 'up' ? 'upright' : top === 'down' ? 'upside down' : `on edge, its top to the ${top}`
  return `${lying}, its arrow ${pointing}`
}

/** The two mountings nearest to a rotation, with the angle to each, radians. */
export const nearestMountings = (rotation: Rotation): [Near, Near] => {
  const near = (mounting: Mounting): Near => ({ mounting, away: angleBetweenRotations(rotation, mounting.rotation) })
  const [first, second, ...others] = mountings.map(near) as [Near, Near, ...Near[]]
  let [nearest, next] = first.away <= second.away ? [first, second] : [second, first]
  for (const other of others)
    if (other.away < nearest.away) [nearest, next] = [other, nearest]
    else if (other.away < next.away) next = other
  return [nearest, next]
}
export interface Near {
  readonly mounting: Mounting
  readonly away: number
}

/** From the trace of one and the other's inverse. */
const angleBetweenRotations = (a: Rotation, b: Rotation): number => {
  let trace = 0
  for (let i = 0; i < 3; i++) {
    const [p, q] = [a[i] as Rotation[0], b[i] as Rotation[0]]
    trace += p[0] * q[0] + p[1] * q[1] + p[2] * q[2]
  }
  return Math.acos(Math.max(-1, Math.min(1, (trace - 1) / 2)))
}
