import type { AttitudeStream, Evidence, Finding, ImuStream, Limit } from '@taraf/contract'
import { byHand, defineCheck, imuOf, judged, refusal } from '../check'
import { heldIn, isHeld } from '../held'
import { limitFor } from '../limits'
import { degrees, dot, radians, tiltOf, turn, unit, type Vec3 } from '../rotation'
import { mean } from '../statistics'
import { want } from '../take'

const sampled = { stage: 'body', streams: ['imu', 'attitude'] } as const
const held = { ...sampled, seconds: 1.5, enoughS: 0.5, still: 'held' } as const
/** The least turn whose yaw can be compared, degrees. */
const leastTurn = 45

/** After the mounting is written: what the board reports moves as the airframe is moved, the right way and by as much. */
export const follow = defineCheck({
  id: 'orientation.follow',
  version: 2,
  station: 'orientation',
  title: 'Follow',
  proves: 'When the airframe is tilted and turned, the board reports the same movement.',
  words: {
    level: 'Attitude, level',
    noseUp: 'Attitude, nose up',
    rightDown: 'Attitude, right side down',
    noseUpAside: 'Nose up: roll that came with it',
    rightDownAside: 'Right side down: pitch that came with it',
    noseRight: 'Nose right: yaw',
    tiltApart: 'Tilt against gravity, largest difference',
    yawApart: 'Yaw against the gyro, difference',
  },
  needs: ['orientation.board'],
  reads: {
    // Not the level trim: it is measured after this, and is far smaller than what is judged here.
    settings: ['board.*', 'chip.*', 'accel.*', 'gyro.*'],
    parts: ['board'],
    acts: ['knock', 'remount'],
    image: true,
  },
  stages: ['body'],
  *take() {
    yield* want.capture({ ...held, label: 'level', ask: 'Lay the airframe on the plate, nose away from you.' })
    yield* want.pose({
      ...held,
      label: 'nose-up',
      ask: 'Hold it nose up, about 45 deg.',
      leastDeg: 25,
      rollDeg: 0,
      pitchDeg: 45,
    })
    yield* want.pose({
      ...held,
      label: 'right-down',
      ask: 'Hold it right side down, about 45 deg.',
      leastDeg: 25,
      rollDeg: 45,
      pitchDeg: 0,
    })
    yield* want.capture({
      ...sampled,
      seconds: 5,
      enoughS: 1,
      alive: ['gx', 'gy', 'gz'],
      label: 'nose-right',
      ask: 'Lay it flat again; then, while it is captured, turn its nose to the right by a quarter turn.',
      during: 'Turn its nose to the right by a quarter turn',
    })
  },
  evaluate: (evidence) => {
    const level = reported(evidence, 'level')
    if (Array.isArray(level)) return level
    const noseUp = reported(evidence, 'nose-up')
    if (Array.isArray(noseUp)) return noseUp
    const rightDown = reported(evidence, 'right-down')
    if (Array.isArray(rightDown)) return rightDown
    const turned = turnOf(evidence)
    if (Array.isArray(turned)) return turned
    const asides = [aside(level.force, noseUp.force, noseRises), aside(level.force, rightDown.force, leftRises)] as const
    const lean = Math.max(Math.abs(level.roll), Math.abs(level.pitch))
    const leanMost = limitFor(evidence.sheet, 'follow.level').max
    const unfit = lean > leanMost ? null : asAskedProblem(asides, turned)
    if (unfit !== null) return refusal(unfit, 'Run it again, tilted and turned as it is asked for.')
    const leastMove = limitFor(evidence.sheet, 'follow.moved').min
    const apart = Math.max(level.apart, noseUp.apart, rightDown.apart)
    const asideMost = limitFor(evidence.sheet, 'follow.aside').max
    return [
      moved('level', lean, { max: leanMost }, 'laid level, the board does not report level'),
      moved('noseUp', noseUp.pitch - level.pitch, { min: leastMove }, 'held nose up, the board does not report nose up'),
      moved(
        'rightDown',
        degrees(turn(radians(rightDown.roll - level.roll))),
        { min: leastMove },
        'held right side down, the board does not report right side down',
      ),
      moved(
        'noseUpAside',
        asides[0],
        { min: -asideMost, max: asideMost },
        'held nose up, the board reports that it tilts another way',
      ),
      moved(
        'rightDownAside',
        asides[1],
        { min: -asideMost, max: asideMost },
        'held right side down, the board reports that it tilts another way',
      ),
      moved(
        'noseRight',
        overQuarter(turned, turned.reported),
        { min: limitFor(evidence.sheet, 'follow.turned').min },
        'turned nose right, the board does not report nose right',
      ),
      moved(
        'tiltApart',
        apart,
        { max: limitFor(evidence.sheet, 'follow.tilt').max },
        'roll and pitch as reported do not agree with gravity',
      ),
      moved(
        'yawApart',
        Math.abs(overQuarter(turned, turned.reported - turned.integrated)),
        { max: limitFor(evidence.sheet, 'follow.yaw').max },
        'yaw as reported does not agree with the turn rate',
      ),
    ]
  },
})

interface Turned {
  readonly reported: number
  readonly integrated: number
}
/** What an angle of the turn that was made comes to over a quarter turn. */
const overQuarter = ({ integrated }: Turned, angle: number): number => (angle / Math.abs(integrated)) * 90

const noseRises: Vec3 = [1, 0, 0]
const leftRises: Vec3 = [0, -1, 0]
/** Two tilts that differ by more than this from a turn about the vertical are no fault of a mounting: they were held otherwise. */
const togetherWithin = 60

