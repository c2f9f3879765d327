import type { Held } from '../held'
import { eigenSymmetric } from '../linear'
import {
  angleBetween,
  apply,
  cross,
  degrees,
  dot,
  inverse,
  multiply,
  radians,
  toAngles,
  unit,
  type Rotation,
  type Vec3,
} from '../rotation'
import { nearestMountings, type Mounting } from './mountings'

/** How far a hand may hold a pose askew, and how far a board may sit beside its named mounting (work.md, station 4). */
const askew = radians(15)
const seatingMost = radians(8)
const leastTilt = radians(20)
const mostTilt = radians(125)
const levelTrust = radians(1.5)
/**
 * Two tilts must lie a quarter turn apart, as seen from above. Two of 45 deg, each held as far askew as is allowed, come to 43 deg
 * beside it; one tilt held twice, even at 20 deg, to 41 deg: further off than this they were not the two asked for.
 */
const quarterWithin = radians(40)

export interface Solved {
  /** Board to body, as fitted. */
  readonly fit: Rotation
  readonly mounting: Mounting
  /** The angle by which the board leans from its mounting, and by which it is turned about the vertical; radians. */
  readonly seatingTilt: number
  readonly seatingYaw: number
  /** One standard deviation of `seatingYaw`. */
  readonly yawSigma: number
  readonly tilts: { readonly noseUp: number; readonly rightDown: number }
}
export interface Unsolved {
  readonly why: string
  readonly act: string
}

/**
 * How a board sits in its airframe, from what its accelerometer reads held level, nose up and right side down. Level and a
 * tilt fix the tilt exactly; a tilt's direction is known only as well as a hand holds it. The fit is Wahba's problem, solved
 * by Davenport's q-method (Markley and Mortari, Quaternion attitude estimation using vector observations, 2000).
 */
export const solveMounting = (level: Held, noseUp: Held, rightDown: Held): Solved | Unsolved => {
  const [up, nose, right] = [level, noseUp, rightDown].map(({ force }) => unit(force)) as [Vec3, Vec3, Vec3]
  const tilts = { noseUp: angleBetween(up, nose), rightDown: angleBetween(up, right) }
  const unfit =
    tiltProblem('nose up', tilts.noseUp) ?? tiltProblem('right side down', tilts.rightDown) ?? apartProblem(up, nose, right)
  if (unfit !== null) return unfit
  const observed: Observed[] = [
    { board: up, body: [0, 0, -1], weight: weightOf(level.spread, levelTrust) },
    { board: nose, body: [Math.sin(tilts.noseUp), 0, -Math.cos(tilts.noseUp)], weight: weightOf(noseUp.spread, askew / 2) },
    {
      board: right,
      body: [0, -Math.sin(tilts.rightDown), -Math.cos(tilts.rightDown)],
      weight: weightOf(rightDown.spread, askew / 2),
    },
  ]
  const fit = fitRotation(observed)
  const [first, second] = nearestMountings(fit)
  const smaller = Math.min(tilts.noseUp, tilts.rightDown, Math.PI - tilts.noseUp, Math.PI - tilts.rightDown)
  const within = Math.asin(Math.min(1, Math.sin(askew) / Math.sin(smaller))) + seatingMost
  if (second.away <= within)
    return {
      why: `with tilts of ${tiltWords(tilts)} two mountings are possible: ${first.mounting.words}, and ${second.mounting.words}`,
      act: 'Run it again with tilts of 60 deg or more, straight over the nose and straight over the right side.',
    }
  const seat = multiply(fit, inverse(first.mounting.rotation))
  return {
    fit,
    mounting: first.mounting,
    // The level pose gives it exactly: no hand held it.
    seatingTilt: angleBetween(apply(first.mounting.rotation, up), [0, 0, -1]),
    seatingYaw: toAngles(seat).yaw,
    yawSigma: Math.sqrt(1 / (azimuthWeight(tilts.noseUp, noseUp.spread) + azimuthWeight(tilts.rightDown, rightDown.spread))),
    tilts,
  }
}

