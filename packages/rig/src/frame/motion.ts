import { apply, fromAngles, inverse, multiply, toAngles, type Angles, type Rotation, type Vec3 } from '@taraf/core/rotation'
import type { Airframe } from '../airframe'
import type { Random } from '../random'
import { add, scale } from '../vector'
import { Pose } from './pose'
import { quaternionOf, rotationOf, stepRigidBody, type RigidState } from './rigidBody'

/** What the props do to the frame: thrust along its own up axis, N, and torque in body axes, Nm. */
export interface Wrench {
  readonly thrust: number
  readonly torque: Vec3
}
export const noWrench: Wrench = { thrust: 0, torque: [0, 0, 0] }

const tremorRate = 0.02 // rad/s rms of a hand that holds an airframe, a few hertz
const knockS = 0.25
/** How far its weight presses its legs in. */
const legSinkM = 0.003
const standPivotM = 0.03
const standFriction = 0.004

/**
 * How the frame moves: where the hands put it, on a stand that tilts about one axis, or free. Gives what acts on it in body
 * axes: specific force and turn rate.
 */
export class Motion {
  readonly pose: Pose
  mode: 'held' | 'stand' | 'free' = 'held'
  rate: Vec3 = [0, 0, 0]
  force: Vec3
  attitude: Rotation
  private stand = { axis: 0 as 0 | 1, angle: 0, rate: 0 }
  private free: RigidState | null = null
  private shake: Vec3 = [0, 0, 0]
  private knockLeft = 0
  private knockAxis: Vec3 = [0, 0, 1]

  constructor(
    private readonly airframe: Airframe,
    private readonly random: Random,
  ) {
    this.pose = new Pose(airframe.shop.plate)
    this.attitude = this.pose.attitude()
    this.force = apply(inverse(this.attitude), [0, 0, -airframe.shop.gravity])
  }

  /** Nothing moves it: time can be jumped over. */
  get still(): boolean {
    return (this.mode === 'held' && !this.pose.moving && this.knockLeft <= 0) || (this.mode === 'free' && this.landed)
  }

  get heightM(): number {
    return this.free === null ? 0 : Math.max(0, -this.free.position[2] - this.airframe.frame.legDownM)
  }

  get position(): Vec3 {
    return this.free?.position ?? [0, 0, 0]
  }
  get velocity(): Vec3 {
    return this.free?.velocity ?? [0, 0, 0]
  }
  get landed(): boolean {
    return this.heightM < 0.01 && Math.hypot(...this.velocity) < 0.05
  }
  get angles(): Angles {
    return toAngles(this.attitude)
  }

  knock(): void {
    const angle = 2 * Math.PI * this.random.uniform()
    this.knockAxis = [Math.cos(angle), Math.sin(angle), 0.4]
    this.knockLeft = knockS
  }

  /** Back into the hands or onto the plate. */
  take(): void {
    if (this.mode === 'free') this.pose.takeUp(this.angles)
    this.mode = 'held'
    this.free = null
  }

  putOnStand(axis: 'roll' | 'pitch', angle: number): void {
    this.mode = 'stand'
    this.free = null
    this.stand = { axis: axis === 'roll' ? 0 : 1, angle, rate: 0 }
  }

  /** On level ground in the open, free to leave it. */
  putOut(): void {
    const { legDownM } = this.airframe.frame
    this.mode = 'free'
    this.free = {
      position: [0, 0, legSinkM - legDownM],
      velocity: [0, 0, 0],
      attitude: quaternionOf(fromAngles({ roll: 0, pitch: 0, yaw: 0 })),
      rate: [0, 0, 0],
    }
  }

  step(wrench: Wrench, dtS: number): void {
    if (this.mode === 'free' && this.free !== null) this.stepFree(this.free, wrench, dtS)
    else if (this.mode === 'stand') this.stepStand(wrench, dtS)
    else this.stepHeld(dtS)
    if (this.knockLeft > 0) this.feelKnock(dtS)
  }

  private stepHeld(dtS: number): void {
    const before = this.attitude
    const { pose } = this
    const moved = pose.moving
    pose.step(dtS)
    if (moved) {
      this.attitude = pose.attitude()
      this.rate = rateBetween(before, this.attitude, dtS)
      this.force = this.atRest()
    } else if (this.rate[0] !== 0 || this.rate[1] !== 0 || this.rate[2] !== 0) {
      this.rate = [0, 0, 0]
      this.force = this.atRest()
    } else if (this.knockLeft > 0) this.force = this.atRest()
    if (pose.held === 'hand') this.rate = add(this.rate, this.tremor(dtS))
  }