/** How far a tilt went beside the way it was asked for, seen from above, clockwise; degrees. */
const aside = (level: Vec3, tilted: Vec3, asked: Vec3): number => {
  const [up, now] = [unit(level), unit(tilted)]
  const along = dot(now, up)
  const rises = [0, 1, 2].map((i) => (now[i] as number) - along * (up[i] as number)) as unknown as Vec3
  return degrees(Math.atan2(asked[0] * rises[1] - asked[1] * rises[0], asked[0] * rises[0] + asked[1] * rises[1]))
}

/**
 * A board that is told another mounting takes both tilts aside by the same, and never turns the turn round while the tilts go right: what
 * does was held or turned differently from it was asked for.
 */
const asAskedProblem = ([noseUp, rightDown]: readonly [number, number], turned: Turned): string | null => {
  if (Math.abs(degrees(turn(radians(noseUp - rightDown)))) > togetherWithin)
    return 'the two tilts do not go together: one of them was held another way than it was asked for'
  const tiltsRight = Math.abs(noseUp) < togetherWithin / 2 && Math.abs(rightDown) < togetherWithin / 2
  return tiltsRight && turned.integrated < 0 && turned.reported < 0
    ? `it was turned nose left, by ${Math.abs(turned.integrated).toFixed(0)} deg, where nose right was asked for`
    : null
}

const moved = (key: string, value: number, limit: Limit, why: string): Finding =>
  judged(
    key,
    value,
    'deg',
    limit,
    byHand(
      `${why.charAt(0).toUpperCase()}${why.slice(1)}. Solve the board's mounting again; never invert channels or motors for it.`,
    ),
  )

/** Roll and pitch that the board reported in a hold, and how far they lie from gravity; degrees. */
const reported = (evidence: Evidence, label: string): { roll: number; pitch: number; apart: number; force: Vec3 } | Finding[] => {
  const held = heldIn(evidence, label)
  if (!isHeld(held)) return held
  const attitude = attitudeOf(evidence, label)
  if (attitude === null) return refusal(`the segment "${label}" has no attitude stream`, 'Run it again.')
  const { roll, pitch } = tiltOf(held.force)
  const said = { roll: meanAngle(attitude.roll), pitch: mean(attitude.pitch) }
  const strays = Math.max(strayOf(attitude.roll, said.roll) * Math.cos(pitch), strayOf(attitude.pitch, said.pitch))
  if (degrees(strays) > mostStrayDeg)
    return refusal(
      `"${label}": the reported attitude strayed by ${degrees(strays).toFixed(0)} deg while it was held`,
      'Check the cable, hold it still and run it again.',
    )
  const rollApart = Math.abs(degrees(turn(said.roll - roll))) * Math.cos(pitch)
  return {
    roll: degrees(said.roll),
    pitch: degrees(said.pitch),
    apart: Math.max(rollApart, Math.abs(degrees(said.pitch - pitch))),
    force: held.force,
  }
}

/** A hand trembles by a degree or two: an attitude that strays further while the gyro says still is no reading. */
const mostStrayDeg = 15

/** How far the angle that lies furthest from a mean lies from it, radians. */
const strayOf = (angles: ArrayLike<number>, about: number): number =>
  Array.from(angles).reduce((most, angle) => Math.max(most, Math.abs(turn(angle - about))), 0)

const attitudeOf = (evidence: Evidence, label: string): AttitudeStream | null =>
  evidence.segments.find((s) => s.label === label)?.streams.attitude ?? null

/** How far the yaw went in the turn: as the board reports it, and as the turn rate adds up; degrees. */
const turnOf = (evidence: Evidence): Turned | Finding[] => {
  const [imu, attitude] = [imuOf(evidence, 'nose-right'), attitudeOf(evidence, 'nose-right')]
  if (imu === null || attitude === null) return refusal('the turn nose right is missing', 'Run it again, with the turn.')
  const integrated = integratedYaw(imu, attitude)
  const said = unwrapped(attitude.yaw)
  if (Math.abs(integrated) < leastTurn)
    return refusal(
      `the airframe was turned by only ${Math.abs(integrated).toFixed(0)} deg`,
      'Run it again and turn it flat, nose to the right, by a quarter turn while it is captured.',
    )
  return { reported: said, integrated }
}

const integratedYaw = ({ t, gy, gz }: ImuStream, { roll, pitch }: AttitudeStream): number => {
  let sum = 0
  for (let i = 1; i < t.length; i++) {
    const k = Math.min(i, roll.length - 1)
    const [r, p] = [roll[k] as number, pitch[k] as number]
    sum +=
      (((gy[i] as number) * Math.sin(r) + (gz[i] as number) * Math.cos(r)) / Math.max(0.1, Math.cos(p))) *
      ((t[i] as number) - (t[i - 1] as number))
  }
  return degrees(sum)
}

const unwrapped = (yaw: ArrayLike<number>): number => {
  let sum = 0
  for (let i = 1; i < yaw.length; i++) sum += turn((yaw[i] as number) - (yaw[i - 1] as number))
  return degrees(sum)
}

/** The mean of angles that may be on both sides of half a turn. */
const meanAngle = (angles: ArrayLike<number>): number => {
  let [s, c] = [0, 0]
  for (const angle of Array.from(angles)) {
    s += Math.sin(angle)
    c += Math.cos(angle)
  }
  return Math.atan2(s, c)
}
