import type { Geometry } from '@taraf/contract'
import type { MotorPosition } from '@taraf/core/geometry'
import type { Angles, Rotation, Vec3 } from '@taraf/core/rotation'
import type { DriveBuild } from './drive/drive'
import type { PowerBuild } from './power/power'
import type { ReceiverBuild } from './radio/receiver'
import type { TransmitterBuild } from './radio/transmitter'

/**
 * What is true of one airframe on one bench, whatever anybody believes of it. Faults and hands change it; the model reads
 * it at every step. Angles are radians, rates rad/s, forces m/s2, fields uT, lengths m, in body axes unless said otherwise.
 */
export interface Airframe {
  readonly type: string
  readonly geometry: Geometry
  readonly positions: readonly MotorPosition[]
  readonly frame: FrameBuild
  readonly board: BoardBuild
  readonly imu: ImuBuild
  readonly compass: CompassBuild
  readonly baro: BaroBuild
  readonly fix: FixBuild
  /** By output: what is wired to it. Null where nothing is. */
  readonly drives: (DriveBuild | null)[]
  readonly transmitter: TransmitterBuild
  readonly receiver: ReceiverBuild
  readonly power: PowerBuild
  readonly fitOut: FitOutBuild
  readonly shop: Shop
}

export interface FrameBuild {
  massKg: number
  /** Principal moments about forward, right and down, kg m2. */
  inertia: Vec3
  /** N per m/s of speed through the air. */
  drag: number
  legDownM: number
  /** Whether each position carries the prop that its turn wants; `none` is a bare shaft. */
  readonly props: ('none' | Prop)[]
  /** The prop that lies ready for each position. */
  readonly propSet: Prop[]
  nutsOn: boolean
}

export type Prop = 'right' | 'wrong' | 'damaged'

export interface BoardBuild {
  serial: string
  target: string
  /** Its named turn in the airframe, and how far it sits beside it. */
  mounting: Angles
  seating: Angles
  /** How the sensor sits on the board. */
  chip: Angles
  /** With loose screws the board shakes: rms added to each gyro axis. */
  screws: 'tight' | 'loose'
  looseShake: Vec3
  /** Load and jitter of its loop beyond what its settings cause, shares. */
  extraLoad: number
  extraJitter: number
  sockets: Socket[]
  logBytes: number
  firmware: Firmware
}
export interface Firmware {
  name: string
  version: string
  features: readonly string[]
  /** What a bad copy of it does differently from it is set to; nothing that it reports shows it. */
  habit?: Habit
}
/** Arms as soon as it may, though its switch was on before; goes on at flight throttle, or for five seconds, with its switch off; disarms by yaw alone. */
export type Habit = 'arms once it may' | 'deaf in flight' | 'late' | 'yaw disarms'
export interface Socket {
  plugged: 'nothing' | 'receiver' | 'position' | 'telemetry' | 'video' | 'gimbal'
  /** A plug that is not home or has a bent pin passes nothing; swapped wires pass nothing that can be read. */
  plug: 'home' | 'loose' | 'wires swapped'
}

export interface ImuBuild {
  gyroBias: Vec3
  gyroNoise: Vec3
  /** rad/s per kelvin from 25 C. */
  gyroDrift: Vec3
  gyroScale: Vec3
  accelBias: Vec3
  accelScale: Vec3
  /** Share of the other axes that each axis reads. */
  accelCross: number
  accelNoise: number
  accelDrift: Vec3
  dead: boolean
}
export interface CompassBuild {
  fitted: boolean
  dead: boolean
  /** 0 or 1: the bus address at which it answers. */
  address: number
  hardIron: Vec3
  softIron: Rotation
  noise: number
  /** uT per ampere of motor current. */
  perAmp: Vec3
}
export interface BaroBuild {
  fitted: boolean
  dead: boolean
  address: number
  noiseM: number
  driftMPerMin: number
}
export interface FixBuild {
  fitted: boolean
  dead: boolean
  secondsToFix: number
  satellites: number
  dilution: number
  antenna: Vec3
}
export interface FitOutBuild {
  camera: 'upright' | 'upside down' | 'blurred' | 'dark'
  videoFitted: boolean
  videoChannel: number
  videoAntenna: boolean
  lights: { front: 'white' | 'red'; rear: 'white' | 'red'; work: boolean }
  sounder: boolean
  gimbalRangeDeg: number
  payload: 'works' | 'stuck' | 'releases by itself'
  /** Things fed straight from a receiver channel, past the board: the channel, and what it does. */
  pastBoard: { channel: number; what: string }[]
  /** What parts beside the board show as the version of their firmware. */
  versions: Record<string, string>
}

/** The bench and the place that it stands at. */
export interface Shop {
  gravity: number
  /** The field at the bench in world axes, uT. */
  field: Vec3
  /** How far the plate is from level, in its own axes. */
  plate: { roll: number; pitch: number }
  temperatureC: number
  /** The sky is seen: a position receiver can get its fix. */
  outdoors: boolean
}
