import type { Sheet } from '@taraf/contract'
import { degrees, limitFor, tiltOf } from '@taraf/core'
import { faultById, type Rig } from '@taraf/rig'

/** What the campaign knows and its technician does not: the faults that are still in, and how near to a limit the truth lies. */
export const stillIn = (rig: Rig, ids: readonly string[]): string[] => ids.filter((id) => faultById(id)?.isIn(rig) === true)

/** Deviations of what the checks measure, from the noise of a sound sensor and the rows of a take. */
const deviation = {
  bias: 0.08 / Math.sqrt(1000),
  noise: 0.08 / Math.sqrt(2000),
  lean: 0.02,
  // The plate that the first pose lies on is not level, and the fit cannot tell that from the seat.
  seating: 0.35,
  baroNoise: 0.02,
  baroDrift: 0.01,
} as const

/** Whether any true value lies within three deviations of its limit: what the take says then is chance. */
export const isNearLimit = ({ board: { sensors }, airframe }: Rig, sheet: Sheet): boolean => {
  const near = (value: number, limit: number, sigma: number) => Math.abs(Math.abs(value) - limit) < 3 * sigma
  const atRest = { force: [0, 0, -airframe.shop.gravity], rate: [0, 0, 0] } as const
  const calibrated = sensors.calibrated(sensors.quiet(atRest))
  const lean = tiltOf(sensors.inBody(calibrated).force)
  const biasMost = limitFor(sheet, 'gyroRest.bias').max
  const noiseMost = limitFor(sheet, 'gyroRest.noise').max
  const leanMost = limitFor(sheet, 'level.offset').max
  const seating = degrees(Math.hypot(airframe.board.seating.roll, airframe.board.seating.pitch))
  const { baro } = airframe
  return (
    near(seating, limitFor(sheet, 'orientation.seating').max, deviation.seating) ||
    near(baro.noiseM, limitFor(sheet, 'barometer.noise').max, deviation.baroNoise) ||
    near(5 * baro.driftMPerMin, limitFor(sheet, 'barometer.drift').max, 5 * deviation.baroDrift) ||
    calibrated.rate.some((rate) => near(degrees(rate), biasMost, deviation.bias)) ||
    airframe.imu.gyroNoise.some((noise) => near(degrees(noise), noiseMost, deviation.noise)) ||
    [lean.roll, lean.pitch].some((angle) => near(degrees(angle), leanMost, deviation.lean))
  )
}
