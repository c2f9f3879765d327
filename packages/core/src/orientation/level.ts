import { byHand, defineCheck, imuOf, judged, refusal, shown, withProof } from '../check'
import { localGravity } from '../gravity'
import { isWithin, limitFor } from '../limits'
import { angleBetween, apply, cross, degrees, fromAngles, length, radians, tiltOf, turn, unit, type Vec3 } from '../rotation'
import { mean } from '../statistics'
import { proved, want } from '../take'
import { trimRemedy } from './trim'
import type { Evidence, Finding, Settings } from '@taraf/contract'

const laid = {
  seconds: 2,
  enoughS: 0.5,
  stage: 'body',
  streams: ['imu', 'attitude'],
  mayLack: ['attitude'],
  still: 'laid',
} as const
const proof = { ...laid, kind: 'capture', label: 'proof', ask: 'Leave it where it is, hands off.', atOnce: true } as const
const farthestDeg = 15
const halfTurnWithinDeg = 30

/**
 * Level by reversal: the airframe is on the plate, then on the same spot turned by about half a turn. What turns with it is its own
 * offset, what stays is the plate's. Common practice of surveyors' levels, for the turn that was reported in place of an exact half.
 */
export const level = defineCheck({
  id: 'orientation.level',
  version: 2,
  station: 'orientation',
  title: 'Level',
  proves: 'On a level airframe the board reports level, even on a tilted plate.',
  words: {
    rollOffset: 'Roll offset',
    pitchOffset: 'Pitch offset',
    plateRoll: 'Tilt of the plate, roll',
    platePitch: 'Tilt of the plate, pitch',
    magnitude: 'Specific force at rest',
  },
  needs: ['sensors.gyroRest'],
  reads: {
    settings: ['level.roll', 'level.pitch', 'board.*', 'chip.*', 'accel.*'],
    parts: ['board'],
    acts: ['knock', 'remount'],
    image: true,
  },
  stages: ['body'],
  proof,
  *take(soFar) {
    yield* want.capture({
      ...laid,
      label: 'first',
      ask: 'Lay the airframe on the plate, nose to the far edge, and take your hands off it.',
    })
    yield* want.capture({
      ...laid,
      label: 'second',
      ask: 'Turn it by half a turn on the same spot, nose to you, and take your hands off it.',
    })
    yield* proved(soFar, proof)
  },
  evaluate: (evidence) => {
    const first = layingOf(evidence, 'first')
    if ('refused' in first) return first.refused
    const second = layingOf(evidence, 'second')
    if ('refused' in second) return second.refused
    const turned = turnBetween(evidence)
    if (Math.PI - Math.abs(turned) > radians(halfTurnWithinDeg))
      return refusal(
        `between the two placements it was turned by ${Math.abs(degrees(turned)).toFixed(0)} deg, not by half a turn`,
        'Run it again; turn the airframe end for end on the same spot.',
      )
    const stand = standOf(first.force, second.force, turned)
    if (stand === null)
      return refusal(
        'the two placements do not fit together as one turn on one spot',
        'Run it again; turn the airframe end for end on the same spot.',
      )
    const found = judge(evidence, first.force, second.force, stand)
    if (evidence.written === undefined) return found
    const after = layingOf(evidence, 'proof')
    return 'refused' in after ? after.refused : withProof(found, trimmed(evidence, second.force, after.force, stand))
  },
})

/** Whether a board has no bias and scale of its accelerometer yet: a write would do. */
const isAsFactory = (settings: Settings = {}): boolean =>
  ['X', 'Y', 'Z'].every((axis) => settings[`accel.bias${axis}`] === 0 && settings[`accel.scale${axis}`] === 1)

type Laying = { force: Vec3 } | { refused: Finding[] }

/** The mean specific force of one placement, body axes, or why it proves nothing. */
const layingOf = (evidence: Evidence, label: string): Laying => {
  const imu = imuOf(evidence, label)
  if (imu === null) return { refused: refusal(`the segment "${label}" has no imu stream`, 'Run it again.') }
  const force: Vec3 = [mean(imu.ax), mean(imu.ay), mean(imu.az)]
  const { roll, pitch } = tiltOf(force)
  if (Math.abs(roll) > Math.PI / 2)
    return {
      refused: refusal(
        `${label} placement: the board reads upside down`,
        "Lay it the right way up, or solve the board's mounting first.",
      ),
    }
  const tilt = degrees(Math.max(Math.abs(roll), Math.abs(pitch)))
  if (tilt > farthestDeg)
    return {
      refused: refusal(
        `${label} placement: it leans by ${tilt.toFixed(1)} deg, over ${farthestDeg} deg`,
        "Level the plate roughly, or solve the board's mounting first; a trim is for small angles.",
      ),
    }
  return { force }
}

/** How far the reported yaw turned between the placements, radians; half a turn, as it is asked for, where it was not captured. */
const turnBetween = (evidence: Evidence): number => {
  const [from, to] = ['first', 'second'].map((label) => {
    const yaw = evidence.segments.find((s) => s.label === label)?.streams.attitude?.yaw
    return yaw === undefined ? null : (yaw[yaw.length >> 1] as number)
  })
  return from == null || to == null ? Math.PI : turn(to - from)
}