export const isSolved = (found: Solved | Unsolved): found is Solved => 'fit' in found

interface Observed {
  readonly board: Vec3
  readonly body: Vec3
  readonly weight: number
}

/** The rotation from board to body that turns the observed directions best onto what they should be. */
export const fitRotation = (observed: readonly Observed[]): Rotation => {
  const b = [0, 1, 2].map((i) =>
    [0, 1, 2].map((j) => observed.reduce((sum, o) => sum + o.weight * at(o.body, i) * at(o.board, j), 0)),
  )
  const s = (i: number, j: number) => (b[i] as number[])[j] as number
  const trace = s(0, 0) + s(1, 1) + s(2, 2)
  const z = [s(1, 2) - s(2, 1), s(2, 0) - s(0, 2), s(0, 1) - s(1, 0)] as const
  const k = [
    [trace, z[0], z[1], z[2]],
    [z[0], 2 * s(0, 0) - trace, s(0, 1) + s(1, 0), s(0, 2) + s(2, 0)],
    [z[1], s(0, 1) + s(1, 0), 2 * s(1, 1) - trace, s(1, 2) + s(2, 1)],
    [z[2], s(0, 2) + s(2, 0), s(1, 2) + s(2, 1), 2 * s(2, 2) - trace],
  ]
  const [w, x, y, q] = eigenSymmetric(k).vectors[0] as [number, number, number, number]
  // The quaternion turns body to board; its transpose is wanted.
  return inverse([
    [1 - 2 * (y * y + q * q), 2 * (x * y - q * w), 2 * (x * q + y * w)],
    [2 * (x * y + q * w), 1 - 2 * (x * x + q * q), 2 * (y * q - x * w)],
    [2 * (x * q - y * w), 2 * (y * q + x * w), 1 - 2 * (x * x + y * y)],
  ])
}

const at = (v: Vec3, i: number): number => v[i] as number
const weightOf = (spread: number, trust: number): number => 1 / (trust * trust + spread * spread)
const azimuthWeight = (tilt: number, spread: number): number => weightOf(spread, askew / 2) * Math.sin(tilt) ** 2
const tiltWords = ({ noseUp, rightDown }: Solved['tilts']) =>
  `${degrees(noseUp).toFixed(0)} and ${degrees(rightDown).toFixed(0)} deg`

const tiltProblem = (name: string, tilt: number): Unsolved | null => {
  if (tilt < leastTilt)
    return {
      why: `held ${name} it was tilted by only ${degrees(tilt).toFixed(0)} deg`,
      act: `Run it again and hold it ${name} by 60 deg or more; 45 deg is the least.`,
    }
  if (tilt > mostTilt)
    return {
      why: `held ${name} it was turned over by ${degrees(tilt).toFixed(0)} deg`,
      act: `Run it again and hold it ${name} by 60 to 90 deg, not beyond.`,
    }
  return null
}

/** Seen from above, the direction that rises at the second tilt lies a quarter turn to the left of the first's. */
const apartProblem = (up: Vec3, nose: Vec3, right: Vec3): Unsolved | null => {
  const [n, r] = [flat(nose, up), flat(right, up)]
  const apart = Math.atan2(dot(cross(n, r), up), dot(n, r))
  if (Math.abs(apart - Math.PI / 2) <= quarterWithin) return null
  const act = 'Run it again: nose up first, then right side down, and tap the side that points up each time.'
  if (Math.abs(apart) < Math.PI / 4) return { why: 'both tilts went to the same side', act }
  if (Math.abs(apart) > (3 * Math.PI) / 4) return { why: 'the second tilt was the first one the other way round', act }
  return { why: 'one of the two tilts went the wrong way: what was measured does not agree with the sides that were tapped', act }
}

const flat = (v: Vec3, up: Vec3): Vec3 => {
  const along = dot(v, up)
  return [v[0] - along * up[0], v[1] - along * up[1], v[2] - along * up[2]]
}
