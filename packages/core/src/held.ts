import type { Evidence, Finding, ImuStream } from '@taraf/contract'
import { imuOf, refusal } from './check'
import { discontinuity } from './continuity'
import { localGravity } from './gravity'
import { angleBetween, degrees, length, type Vec3 } from './rotation'
import { mean, meanAndDeviation, standardDeviation } from './statistics'

/** The specific force of an airframe held in a pose: its mean, sensor or body axes, m/s2, and how far it strayed, radians. */
export interface Held {
  readonly force: Vec3
  readonly spread: number
}

const leastSeconds = 0.5
// Common practice: a hand that holds trembles by about a degree a second; more than this is a move.
const mostRate = 12 // deg/s, rms about the mean
const mostDrift = 3 // deg, from the first to the last quarter
const magnitudeWithin = 0.15

/** The force of one hold, or the findings of one that proves nothing. */
export const heldIn = (evidence: Evidence, label: string): Held | Finding[] => {
  const imu = imuOf(evidence, label)
  if (imu === null) return refusal(`the pose "${label}" is missing`, `Take it again, and hold "${label}" too.`)
  const gap = discontinuity(imu.t, leastSeconds)
  if (gap !== null) return refusal(`pose "${label}": ${gap}`, 'Check the cable, then take it again.')
  const moved = movedIn(imu)
  if (moved !== null) return refusal(`pose "${label}": ${moved}`, 'Rest your arm on the bench, hold it still and take it again.')
  const held = heldOf(imu)
  const g = localGravity(evidence.place)
  const magnitude = length(held.force)
  if (Math.abs(magnitude / g - 1) > magnitudeWithin)
    return refusal(
      `pose "${label}": the accelerometer reads ${magnitude.toFixed(2)} m/s2 where gravity is ${g.toFixed(2)}`,
      'Hold it still; if it reads so again, replace the board: its accelerometer is broken.',
    )
  return held
}

export const isHeld = (found: Held | Finding[]): found is Held => !Array.isArray(found)

export const heldOf = (imu: Pick<ImuStream, 'ax' | 'ay' | 'az'>): Held => {
  const [x, y, z] = [meanAndDeviation(imu.ax), meanAndDeviation(imu.ay), meanAndDeviation(imu.az)]
  const force: Vec3 = [x.mean, y.mean, z.mean]
  return { force, spread: Math.hypot(x.deviation, y.deviation, z.deviation) / length(force) }
}

/** Why a hold was none, or null. */
export const movedIn = (imu: ImuStream): string | null => {
  const rate = degrees(Math.hypot(standardDeviation(imu.gx), standardDeviation(imu.gy), standardDeviation(imu.gz)))
  if (rate > mostRate) return `it moved, turning at ${rate.toFixed(0)} deg/s`
  const n = imu.t.length
  const part = (from: number, to: number): Vec3 => [mean(imu.ax, from, to), mean(imu.ay, from, to), mean(imu.az, from, to)]
  const quarter = Math.max(1, n >> 2)
  const drift = degrees(angleBetween(part(0, quarter), part(n - quarter, n)))
  return drift > mostDrift ? `it moved by ${drift.toFixed(0)} deg while it was captured` : null
}
