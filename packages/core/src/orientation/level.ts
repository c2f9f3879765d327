import { byHand, defineCheck, imuOf, judged, refusal, shown, withProof } from '../check'
import { discontinuity } from '../continuity'
import { localGravity } from '../gravity'
import { limitFor } from '../limits'
import { degrees, fromAngles, length, multiply, radians, tiltOf, toAngles, turn, type Vec3 } from '../rotation'
import { mean } from '../statistics'
import { findMovement } from '../stillness'
import { proved, want } from '../take'
import type { Evidence, Finding, Remedy } from '@taraf/contract'

const seconds = 2
const leastSeconds = 0.5
const farthestDeg = 15
const halfTurnWithinDeg = 30

/**
 * Level by reversal: the airframe lies on the plate, then on the same spot turned by half a turn. What turns with it is
 * its own offset (half the sum), what stays is the plate's (half the difference). Common practice of surveyors' levels.
 */
export const level = defineCheck({
  id: 'orientation.level',
  version: 1,
  station: 'orientation',
  title: 'Level',
  proves: 'Laid level, the board says level, whatever the plate does.',
  needs: ['sensors.gyroRest'],
  reads: {
    settings: ['level.roll', 'level.pitch', 'board.*', 'chip.*', 'accel.*'],
    parts: ['board'],
    acts: ['knock', 'remount'],
    image: true,
  },
  appliesTo: (sheet) => !sheet.setAside?.includes('orientation.level'),
  stages: ['body'],
  writes: true,
  *take(soFar) {
    const laid = { seconds, stage: 'body', streams: ['imu', 'attitude'] } as const
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
    yield* proved(soFar, () => want.capture({ ...laid, label: 'proof', ask: 'Leave it as it lies, hands off.', atOnce: true }))
  },
  evaluate: (evidence) => {
    const first = layingOf(evidence, 'first')
    if ('refused' in first) return first.refused
    const second = layingOf(evidence, 'second')
    if ('refused' in second) return second.refused
    const turned = turnBetween(evidence)
    if (turned !== null && Math.abs(turned - 180) > halfTurnWithinDeg)
      return refusal(
        `between the two placements it was turned by ${turned.toFixed(0)} deg, not by half a turn`,
        'Take it again; turn the airframe end for end on the same spot.',
      )
    const found = judge(evidence, first.force, second.force)
    if (evidence.written === undefined) return found
    const after = layingOf(evidence, 'proof')
    return 'refused' in after ? after.refused : withProof(found, trimmed(evidence, first.force, second.force, after.force))
  },
})

type Laying = { force: Vec3 } | { refused: Finding[] }

/** The mean specific force of one placement, body axes, or why it proves nothing. */
const layingOf = (evidence: Evidence, label: string): Laying => {
  const imu = imuOf(evidence, label)
  if (imu === null) return { refused: refusal(`the segment "${label}" has no imu stream`, 'Take it again.') }
  const gap = discontinuity(imu.t, leastSeconds)
  if (gap !== null) return { refused: refusal(`${label} placement: ${gap}`, 'Check the cable, then take it again.') }
  const movement = findMovement(imu)
  if (movement !== null)
    return {
      refused: refusal(`${label} placement: ${movement.why}`, 'Lay it down, keep your hands off it and take it again.'),
    }
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

/** How far the reported yaw turned between the placements, degrees in [0, 180], or null where it was not captured. */
const turnBetween = (evidence: Evidence): number | null => {
  const [from, to] = ['first', 'second'].map((label) => {
    const yaw = evidence.segments.find((s) => s.label === label)?.streams.attitude?.yaw
    return yaw === undefined || yaw.length === 0 ? null : (yaw[yaw.length >> 1] as number)
  })
  return from == null || to == null ? null : Math.abs(degrees(turn(to - from)))
}

const judge = (evidence: Evidence, first: Vec3, second: Vec3): Finding[] => {
  const [a, b] = [tiltOf(first), tiltOf(second)]
  const offset = { roll: (a.roll + b.roll) / 2, pitch: (a.pitch + b.pitch) / 2 }
  const magnitude = (length(first) + length(second)) / 2
  const most = limitFor(evidence.sheet, 'level.offset').max
  const share = limitFor(evidence.sheet, 'level.magnitude').max / 100
  const g = localGravity(evidence.place)
  const trim = trimRemedy(evidence, offset)
  return [
    judged('rollOffset', degrees(offset.roll), 'deg', { min: -most, max: most }, trim),
    judged('pitchOffset', degrees(offset.pitch), 'deg', { min: -most, max: most }, trim),
    shown('plateRoll', degrees((a.roll - b.roll) / 2), 'deg'),
    shown('platePitch', degrees((a.pitch - b.pitch) / 2), 'deg'),
    judged(
      'magnitude',
      magnitude,
      'm/s2',
      { min: g * (1 - share), max: g * (1 + share) },
      byHand('Measure the accelerometer in six poses and write its bias and scale; if it stays off, replace the board.', [
        'replace board',
      ]),
    ),
  ]
}

/** The offset that is left with the trim in force: it lies as in the second placement, whose lean the plate is a known part of. */
const trimmed = (evidence: Evidence, first: Vec3, second: Vec3, after: Vec3): Finding[] => {
  const [a, b, c] = [tiltOf(first), tiltOf(second), tiltOf(after)]
  const left = { roll: c.roll + (a.roll - b.roll) / 2, pitch: c.pitch + (a.pitch - b.pitch) / 2 }
  const most = limitFor(evidence.sheet, 'level.offset').max
  const remedy = byHand('The trim that was written does not hold. Look whether the airframe was moved, then take it again.')
  return [
    judged('rollOffset', degrees(left.roll), 'deg', { min: -most, max: most }, remedy),
    judged('pitchOffset', degrees(left.pitch), 'deg', { min: -most, max: most }, remedy),
  ]
}

/**
 * The trim that takes the offset away. With t the trim in force and o the offset left by it, body axes come from the
 * mounting's by R(o) R(t); a turn about the vertical that this may hold is no tilt, and is dropped.
 */
const trimRemedy = (evidence: Evidence, offset: { roll: number; pitch: number }): Remedy => {
  const old = evidence.board.level ?? { roll: 0, pitch: 0 }
  const before = fromAngles({ roll: radians(old.roll), pitch: radians(old.pitch), yaw: 0 })
  const { roll, pitch } = toAngles(multiply(fromAngles({ ...offset, yaw: 0 }), before))
  const at = (value: number) => Math.round(degrees(value) * 1000) / 1000
  return {
    by: 'settings',
    act: `${leanOf(offset)} Write this level trim.`,
    settings: { 'level.roll': at(roll), 'level.pitch': at(pitch) },
  }
}

/** How the board sits in the airframe, as it is seen: roll right and nose up are positive. */
const leanOf = (offset: { roll: number; pitch: number }): string => {
  const part = (angle: number, positive: string, negative: string) =>
    `${Math.abs(degrees(angle)).toFixed(1)} deg ${angle > 0 ? positive : negative}`
  return `The board sits ${part(offset.roll, 'right side down', 'left side down')} and ${part(offset.pitch, 'nose up', 'nose down')}.`
}
