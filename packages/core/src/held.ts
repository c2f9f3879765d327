import type { Evidence, Finding, ImuStream } from '@taraf/contract'
import { imuOf, refusal } from './check'
import { localGravity } from './gravity'
import { length, type Vec3 } from './rotation'
import { meanAndDeviation } from './statistics'

/** The specific force of an airframe held in a pose: its mean, sensor or body axes, m/s2, and how far it strayed, radians. */
export interface Held {
  readonly force: Vec3
  readonly spread: number
}

/** How far the force may be from gravity: as read, or whatever it is where that is what is measured. */
const strengthWithin = 0.15
export const anyStrength = Infinity

/** The force of one hold, or the findings of one that proves nothing. */
export const heldIn = (evidence: Evidence, label: string, within = strengthWithin): Held | Finding[] => {
  const imu = imuOf(evidence, label)
  if (imu === null) return refusal(`the pose "${label}" is missing`, `Run it again, and hold "${label}" too.`)
  const held = heldOf(imu)
  const g = localGravity(evidence.place)
  const magnitude = length(held.force)
  if (Math.abs(magnitude / g - 1) > within)
    return refusal(
      `pose "${label}": the accelerometer reads ${magnitude.toFixed(2)} m/s2 where gravity is ${g.toFixed(2)}`,
      'Hold it still. If it reads so again, measure the accelerometer in six poses first.',
    )
  return held
}

export const isHeld = (found: Held | Finding[]): found is Held => !Array.isArray(found)

export const heldOf = (imu: Pick<ImuStream, 'ax' | 'ay' | 'az'>): Held => {
  const [x, y, z] = [meanAndDeviation(imu.ax), meanAndDeviation(imu.ay), meanAndDeviation(imu.az)]
  const force: Vec3 = [x.mean, y.mean, z.mean]
  return { force, spread: Math.hypot(x.deviation, y.deviation, z.deviation) / length(force) }
}
