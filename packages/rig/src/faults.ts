import type { Angles, Vec3 } from '@taraf/core/rotation'

/** What is off on one simulated airframe and its bench. Angles are radians, rates rad/s, forces m/s2. */
export interface RigFaults {
  /** What the gyro reads at rest before its calibration. */
  readonly gyroBias: Vec3
  /** White noise of each gyro axis, rms. */
  readonly gyroNoise: Vec3
  readonly accelBias: Vec3
  readonly accelScale: Vec3
  readonly accelNoise: number
  /** How the board is mounted in the airframe: its named turn, and how far it sits beside it. */
  readonly mounting: Angles
  readonly seating: Angles
  /** How far the bench's plate is from level, in its own axes (nose edge forward). */
  readonly plate: { readonly roll: number; readonly pitch: number }
  /** With loose screws the board shakes: noise added to one gyro axis, rms. */
  readonly looseScrews: Vec3 | null
}

const perSecond = Math.PI / 180

/** Ordinary spread of a sound airframe on a decent plate (common practice for small MEMS sensors). */
export const sound: RigFaults = {
  gyroBias: [0.03 * perSecond, -0.05 * perSecond, 0.02 * perSecond],
  gyroNoise: [0.07 * perSecond, 0.07 * perSecond, 0.08 * perSecond],
  accelBias: [0.015, -0.01, 0.02],
  accelScale: [1.001, 0.999, 1.002],
  accelNoise: 0.03,
  mounting: { roll: 0, pitch: 0, yaw: 0 },
  seating: { roll: 0.1 * perSecond, pitch: -0.15 * perSecond, yaw: 0.3 * perSecond },
  plate: { roll: 0.4 * perSecond, pitch: -0.3 * perSecond },
  looseScrews: null,
}
