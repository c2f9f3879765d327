import { apply, fromAngles, inverse, multiply, radians, type Rotation, type Vec3 } from '@taraf/core/rotation'
import type { Airframe, BoardBuild } from '../airframe'
import type { Random } from '../random'
import { add } from '../vector'
import { socketNumbers } from './definitions'
import type { BoardSettings } from './settings'

export interface ForceAndRate {
  readonly force: Vec3
  readonly rate: Vec3
}

/** The sensors of a seated, mounted board, and the chain of stages that the board makes of them: raw, calibrated, body. */
export class Sensors {
  temperatureC: number
  /** How far the room's pressure has moved the barometer, m. */
  private baroDrift = 0
  private fixedFor = 0
  private toChip: Rotation = identity
  private seatedAs: Partial<Pick<BoardBuild, 'mounting' | 'seating' | 'chip'>> = {}
  /** What the board's settings say of its sensors. */
  private readonly told: () => Told

  constructor(
    private readonly airframe: Airframe,
    private readonly settings: BoardSettings,
    private readonly random: Random,
  ) {
    this.told = settings.derived(toldBy)
    this.temperatureC = airframe.shop.temperatureC
  }

  /** Lets the sensors warm up, the weather drift and the fix come, for a step or a jump. */
  pass(seconds: number, powered: boolean): void {
    const target = this.airframe.shop.temperatureC + (powered ? 12 : 0)
    this.temperatureC += (target - this.temperatureC) * (1 - Math.exp(-seconds / 240))
    this.baroDrift += (this.airframe.baro.driftMPerMin * seconds) / 60
    this.fixedFor = powered && this.airframe.shop.outdoors ? this.fixedFor + seconds : 0
  }

  /** What the chip reads: bias, scale, cross-axis, their drift with temperature, and noise. */
  raw(felt: ForceAndRate): ForceAndRate {
    const { imu, board } = this.airframe
    const { force, rate } = this.quiet(felt)
    if (imu.dead) return { force, rate }
    const { accelNoise, gyroNoise } = imu
    const loose = board.screws === 'loose' ? board.looseShake : none
    return {
      force: this.noisy(force, accelNoise, accelNoise, accelNoise),
      rate: this.noisy(rate, both(gyroNoise[0], loose[0]), both(gyroNoise[1], loose[1]), both(gyroNoise[2], loose[2])),
    }
  }

  private noisy(v: Vec3, x: number, y: number, z: number): Vec3 {
    const { random } = this
    return [v[0] + x * random.normal(), v[1] + y * random.normal(), v[2] + z * random.normal()]
  }

  /** The same without noise: the mean of what it reads. */
  quiet({ force, rate }: ForceAndRate): ForceAndRate {
    const { imu } = this.airframe
    if (imu.dead) return { force: none, rate: none }
    const toChip = this.seated()
    const f = apply(toChip, force)
    const w = apply(toChip, rate)
    const warm = this.temperatureC - 25
    const { accelCross: c, accelScale, accelBias, accelDrift, gyroScale, gyroBias, gyroDrift } = imu
    return {
      force: [
        (f[0] + c * (f[1] + f[2])) / accelScale[0] + accelBias[0] + accelDrift[0] * warm,
        (f[1] + c * (f[0] + f[2])) / accelScale[1] + accelBias[1] + accelDrift[1] * warm,
        (f[2] + c * (f[0] + f[1])) / accelScale[2] + accelBias[2] + accelDrift[2] * warm,
      ],
      rate: [
        w[0] * gyroScale[0] + gyroBias[0] + gyroDrift[0] * warm,
        w[1] * gyroScale[1] + gyroBias[1] + gyroDrift[1] * warm,
        w[2] * gyroScale[2] + gyroBias[2] + gyroDrift[2] * warm,
      ],
    }
  }

  calibrated(raw: ForceAndRate): ForceAndRate {
    const { accelBias, accelScale, gyroBias } = this.told()
    return {
      force: [
        accelScale[0] * (raw.force[0] - accelBias[0]),
        accelScale[1] * (raw.force[1] - accelBias[1]),
        accelScale[2] * (raw.force[2] - accelBias[2]),
      ],
      rate: [raw.rate[0] - gyroBias[0], raw.rate[1] - gyroBias[1], raw.rate[2] - gyroBias[2]],
    }
  }