  private stepStand({ torque }: Wrench, dtS: number): void {
    const { frame, shop } = this.airframe
    const { stand } = this
    const inertia = (frame.inertia[stand.axis] as number) + frame.massKg * standPivotM ** 2
    const back = -frame.massKg * shop.gravity * standPivotM * Math.sin(stand.angle) - standFriction * stand.rate
    stand.rate += ((torque[stand.axis] + back) / inertia) * dtS
    stand.angle += stand.rate * dtS
    this.attitude = fromAngles({ roll: 0, pitch: 0, yaw: 0, [stand.axis === 0 ? 'roll' : 'pitch']: stand.angle })
    this.rate = stand.axis === 0 ? [stand.rate, 0, 0] : [0, stand.rate, 0]
    this.force = this.atRest()
  }

  private stepFree(state: RigidState, { thrust, torque }: Wrench, dtS: number): void {
    const { frame, shop } = this.airframe
    const attitude = rotationOf(state.attitude)
    const push = add(apply(attitude, [0, 0, -thrust]), scale(state.velocity, -frame.drag))
    const ground = this.contact(state, attitude)
    const force = add(push, ground.force, [0, 0, frame.massKg * shop.gravity])
    this.free = stepRigidBody(state, force, add(torque, ground.torque), frame.massKg, frame.inertia, dtS)
    this.attitude = rotationOf(this.free.attitude)
    this.rate = this.free.rate
    this.force = scale(apply(inverse(this.attitude), add(push, ground.force)), 1 / frame.massKg)
  }

  /** Four legs on springs with damping and friction, at the corners of the frame. */
  private contact(state: RigidState, attitude: Rotation): { force: Vec3; torque: Vec3 } {
    const { frame, geometry, shop } = this.airframe
    const spread = geometry.booms[0]?.radiusM ?? 0.1
    const weight = (frame.massKg * shop.gravity) / 4
    const stiffness = weight / legSinkM
    const damping = 2 * 0.5 * Math.sqrt(stiffness * (frame.massKg / 4))
    let force: Vec3 = [0, 0, 0]
    let torque: Vec3 = [0, 0, 0]
    for (const [x, y] of legs) {
      const arm: Vec3 = [x * spread * 0.7, y * spread * 0.7, frame.legDownM]
      const sunk = state.position[2] + apply(attitude, arm)[2]
      if (sunk <= 0) continue
      const speed = add(state.velocity, apply(attitude, cross(state.rate, arm)))
      const up = Math.max(0, stiffness * sunk + damping * speed[2])
      const slide = Math.hypot(speed[0], speed[1])
      const grip = slide < 1e-6 ? 0 : -0.6 * up * Math.min(1, slide / 0.02) * (1 / slide)
      const leg: Vec3 = [grip * speed[0], grip * speed[1], -up]
      force = add(force, leg)
      torque = add(torque, cross(arm, apply(inverse(attitude), leg)))
    }
    return { force, torque }
  }

  private atRest(): Vec3 {
    return apply(inverse(this.attitude), [0, 0, -this.airframe.shop.gravity])
  }

  /** A knock: a decaying ring of 18 Hz. */
  private feelKnock(dtS: number): void {
    const t = knockS - this.knockLeft
    this.knockLeft -= dtS
    const kick = Math.exp(-t / 0.06) * Math.cos(2 * Math.PI * 18 * t)
    this.force = add(this.mode === 'held' ? this.atRest() : this.force, scale(this.knockAxis, kick * 18))
    this.rate = add(this.rate, scale([this.knockAxis[1], -this.knockAxis[0], 0.2], kick * 1.2))
    if (this.knockLeft <= 0) this.force = this.atRest()
  }

  /** A hand's tremor: noise through a low-pass of about 5 Hz. */
  private tremor(dtS: number): Vec3 {
    const keep = Math.exp(-2 * Math.PI * 5 * dtS)
    const drive = tremorRate * Math.sqrt(1 - keep * keep)
    this.shake = add(scale(this.shake, keep), scale([this.random.normal(), this.random.normal(), this.random.normal()], drive))
    return this.shake
  }
}

const legs = [
  [1, 1],
  [1, -1],
  [-1, 1],
  [-1, -1],
] as const

const cross = (a: Vec3, b: Vec3): Vec3 => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]]

/** The body turn rate that takes one attitude to the next within a step. */
const rateBetween = (from: Rotation, to: Rotation, dtS: number): Vec3 => {
  const d = multiply(inverse(from), to)
  return scale([d[2][1] - d[1][2], d[0][2] - d[2][0], d[1][0] - d[0][1]], 0.5 / dtS)
}
