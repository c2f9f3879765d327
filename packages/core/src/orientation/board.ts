import {
  angleOf,
  degrees,
  fromAngles,
  inverse,
  length,
  multiply,
  radians,
  toAngles,
  type Angles,
  type Rotation,
  type Vec3,
} from '../rotation'
import { mean } from '../statistics'
import type { Evidence, Finding, Side } from '@taraf/contract'
import { byHand, defineCheck, imuOf, judged, refusal, shown } from '../check'
import { heldIn, isHeld } from '../held'
import { limitFor } from '../limits'
import { want } from '../take'
import { wholeDegrees } from './mountings'
import { isSolved, solveMounting, type Solved } from './solve'

const sampled = { seconds: 1.5, enoughS: 0.5, stage: 'raw', streams: ['imu'], still: 'held' } as const
/** Where it was turned too, that must go the right way. */
const noseRight = {
  kind: 'capture',
  label: 'nose-right',
  ask: 'Turn it flat, nose to the right, by a quarter turn.',
  seconds: 5,
  enoughS: 0.5,
  stage: 'raw',
  streams: ['imu'],
} as const
const sameWithin = radians(1)
const leastTurn = radians(30)
const marks = { 'nose-up': 'front', 'right-down': 'left' } as const
const sideWords: Readonly<Record<Side, string>> = {
  front: 'the nose',
  rear: 'the tail',
  left: 'the left side',
  right: 'the right side',
}

/** The mounting of the board, solved from three poses and compared with what the board is told. */
export const board = defineCheck({
  id: 'orientation.board',
  version: 2,
  station: 'orientation',
  title: 'Board mounting',
  proves: 'The board knows how it is mounted in the airframe.',
  words: {
    mounting: 'Mounting',
    fit: 'As mounted',
    seatingTilt: 'Tilt in its mount',
    seatingYaw: 'Yaw in its mount',
    seatingYawSigma: 'Yaw, uncertainty',
  },
  needs: ['sensors.gyroRest'],
  reads: { settings: ['board.*', 'chip.*'], parts: ['board'], acts: ['knock', 'remount'], image: true },
  stages: ['raw', 'calibrated'],
  *take() {
    yield* want.capture({ ...sampled, label: 'level', ask: 'Lay the airframe on the plate, nose away from you.' })
    yield* want.pose({
      ...sampled,
      label: 'nose-up',
      ask: 'Hold it nose up, 60 deg or more, straight over the tail, and tap the side that points up.',
      leastDeg: 45,
      rollDeg: 0,
      pitchDeg: 60,
      says: 'up',
    })
    yield* want.pose({
      ...sampled,
      label: 'right-down',
      ask: 'Hold it right side down, 60 deg or more, and tap the side that points up.',
      leastDeg: 45,
      rollDeg: 60,
      pitchDeg: 0,
      says: 'up',
    })
  },
  optional: [noseRight],
  evaluate: (evidence) => {
    const wrongMark = markProblem(evidence)
    if (wrongMark !== null) return wrongMark
    const level = heldIn(evidence, 'level')
    if (!isHeld(level)) return level
    const noseUp = heldIn(evidence, 'nose-up')
    if (!isHeld(noseUp)) return noseUp
    const rightDown = heldIn(evidence, 'right-down')
    if (!isHeld(rightDown)) return rightDown
    const turned = turnProblem(evidence, level.force)
    if (turned !== null) return turned
    const solved = solveMounting(level, noseUp, rightDown)
    return isSolved(solved) ? judge(evidence, solved) : refusal(solved.why, solved.act)
  },
})

/** Without the mark a craft held tail for nose cannot be told from one held as asked. */
const markProblem = (evidence: Evidence): Finding[] | null => {
  for (const [segment, wanted] of Object.entries(marks)) {
    const up = evidence.observations?.findLast((o) => o.segment === segment)?.up
    if (up === undefined)
      return refusal(`nobody tapped which side points up at "${segment}"`, 'Run it again and tap the side that points up.')
    if (up !== wanted)
      return refusal(
        `at "${segment}" ${sideWords[up]} pointed up where ${sideWords[wanted]} must`,
        `Run it again: hold it ${segment === 'nose-up' ? 'nose up' : 'right side down'}, and tap the side that points up.`,
      )
  }
  return null
}

/**
 * Where a turn nose right was captured too, it must go that way: about the direction of gravity in the sensor's own axes,
 * so that it needs no mounting. The gyro's bias is taken from the level pose.
 */