  inBody({ force, rate }: ForceAndRate): ForceAndRate {
    const { toBody } = this.told()
    return { force: apply(toBody, force), rate: apply(toBody, rate) }
  }

  /** The field as the compass reads it, sensor axes, uT; null where it does not answer. */
  compass(attitude: Rotation, motorAmps: number): Vec3 | null {
    const { compass, shop } = this.airframe
    if (!this.answers('compass')) return null
    const inBody = apply(inverse(attitude), shop.field)
    const disturbed: Vec3 = [
      inBody[0] + compass.perAmp[0] * motorAmps,
      inBody[1] + compass.perAmp[1] * motorAmps,
      inBody[2] + compass.perAmp[2] * motorAmps,
    ]
    const soft = apply(compass.softIron, apply(this.seated(), disturbed))
    return this.noisy(add(soft, compass.hardIron), compass.noise, compass.noise, compass.noise)
  }

  /** Height by pressure, m; null where the barometer does not answer. */
  barometer(heightM: number): number | null {
    if (!this.answers('baro')) return null
    return heightM + this.baroDrift + this.airframe.baro.noiseM * this.random.normal()
  }

  /** Whether it knows where it is. */
  get hasFix(): boolean {
    return this.fixedFor >= this.airframe.fix.secondsToFix && this.fix()?.fixed === true
  }

  /** What the position receiver says; null where it says nothing. */
  fix(): { fixed: boolean; satellites: number; dilution: number } | null {
    const { fix, board } = this.airframe
    if (!fix.fitted || fix.dead) return null
    const socket = board.sockets.findIndex((s) => s.plugged === 'position')
    if (socket < 0 || board.sockets[socket]?.plug !== 'home' || this.told().socketUses[socket] !== 2) return null
    const fixed = this.fixedFor >= fix.secondsToFix
    return {
      fixed,
      satellites: fixed ? fix.satellites : Math.min(fix.satellites, Math.floor(this.fixedFor / 10)),
      dilution: fixed ? fix.dilution : 20,
    }
  }

  /** Whether a sensor answers at the bus address that the board is told to use. */
  answers(sensor: 'imu' | 'compass' | 'baro'): boolean {
    if (sensor === 'imu') return !this.airframe.imu.dead
    const { fitted, dead, address } = this.airframe[sensor]
    return fitted && !dead && this.settings.isOn(`${sensor}.use`) && address === this.settings.get(`${sensor}.bus`)
  }

  /** From body axes to the chip's, as board and chip really sit. */
  private seated(): Rotation {
    const { mounting, seating, chip } = this.airframe.board
    const before = this.seatedAs
    if (before.mounting !== mounting || before.seating !== seating || before.chip !== chip) {
      this.seatedAs = { mounting, seating, chip }
      this.toChip = inverse(multiply(multiply(fromAngles(seating), fromAngles(mounting)), fromAngles(chip)))
    }
    return this.toChip
  }
}

interface Told {
  readonly accelBias: Vec3
  readonly accelScale: Vec3
  readonly gyroBias: Vec3
  readonly toBody: Rotation
  /** By socket, from 1 on. */
  readonly socketUses: readonly number[]
}

const toldBy = (s: BoardSettings): Told => {
  const three = (name: string): Vec3 => [s.get(`${name}X`), s.get(`${name}Y`), s.get(`${name}Z`)]
  const [x, y, z] = three('gyro.bias')
  const angle = (name: string) => radians(s.get(name))
  const turned = (group: 'board' | 'chip') =>
    fromAngles({ roll: angle(`${group}.roll`), pitch: angle(`${group}.pitch`), yaw: angle(`${group}.yaw`) })
  const trim = fromAngles({ roll: angle('level.roll'), pitch: angle('level.pitch'), yaw: 0 })
  return {
    accelBias: three('accel.bias'),
    accelScale: three('accel.scale'),
    gyroBias: [radians(x), radians(y), radians(z)],
    toBody: multiply(trim, multiply(turned('board'), turned('chip'))),
    socketUses: socketNumbers.map((n) => s.get(`socket.${n}.use`)),
  }
}

/** The deviation of two independent noises together. */
const both = (a: number, b: number): number => (b === 0 ? a : Math.hypot(a, b))

const none: Vec3 = [0, 0, 0]
const identity: Rotation = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
]
