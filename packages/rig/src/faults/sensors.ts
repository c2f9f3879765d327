import { radians, type Vec3 } from '@taraf/core/rotation'
import type { Site, Fault } from './fault'

export const gyroBiasMost = radians(0.2)
/** The loosest limit that a sheet of the demo sets: a fault is one whatever the type. */
export const gyroNoiseMost = radians(0.35)
const meanNoise = radians(0.08) / Math.sqrt(1000)
const axes = [0, 1, 2] as const
const atRest = { force: [0, 0, -9.81], rate: [0, 0, 0] } as const

/** A vector with one axis, drawn by chance, set to a value of either sign. */
const oneAxis = ({ random }: Site, of: Vec3, value: number): Vec3 => {
  const axis = random.below(3)
  const signed = random.uniform() < 0.5 ? -value : value
  return [axis === 0 ? signed : of[0], axis === 1 ? signed : of[1], axis === 2 ? signed : of[2]]
}
const largest = (v: readonly number[]) => Math.max(...v.map(Math.abs))

export const sensorFaults: readonly Fault[] = [
  {
    id: 'sensors.gyroBias',
    station: 'sensors',
    where: 'gyro, never measured at rest',
    shows: 'it reads a turn while it lies still',
    caughtBy: 'sensors.gyroRest',
    remedy: 'let the board measure its gyro bias',
    likelihood: 0.1,
    inject: (site) =>
      void (site.airframe.imu.gyroBias = oneAxis(site, site.airframe.imu.gyroBias, site.beyond(gyroBiasMost, meanNoise * 8, 8))),
    isIn: ({ board: { sensors } }) => largest(sensors.calibrated(sensors.quiet(atRest)).rate) > gyroBiasMost,
    mend: () => ({ calibrate: 'gyro' }),
  },
  {
    id: 'sensors.looseBoard',
    station: 'sensors',
    where: 'screws of the board',
    shows: 'the gyro is noisy at rest with anything that hums near it',
    caughtBy: 'sensors.gyroRest',
    remedy: 'fasten the board',
    likelihood: 0.05,
    inject: (site) => {
      site.airframe.board.screws = 'loose'
      site.airframe.board.looseShake = oneAxis(site, [0, 0, 0], site.beyond(gyroNoiseMost, radians(0.02), 2))
    },
    isIn: ({ airframe: { board } }) => board.screws === 'loose',
    mend: () => ({ acts: [{ act: 'fasten' }] }),
  },
  {
    id: 'sensors.noisyGyro',
    station: 'sensors',
    where: 'gyro chip',
    shows: 'it stays noisy with the board fast',
    caughtBy: 'sensors.gyroRest',
    remedy: 'replace the board',
    likelihood: 0.01,
    inject: (site) => {
      const noise = oneAxis(site, site.airframe.imu.gyroNoise, site.beyond(gyroNoiseMost, radians(0.02), 2))
      site.airframe.imu.gyroNoise = [Math.abs(noise[0]), Math.abs(noise[1]), Math.abs(noise[2])]
    },
    isIn: ({ airframe: { imu } }) => largest(imu.gyroNoise) > gyroNoiseMost,
    mend: () => ({ acts: [{ act: 'replace', part: 'board' }] }),
  },
  {
    id: 'sensors.accelScale',
    station: 'sensors',
    where: 'accelerometer, one axis',
    shows: 'the magnitude at rest is off by over 2 % in some poses',
    caughtBy: 'sensors.sixPoses',
    remedy: 'measure bias and scale in six poses and write them',
    likelihood: 0.03,
    inject: ({ airframe: { imu }, random, beyond }) => {
      // The axis that points down: only there does the plate show it.
      const off = beyond(0.02, 0.002, 2)
      imu.accelScale = [imu.accelScale[0], imu.accelScale[1], random.uniform() < 0.5 ? 1 - off : 1 + off]
    },
    isIn: ({ airframe: { imu }, board: { settings } }) =>
      axes.some((i) => Math.abs(settings.get(`accel.scale${'XYZ'.charAt(i)}`) / imu.accelScale[i] - 1) > 0.015),
    mend: ({ airframe: { imu } }) => ({
      settings: Object.fromEntries(axes.map((i) => [`accel.scale${'XYZ'.charAt(i)}`, Math.round(imu.accelScale[i] * 1e4) / 1e4])),
    }),
  },
  {
    id: 'sensors.accelBias',
    station: 'sensors',
    where: 'accelerometer, the axis that points down',
    shows: 'the magnitude at rest is off by over 2 %',
    caughtBy: 'sensors.sixPoses',
    remedy: 'measure bias and scale in six poses and write them',
    likelihood: 0.02,
    inject: ({ airframe: { imu }, beyond }) => void (imu.accelBias = [imu.accelBias[0], imu.accelBias[1], beyond(0.2, 0.02, 2)]),
    isIn: ({ airframe: { imu }, board: { settings } }) =>
      axes.some((i) => Math.abs(imu.accelBias[i] - settings.get(`accel.bias${'XYZ'.charAt(i)}`)) > 0.15),
    mend: ({ airframe: { imu } }) => ({
      settings: Object.fromEntries(axes.map((i) => [`accel.bias${'XYZ'.charAt(i)}`, Math.round(imu.accelBias[i] * 1e3) / 1e3])),
    }),
  },
  {
    id: 'sensors.accelCross',
    station: 'sensors',
    where: 'accelerometer chip',
    shows: 'each axis reads some of the others: the oblique pose does not fit',
    caughtBy: 'sensors.sixPoses',
    remedy: 'replace the board',
    likelihood: 0.005,
    inject: ({ airframe: { imu } }) => void (imu.accelCross = 0.05),
    isIn: ({ airframe: { imu } }) => Math.abs(imu.accelCross) > 0.02,
    mend: () => ({ acts: [{ act: 'replace', part: 'board' }] }),
  },
  {
    id: 'sensors.hardIron',
    station: 'sensors',
    where: 'a magnet or a steel screw near the compass',
    shows: 'the ellipsoid of a free turn lies far from the middle',
    caughtBy: 'sensors.compass',
    remedy: 'write the hard iron found',
    likelihood: 0.04,
    fits: ({ compass }) => compass.fitted,
    inject: (site) =>
      void (site.airframe.compass.hardIron = oneAxis(site, site.airframe.compass.hardIron, site.random.between(60, 120))),
    isIn: ({ airframe: { compass }, board: { settings } }) =>
      axes.some((i) => Math.abs(compass.hardIron[i] - settings.get(`compass.hard${'XYZ'.charAt(i)}`)) > 25),
    mend: ({ airframe: { compass } }) => ({
      settings: Object.fromEntries(
        axes.map((i) => [`compass.hard${'XYZ'.charAt(i)}`, Math.round(compass.hardIron[i] * 10) / 10]),
      ),
    }),
  },
  {
    id: 'sensors.motorField',
    station: 'sensors',
    where: 'power leads close to the compass',
    shows: 'the field turns when the motors draw current',
    caughtBy: 'sensors.compassShift',
    remedy: 'lead the power wires away, or replace the compass by one on a mast',
    likelihood: 0.02,
    fits: ({ compass }) => compass.fitted,
    inject: (site) => void (site.airframe.compass.perAmp = oneAxis(site, [0, 0, 0], site.random.between(0.6, 1.2))),
    isIn: ({ airframe: { compass } }) => largest(compass.perAmp) > 0.3,
    mend: () => ({ acts: [{ act: 'replace', part: 'compass' }] }),
  },
  {
    id: 'sensors.baroNoise',
    station: 'sensors',
    where: 'barometer without its foam',
    shows: 'height is noisy, more in wind',
    caughtBy: 'sensors.barometer',
    remedy: 'replace the barometer and its foam',
    likelihood: 0.015,
    inject: ({ airframe: { baro }, beyond }) => void (baro.noiseM = beyond(0.3, 0.02, 3)),
    isIn: ({ airframe: { baro } }) => baro.noiseM > 0.3,
    mend: () => ({ acts: [{ act: 'replace', part: 'barometer' }] }),
  },
  {
    id: 'sensors.baroDrift',
    station: 'sensors',
    where: 'barometer',
    shows: 'height wanders by over 1 m in 5 min',
    caughtBy: 'sensors.barometer',
    remedy: 'replace the barometer',
    likelihood: 0.01,
    inject: ({ airframe: { baro }, beyond }) => void (baro.driftMPerMin = beyond(0.2, 0.01, 3)),
    isIn: ({ airframe: { baro } }) => Math.abs(baro.driftMPerMin) > 0.2,
    mend: () => ({ acts: [{ act: 'replace', part: 'barometer' }] }),
  },
  {
    id: 'sensors.fixSlow',
    station: 'sensors',
    where: 'position receiver',
    shows: 'no fix within its time under an open sky',
    caughtBy: 'sensors.position',
    remedy: 'replace the position receiver',
    likelihood: 0.01,
    fits: ({ fix }) => fix.fitted,
    inject: ({ airframe: { fix } }) => void (fix.secondsToFix = 400),
    isIn: ({ airframe: { fix } }) => fix.secondsToFix > 120,
    mend: () => ({ acts: [{ act: 'replace', part: 'position receiver' }] }),
  },
  {
    id: 'sensors.fewSatellites',
    station: 'sensors',
    where: 'position receiver, its antenna disturbed',
    shows: 'too few satellites, dilution high',
    caughtBy: 'sensors.position',
    remedy: 'replace the position receiver',
    likelihood: 0.015,
    fits: ({ fix }) => fix.fitted,
    inject: ({ airframe: { fix } }) => void Object.assign(fix, { satellites: 5, dilution: 4 }),
    isIn: ({ airframe: { fix } }) => fix.satellites < 8 || fix.dilution > 2,
    mend: () => ({ acts: [{ act: 'replace', part: 'position receiver' }] }),
  },
]