const turnProblem = (evidence: Evidence, up: Vec3): Finding[] | null => {
  const [rest, imu] = [imuOf(evidence, 'level'), imuOf(evidence, 'nose-right')]
  if (rest === null || imu === null) return null
  const size = length(up)
  const rateOf = (i: number) =>
    -(
      ((imu.gx[i] as number) - bias[0]) * up[0] +
      ((imu.gy[i] as number) - bias[1]) * up[1] +
      ((imu.gz[i] as number) - bias[2]) * up[2]
    ) / size
  const bias: Vec3 = [mean(rest.gx), mean(rest.gy), mean(rest.gz)]
  let turned = 0
  for (let i = 1; i < imu.t.length; i++) turned += rateOf(i) * ((imu.t[i] as number) - (imu.t[i - 1] as number))
  if (turned >= leastTurn) return null
  return refusal(
    turned > -leastTurn
      ? `the turn nose right went by only ${degrees(Math.abs(turned)).toFixed(0)} deg`
      : `it was turned nose left, by ${degrees(-turned).toFixed(0)} deg, where nose right was asked for`,
    'Run it again and turn it flat, nose to the right, by a quarter turn.',
  )
}

const judge = (evidence: Evidence, { fit, mounting, seatingTilt, seatingYaw, yawSigma }: Solved): Finding[] => {
  const told = toldOf(evidence)
  const right = told === null || angleOf(multiply(told.total, inverse(mounting.rotation))) < sameWithin
  const tilt = degrees(seatingTilt)
  const tiltLimit = { max: limitFor(evidence.sheet, 'orientation.seating').max }
  const { roll, pitch, yaw } = toAngles(fit)
  return [
    {
      key: 'mounting',
      value: { ...mounting.angles },
      unit: 'deg',
      ...(told === null ? {} : { limit: { equals: inDegrees(told.total), within: degrees(sameWithin) } }),
      verdict: right ? 'pass' : 'fail',
      ...(right || told === null
        ? {}
        : {
            remedy: {
              by: 'settings' as const,
              act: `The board sits ${mounting.words}. Write this mounting to the board.`,
              settings: settingsFor(mounting.rotation, told),
            },
          }),
    },
    shown('fit', { roll: degrees(roll), pitch: degrees(pitch), yaw: degrees(yaw) }, 'deg'),
    judged(
      'seatingTilt',
      tilt,
      'deg',
      tiltLimit,
      byHand('The board is tilted in its mount. Take it out, clear what is under it, and mount it square.', ['seat board']),
    ),
    shown('seatingYaw', degrees(seatingYaw), 'deg'),
    shown('seatingYawSigma', degrees(yawSigma), 'deg'),
  ]
}

/** Angles in degrees as they are told, to a hundredth. */
const inDegrees = (rotation: Rotation): Angles => {
  const { roll, pitch, yaw } = toAngles(rotation)
  const at = (angle: number) => Math.round(degrees(angle) * 100) / 100 + 0
  return { roll: at(roll), pitch: at(pitch), yaw: at(yaw) }
}

interface Told {
  readonly board: Angles
  readonly chip: Rotation
  readonly total: Rotation
}

/** What the board is told, in its two layers judged as one; else what the sheet wants; null where neither says. */
const toldOf = ({ board: { orientation, chip }, sheet }: Evidence): Told | null => {
  const wanted = sheet.settings
  const inSheet = wanted !== undefined && ['board.roll', 'board.pitch', 'board.yaw'].some((name) => name in wanted)
  const layer =
    orientation ??
    (inSheet ? { roll: wanted['board.roll'] ?? 0, pitch: wanted['board.pitch'] ?? 0, yaw: wanted['board.yaw'] ?? 0 } : null)
  if (layer === null) return null
  const inner = chip === undefined ? identity : rotationOf(chip)
  return { board: layer, chip: inner, total: multiply(rotationOf(layer), inner) }
}

/** The settings of the outer layer that differ, so that both layers together give the mounting. */
const settingsFor = (mounting: Rotation, { board: told, chip }: Told): Record<string, number> => {
  const wanted = wholeDegrees(multiply(mounting, inverse(chip)))
  return Object.fromEntries(
    (['roll', 'pitch', 'yaw'] as const)
      .filter((angle) => wanted[angle] !== told[angle])
      .map((angle) => [`board.${angle}`, wanted[angle]]),
  )
}

const rotationOf = ({ roll, pitch, yaw }: Angles): Rotation =>
  fromAngles({ roll: radians(roll), pitch: radians(pitch), yaw: radians(yaw) })
const identity: Rotation = rotationOf({ roll: 0, pitch: 0, yaw: 0 })
