import type { BoardIdentity, BoardSetting, BoardState, HandAct, HandsState, ImuStage, Settings } from '@taraf/contract'
import {
  apply,
  degrees,
  fromAngles,
  inverse,
  multiply,
  radians,
  tiltOf,
  toAngles,
  turn,
  type Angles,
  type Rotation,
  type Vec3,
} from '@taraf/core/rotation'
import type { RigFaults } from './faults'
import { Pose } from './pose'
import { randomFrom, type Random } from './random'
import { BoardSettings } from './settings'
import { add, meanOf, scale } from './vector'

/** One sample of the board: force in m/s2 and rate in rad/s of the stage asked for; attitude in rad as the board reports it. */
export interface Sample {
  readonly t: number
  readonly force: Vec3
  readonly rate: Vec3
  readonly attitude: Angles
}

export interface RigPlan {
  readonly seed: number
  readonly identity: BoardIdentity
  readonly faults: RigFaults
  /** Gravity at the shop, m/s2. */
  readonly gravity: number
}

export const stepS = 0.005
const calibrateS = 1.5
const tremorRate = 0.02 // rad/s rms of a hand that holds an airframe, a few hertz
const knockS = 0.25

/** A simulated airframe with its board: deterministic from its seed, stepped by its caller, no I/O. */
export class Rig {
  readonly settings = new BoardSettings()
  private readonly random: Random
  private readonly pose: Pose
  /** From body axes to the sensor's, as the board really sits. */
  private readonly toSensor: Rotation
  private before: Rotation
  private t = 0
  private boots = 1
  private knockLeft = 0
  private knockAxis: Vec3 = [0, 0, 1]
  private screws: HandsState['boardScrews']
  private attitude: Angles | null = null
  private calibration: { left: number; rates: Vec3[] } | null = null
  private shake: Vec3 = [0, 0, 0]

  constructor(readonly plan: RigPlan) {
    this.random = randomFrom(plan.seed)
    this.pose = new Pose(plan.faults.plate)
    this.toSensor = inverse(multiply(fromAngles(plan.faults.seating), fromAngles(plan.faults.mounting)))
    this.before = this.pose.attitude()
    this.screws = plan.faults.looseScrews === null ? 'tight' : 'loose'
  }

  /** Steps by 5 ms and returns the board's sample in the stage asked for. */
  step(stage: ImuStage): Sample {
    this.t += stepS
    this.pose.step(stepS)
    const body = this.truth()
    const raw = this.sense(body)
    this.gatherCalibration(raw.rate)
    const calibrated = this.calibrated(raw)
    const inBody = this.inBody(calibrated)
    this.attitude = this.estimate(inBody)
    const shown = stage === 'raw' ? raw : stage === 'calibrated' ? calibrated : inBody
    return { t: this.t, ...shown, attitude: this.attitude }
  }

  /** Lets time pass in which nothing was sampled. */
  skip(seconds: number): void {
    this.t += seconds
    this.pose.step(seconds)
    this.before = this.pose.attitude()
  }

  act(act: HandAct): void {
    switch (act.act) {
      case 'lay':
      case 'tilt':
        return this.pose.act(act)
      case 'knock': {
        const angle = 2 * Math.PI * this.random.uniform()
        this.knockAxis = [Math.cos(angle), Math.sin(angle), 0.4]
        this.knockLeft = knockS
        return
      }
      case 'fasten':
        this.screws = 'tight'
    }
  }

  hands(): HandsState {
    return { ...this.pose.state(), boardScrews: this.screws }
  }

  state(): BoardState {
    return { power: 'cable', powerId: `${this.plan.identity.board}-${this.boots}`, motors: 'still', radio: 'none' }
  }

  list(): BoardSetting[] {
    return this.settings.list()
  }

  write(values: Settings): string | null {
    return this.settings.write(values)
  }

  save(): void {
    this.settings.save()
  }

  restart(): void {
    this.settings.reload()
    this.boots += 1
    this.t = 0
    this.attitude = null
    this.calibration = null
  }

  /** Starts measuring the gyro's bias; `calibrationResult` tells how it ended. */
  calibrate(): void {
    this.calibration = { left: Math.round(calibrateS / stepS), rates: [] }
  }

  /** Null while it measures; then the values put in force, or 'moving' where the airframe did not lie still. */
  calibrationResult(): Settings | 'moving' | null {
    if (this.calibration === null || this.calibration.left > 0) return null
    const { rates } = this.calibration
    this.calibration = null
    // Noise of loose screws must not hinder it, a hand must: the means of tenths of a second are compared.
    const tenth = Math.round(0.1 / stepS)
    const means = Array.from({ length: Math.floor(rates.length / tenth) }, (_, i) =>
      meanOf(rates.slice(i * tenth, (i + 1) * tenth)),
    )
    for (const axis of [0, 1, 2] as const) {
      const values = means.map((m) => m[axis])
      if (Math.max(...values) - Math.min(...values) > radians(2.5)) return 'moving'
    }
    const bias = meanOf(rates)
    const rounded = (rate: number) => Math.round(degrees(rate) * 1e4) / 1e4
    const values = { 'gyro.biasX': rounded(bias[0]), 'gyro.biasY': rounded(bias[1]), 'gyro.biasZ': rounded(bias[2]) }
    this.settings.write(values)
    return values
  }

