import type { Settings } from '@taraf/contract'
import { degrees, radians, type Vec3 } from '@taraf/core/rotation'
import { meanOf } from '../vector'

const seconds = 1.5
const tenthRows = 20

/** The board's own measurement of its gyro bias: a second and a half of stillness, at 200 samples a second. */
export class GyroCalibration {
  private readonly rates: Vec3[] = []

  /** Takes a sample; true while more are wanted. */
  take(rate: Vec3): boolean {
    this.rates.push(rate)
    return !this.isDone
  }

  get isDone(): boolean {
    return this.rates.length >= seconds * 200
  }

  /** The values to put in force, or 'moving' where the airframe did not lie still. */
  result(): Settings | 'moving' {
    // Noise of loose screws must not hinder it, a hand must: the means of tenths of a second are compared.
    const means = Array.from({ length: Math.floor(this.rates.length / tenthRows) }, (_, i) =>
      meanOf(this.rates.slice(i * tenthRows, (i + 1) * tenthRows)),
    )
    for (const axis of [0, 1, 2] as const) {
      const values = means.map((m) => m[axis])
      if (Math.max(...values) - Math.min(...values) > radians(2.5)) return 'moving'
    }
    const bias = meanOf(this.rates)
    const rounded = (rate: number) => Math.round(degrees(rate) * 1e4) / 1e4
    return { 'gyro.biasX': rounded(bias[0]), 'gyro.biasY': rounded(bias[1]), 'gyro.biasZ': rounded(bias[2]) }
  }
}