/** How the airframe stands on its plate: from what the board says of "up" to the airframe's own axes, and the plate's lean in them. */
interface Stand {
  readonly offset: { roll: number; pitch: number }
  readonly plate: { roll: number; pitch: number }
}

/**
 * On a plate that leans, "up" goes round the upright axis of the airframe as that is turned. So the axis, as the board sees it, is the one
 * about which the first "up" turns into the second by the turn that was made; what it leans from the board's own is the offset. Null where
 * no axis near upright does.
 */
export const standOf = (first: Vec3, second: Vec3, turned: number): Stand | null => {
  const [a, b] = [unit(first), unit(second)]
  const middle = unit([a[0] + b[0], a[1] + b[1], a[2] + b[2]])
  const between = length([b[0] - a[0], b[1] - a[1], b[2] - a[2]])
  const radius = between / 2 / Math.abs(Math.sin(turned / 2))
  if (!(radius < 1)) return null
  // The axis is in the plane of the middle and of what is square to both, at the height of the circle that "up" goes round.
  const half = Math.hypot(a[0] + b[0], a[1] + b[1], a[2] + b[2]) / 2
  const along = Math.min(1, Math.sqrt(1 - radius * radius) / half)
  const aside = Math.sqrt(1 - along * along)
  const square = cross(a, b)
  const size = length(square)
  const axes = (size < 1e-9 ? [0] : [aside, -aside]).map((k): Vec3 => {
    const s = size < 1e-9 ? 0 : k / size
    return unit([along * middle[0] + s * square[0], along * middle[1] + s * square[1], along * middle[2] + s * square[2]])
  })
  // Of the two axes one turns the first onto the second the way that was turned, the other the other way round.
  const axis = axes.reduce((best, one) => (missed(one, a, b, turned) < missed(best, a, b, turned) ? one : best))
  const offset = tiltOf(axis)
  return { offset, plate: tiltOf(apply(fromAngles({ ...offset, yaw: 0 }), a)) }
}

const missed = (axis: Vec3, from: Vec3, to: Vec3, turned: number): number => angleBetween(about(axis, from, turned), to)

/** A direction turned about an axis of length 1 (Rodrigues). */
const about = (axis: Vec3, v: Vec3, angle: number): Vec3 => {
  const [c, s] = [Math.cos(angle), Math.sin(angle)]
  const along = (axis[0] * v[0] + axis[1] * v[1] + axis[2] * v[2]) * (1 - c)
  const square = cross(axis, v)
  return [0, 1, 2].map((i) => (v[i] as number) * c + (square[i] as number) * s + (axis[i] as number) * along) as unknown as Vec3
}

const judge = (evidence: Evidence, first: Vec3, second: Vec3, { offset, plate }: Stand): Finding[] => {
  const magnitude = (length(first) + length(second)) / 2
  const most = limitFor(evidence.sheet, 'level.offset').max
  const share = limitFor(evidence.sheet, 'level.magnitude').max / 100
  const g = localGravity(evidence.place)
  const limit = { min: g * (1 - share), max: g * (1 + share) }
  // A trim that makes up for an accelerometer is wrong as soon as that is right.
  const trim = isWithin(magnitude, limit)
    ? trimRemedy(evidence, offset, 'The board sits')
    : byHand('Calibrate the accelerometer first: its reading of gravity is off.')
  return [
    judged('rollOffset', degrees(offset.roll), 'deg', { min: -most, max: most }, trim),
    judged('pitchOffset', degrees(offset.pitch), 'deg', { min: -most, max: most }, trim),
    shown('plateRoll', degrees(plate.roll), 'deg'),
    shown('platePitch', degrees(plate.pitch), 'deg'),
    judged(
      'magnitude',
      magnitude,
      'm/s2',
      limit,
      isAsFactory(evidence.board.settings)
        ? byHand('Measure the accelerometer in six poses, and write its bias and scale.')
        : byHand('Measure the accelerometer in six poses and write its bias and scale; if it is still off, replace the board.', [
            'replace board',
          ]),
    ),
  ]
}

/** The offset that is left with the trim in force: it lies as in the second placement, so what was up there is up now. */
const trimmed = (evidence: Evidence, second: Vec3, after: Vec3, { offset }: Stand): Finding[] => {
  // Of the second placement the lean in the airframe's own axes is known: what is seen beside it now is what is left.
  const [was, is] = [tiltOf(apply(fromAngles({ ...offset, yaw: 0 }), second)), tiltOf(after)]
  const left = { roll: is.roll - was.roll, pitch: is.pitch - was.pitch }
  const most = limitFor(evidence.sheet, 'level.offset').max
  const remedy = trimRemedy(evidence, left, 'The board sits', evidence.written)
  return [
    judged('rollOffset', degrees(left.roll), 'deg', { min: -most, max: most }, remedy),
    judged('pitchOffset', degrees(left.pitch), 'deg', { min: -most, max: most }, remedy),
  ]
}
