import type { AttitudeStream, Evidence, ImuStream } from '@taraf/contract'
import { randomFrom } from '../../rig/src/random'
import { radians, type Vec3 } from '../src/rotation'

export interface Wish {
  readonly seconds?: number
  readonly rateDegPerS?: Vec3
  readonly noiseDegPerS?: Vec3
  readonly force?: Vec3
  readonly forceNoise?: number
  readonly stage?: ImuStream['stage']
  readonly seed?: number
  readonly startS?: number
  /** Changes one sample, by its number. */
  readonly bend?: (i: number, t: number) => { force?: Vec3; rateDegPerS?: Vec3 } | null
}

/** An imu stream at 200 Hz of an airframe that lies still, with white noise, unless it is bent. */
export const imuOf = ({
  seconds = 5,
  rateDegPerS = [0, 0, 0],
  noiseDegPerS = [0.05, 0.05, 0.05],
  force = [0, 0, -9.81],
  forceNoise = 0.03,
  stage = 'calibrated',
  seed = 1,
  startS = 0,
  bend = () => null,
}: Wish = {}): ImuStream => {
  const random = randomFrom(seed)
  const rows = Math.round(seconds * 200) + 1
  const stream = {
    stage,
    t: [] as number[],
    ax: [] as number[],
    ay: [] as number[],
    az: [] as number[],
    gx: [] as number[],
    gy: [] as number[],
    gz: [] as number[],
  }
  for (let i = 0; i < rows; i++) {
    const t = startS + i / 200
    const bent = bend(i, t - startS)
    const f = bent?.force ?? force
    const w = bent?.rateDegPerS ?? rateDegPerS
    stream.t.push(t)
    stream.ax.push(f[0] + forceNoise * random.normal())
    stream.ay.push(f[1] + forceNoise * random.normal())
    stream.az.push(f[2] + forceNoise * random.normal())
    stream.gx.push(radians(w[0] + noiseDegPerS[0] * random.normal()))
    stream.gy.push(radians(w[1] + noiseDegPerS[1] * random.normal()))
    stream.gz.push(radians(w[2] + noiseDegPerS[2] * random.normal()))
  }
  return stream
}

/** The specific force of a craft at rest with this roll and pitch, body axes. */
export const forceAt = (rollDeg: number, pitchDeg: number, g = 9.81): Vec3 => {
  const [r, p] = [radians(rollDeg), radians(pitchDeg)]
  return [g * Math.sin(p), -g * Math.sin(r) * Math.cos(p), -g * Math.cos(r) * Math.cos(p)]
}

export const attitudeOf = (yawDeg: number, rows = 400): AttitudeStream => ({
  t: Array.from({ length: rows }, (_, i) => i / 200),
  roll: new Array<number>(rows).fill(0),
  pitch: new Array<number>(rows).fill(0),
  yaw: new Array<number>(rows).fill(radians(yawDeg)),
})

export const evidenceOf = (check: string, segments: Evidence['segments'], rest: Partial<Evidence> = {}): Evidence => ({
  format: 'taraf-evidence/1',
  check,
  sheet: {},
  board: {},
  segments,
  ...rest,
})