  /** What acts on the airframe, body axes: specific force and turn rate. */
  private truth(): { force: Vec3; rate: Vec3 } {
    const now = this.pose.attitude()
    const rate = rateBetween(this.before, now)
    this.before = now
    const force = apply(inverse(now), [0, 0, -this.plan.gravity])
    const tremor: Vec3 = this.pose.inHand ? this.tremor() : [0, 0, 0]
    const kick = this.kick()
    return {
      force: add(force, scale(this.knockAxis, kick * 18)),
      rate: add(rate, tremor, scale([this.knockAxis[1], -this.knockAxis[0], 0.2], kick * 1.2)),
    }
  }

  /** A hand's tremor: noise through a low-pass of about 5 Hz. */
  private tremor(): Vec3 {
    const keep = Math.exp(-2 * Math.PI * 5 * stepS)
    const drive = tremorRate * Math.sqrt(1 - keep * keep)
    this.shake = add(scale(this.shake, keep), scale([this.random.normal(), this.random.normal(), this.random.normal()], drive))
    return this.shake
  }

  /** A knock: a decaying ring of 18 Hz. */
  private kick(): number {
    if (this.knockLeft <= 0) return 0
    const t = knockS - this.knockLeft
    this.knockLeft -= stepS
    return Math.exp(-t / 0.06) * Math.cos(2 * Math.PI * 18 * t)
  }

  /** What the sensors on the seated, mounted board read of it. */
  private sense({ force, rate }: { force: Vec3; rate: Vec3 }): { force: Vec3; rate: Vec3 } {
    const { gyroBias, gyroNoise, accelBias, accelScale, accelNoise, looseScrews } = this.plan.faults
    const f = apply(this.toSensor, force)
    const w = apply(this.toSensor, rate)
    const loose: Vec3 = this.screws === 'loose' && looseScrews !== null ? looseScrews : [0, 0, 0]
    const noisy = (i: 0 | 1 | 2) => Math.hypot(gyroNoise[i], loose[i]) * this.random.normal()
    return {
      force: [
        f[0] / accelScale[0] + accelBias[0] + accelNoise * this.random.normal(),
        f[1] / accelScale[1] + accelBias[1] + accelNoise * this.random.normal(),
        f[2] / accelScale[2] + accelBias[2] + accelNoise * this.random.normal(),
      ],
      rate: [w[0] + gyroBias[0] + noisy(0), w[1] + gyroBias[1] + noisy(1), w[2] + gyroBias[2] + noisy(2)],
    }
  }

  private calibrated(raw: { force: Vec3; rate: Vec3 }): { force: Vec3; rate: Vec3 } {
    const s = this.settings
    return {
      force: [
        s.get('accel.scaleX') * (raw.force[0] - s.get('accel.biasX')),
        s.get('accel.scaleY') * (raw.force[1] - s.get('accel.biasY')),
        s.get('accel.scaleZ') * (raw.force[2] - s.get('accel.biasZ')),
      ],
      rate: [
        raw.rate[0] - radians(s.get('gyro.biasX')),
        raw.rate[1] - radians(s.get('gyro.biasY')),
        raw.rate[2] - radians(s.get('gyro.biasZ')),
      ],
    }
  }

  private inBody({ force, rate }: { force: Vec3; rate: Vec3 }): { force: Vec3; rate: Vec3 } {
    const { settings: s } = this
    const trim = fromAngles({ roll: radians(s.get('level.roll')), pitch: radians(s.get('level.pitch')), yaw: 0 })
    const toBody = multiply(trim, this.toldMounting())
    return { force: apply(toBody, force), rate: apply(toBody, rate) }
  }

  /** The mounting that the board was told. */
  private toldMounting(): Rotation {
    const { settings: s } = this
    return fromAngles({
      roll: radians(s.get('board.roll')),
      pitch: radians(s.get('board.pitch')),
      yaw: radians(s.get('board.yaw')),
    })
  }

  /** The board's own attitude: turn rates integrated, tilt drawn to the specific force with a time constant of half a second. */
  private estimate({ force, rate }: { force: Vec3; rate: Vec3 }): Angles {
    const tilt = tiltOf(force)
    if (this.attitude === null) return { ...tilt, yaw: 0 }
    const turned = multiply(fromAngles(this.attitude), small(scale(rate, stepS)))
    const { roll, pitch, yaw } = toAngles(turned)
    const pull = stepS / 0.5
    return { roll: turn(roll + pull * turn(tilt.roll - roll)), pitch: pitch + pull * (tilt.pitch - pitch), yaw }
  }

  private gatherCalibration(rate: Vec3): void {
    if (this.calibration === null || this.calibration.left <= 0) return
    this.calibration.rates.push(rate)
    this.calibration.left -= 1
  }
}

/** The rotation by a small rotation vector, as angles: exact to second order. */
const small = ([x, y, z]: Vec3): Rotation => fromAngles({ roll: x, pitch: y, yaw: z })

/** The body turn rate that takes one attitude to the next within a step. */
const rateBetween = (from: Rotation, to: Rotation): Vec3 => {
  const d = multiply(inverse(from), to)
  return scale([d[2][1] - d[1][2], d[0][2] - d[2][0], d[1][0] - d[0][1]], 0.5 / stepS)
}
