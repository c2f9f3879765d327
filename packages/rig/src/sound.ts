import type { Geometry, Settings, Sheet } from '@taraf/contract'
import { positionsOf } from '@taraf/core/geometry'
import { fieldAt } from '@taraf/core/field'
import { radians, type Vec3 } from '@taraf/core/rotation'
import type { Airframe, Shop } from './airframe'
import type { DriveBuild, EscBuild } from './drive/drive'
import type { MotorBuild } from './drive/motor'
import type { Chemistry } from './power/pack'
import type { TransmitterBuild } from './radio/transmitter'
import { randomFrom, type Random } from './random'

/** What of a type its build sheet does not say but physics needs. */
export interface TypeFacts {
  massKg: number
  cells: number
  chemistry: Chemistry
  capacityMah: number
  motor: MotorBuild
  compass: boolean
  baro: boolean
  fix: boolean
  video: boolean
  telemetry: boolean
  bindSteps: 1 | 2
  /** The middle of its mode switch brings it home. */
  fliesHome?: true
  /** Its ESCs understand pulses alone, and say nothing of themselves while they turn. */
  analogue?: true
}
const motor = (kv: number, resistance: number, noLoadAmps: number, inertia: number, poles: number): MotorBuild => ({
  kv,
  resistance,
  noLoadAmps,
  inertia,
  poles,
  imbalance: 4e-7,
  roughness: 0,
  rub: 0,
})

/** Facts of the demo's types; any other type flies like the small quad. */
const facts: Readonly<Record<string, TypeFacts>> = {
  N4: {
    massKg: 0.8,
    cells: 4,
    chemistry: 'LiPo',
    capacityMah: 1500,
    motor: motor(2300, 0.075, 1, 3e-6, 14),
    compass: false,
    baro: false,
    fix: false,
    video: true,
    telemetry: false,
    bindSteps: 1,
  },
  K4: {
    massKg: 0.6,
    cells: 4,
    chemistry: 'LiPo',
    capacityMah: 2200,
    motor: motor(1400, 0.1, 0.8, 6e-6, 14),
    compass: false,
    baro: false,
    fix: false,
    video: false,
    telemetry: false,
    bindSteps: 1,
    analogue: true,
  },
  L4: {
    massKg: 1.15,
    cells: 4,
    chemistry: 'Li-ion',
    capacityMah: 4200,
    motor: motor(1500, 0.09, 0.9, 7e-6, 14),
    compass: true,
    baro: true,
    fix: true,
    video: true,
    telemetry: true,
    bindSteps: 1,
  },
  H6: {
    massKg: 5.3,
    cells: 6,
    chemistry: 'LiPo',
    capacityMah: 10000,
    motor: motor(700, 0.06, 0.9, 4e-5, 24),
    compass: true,
    baro: true,
    fix: true,
    video: false,
    telemetry: false,
    bindSteps: 2,
    fliesHome: true,
  },
  Y6: {
    massKg: 6.2,
    cells: 6,
    chemistry: 'LiPo',
    capacityMah: 12000,
    motor: motor(650, 0.06, 0.9, 5e-5, 24),
    compass: true,
    baro: true,
    fix: true,
    video: false,
    telemetry: false,
    bindSteps: 2,
  },
}
export const typeFacts = (type: string): TypeFacts => facts[type] ?? (facts.N4 as TypeFacts)

export const shopAt = (place: { lat: number; lon: number }, gravity: number, at: Date): Shop => ({
  gravity,
  field: fieldAt(place, at),
  plate: { roll: radians(0.4), pitch: radians(-0.3) },
  temperatureC: 20,
  outdoors: false,
})

/**
 * A sound airframe of a sheet's type with the ordinary spread of its parts (common practice for small sensors, motors and
 * packs), drawn by seed: every value that a check judges lies well within its limit.
 */
export const soundAirframe = (sheet: Pick<Sheet, 'type' | 'geometry'>, serial: string, seed: number, shop: Shop): Airframe => {
  const random = randomFrom(seed)
  const type = typeFacts(sheet.type)
  const { geometry } = sheet
  const positions = positionsOf(geometry)
  const three = (deviation: number): Vec3 => [random.spread(deviation), random.spread(deviation), random.spread(deviation)]
  const deg = radians(1)
  return {
    type: sheet.type,
    geometry,
    positions,
    frame: {
      massKg: type.massKg * (1 + random.spread(0.01)),
      inertia: inertiaOf(geometry, type.massKg),
      drag: 0.12 * type.massKg,
      legDownM: 0.05,
      props: positions.map(() => 'none'),
      propSet: positions.map(() => 'right'),
      nutsOn: false,
    },
    board: {
      serial,
      target: 'TIDEBOARD-4',
      mounting: { roll: 0, pitch: 0, yaw: 0 },
      seating: { roll: random.spread(0.05 * deg), pitch: random.spread(0.05 * deg), yaw: random.spread(0.3 * deg) },
      chip: { roll: 0, pitch: 0, yaw: 0 },
      screws: 'tight',
      looseShake: [0, 0, 0],
      extraLoad: Math.abs(random.spread(0.01)),
      extraJitter: Math.abs(random.spread(0.002)),
      sockets: socketsOf(type),
      logBytes: 16e6,
      firmware: { name: 'shoreline', version: '3.2.0', features: ['position', 'compass', 'video', 'gimbal'] },
    },
    imu: {
      gyroBias: three(0.03 * deg),
      gyroNoise: [0.07 * deg, 0.07 * deg, 0.08 * deg],
      gyroDrift: three(0.0015 * deg),
      gyroScale: [1 + random.spread(0.002), 1 + random.spread(0.002), 1 + random.spread(0.002)],
      accelBias: three(0.005),
      accelScale: [1 + random.spread(0.001), 1 + random.spread(0.001), 1 + random.spread(0.001)],
      accelCross: random.spread(0.0003),
      accelNoise: 0.03,
      accelDrift: three(0.0002),
      dead: false,
    },
    compass: {
      fitted: type.compass,
      dead: false,
      address: 0,
      hardIron: three(0.3),
      softIron: softIronOf(random),
      noise: 0.25,
      perAmp: three(0.02),
    },
    baro: { fitted: type.baro, dead: false, address: 0, noiseM: 0.09, driftMPerMin: random.spread(0.03) },
    fix: {
      fitted: type.fix,
      dead: false,
      secondsToFix: 40 + 8 * Math.abs(random.normal()),
      satellites: 13 + random.below(4),
      dilution: 0.9,
      antenna: [0.02, 0, -0.06],
    },
    drives: drivesOf(positions.length, (i) => soundDrive(i, positions[i]?.turn ?? 'clockwise', type, random), geometry),
    transmitter: soundTransmitter(random),
    receiver: {
      kind: 2,
      firmware: '2.1',
      boundTo: 7,
      bindSteps: type.bindSteps,
      frameMs: 9,
      atLoss: 'silent',
      preset: Array.from({ length: 16 }, (_, i) => (i === 2 ? 1200 : 1500)),
      jitterUs: 0.4,
      dropOuts: 0,
      quality: 0.98,
      strengthChannel: 12,
      antenna: true,
      lead: true,
      telemetry: true,
    },
    power: {
      pack: { cells: type.cells, chemistry: type.chemistry, capacityMah: type.capacityMah, cellResistance: 0.004, charge: 0.95 },
      trueVoltRatio: 11 * (1 + random.spread(0.002)),
      trueMvPerAmp: 25 * (1 + random.spread(0.01)),
      trueAmpOffset: random.spread(0.01),
      restAmps: 0.32 + random.spread(0.01),
      extraRestAmps: 0,
      short: false,
      railVolts: 5.05 + random.spread(0.02),
      railSagWarm: 0.02,
      receiverOnCable: true,
      receiverOnBattery: true,
      videoHeat: type.video ? 0.35 : 0,
    },
    fitOut: {
      camera: 'upright',
      videoFitted: type.video,
      videoChannel: 1,
      videoAntenna: true,
      lights: { front: 'white', rear: 'red', work: true },
      sounder: true,
      gimbalRangeDeg: 80,
      payload: 'works',
      pastBoard: [],
      versions: { ...newestVersions },
    },
    shop,
  }
}

/** The newest version of each part beside the board that has firmware. */
export const newestVersions: Readonly<Record<string, string>> = {
  receiver: '2.4',
  'video transmitter': '1.7',
  'position receiver': '5.1',
  gimbal: '1.2',
}

const homeInTheMiddle: Settings = {
  'switch.selfLevel.high': 1250,
  'switch.returnHome.channel': 6,
  'switch.returnHome.low': 1350,
  'switch.returnHome.high': 1650,
}

/** The settings with which a sound airframe of a sheet comes to the bench: the sheet's, and its own calibration. */
export const soundSettings = (sheet: Pick<Sheet, 'type' | 'geometry' | 'settings'>): Settings => {
  const type = typeFacts(sheet.type)
  const outputs = Object.fromEntries(
    positionsOf(sheet.geometry).map(({ output }, i) => [`output.${output}.position`, i + 1] as const),
  )
  return {
    ...outputs,
    'accel.biasX': 0.001,
    'esc.poles': type.motor.poles,
    'power.cells': type.cells,
    'power.capacity': type.capacityMah,
    'power.ampDivides': 1,
    'power.ampScale': 0.025,
    'compass.use': type.compass ? 1 : 0,
    'baro.use': type.baro ? 1 : 0,
    'position.use': type.fix ? 1 : 0,
    'video.use': type.video ? 1 : 0,
    'lights.use': 1,
    'socket.1.use': 1,
    ...(type.fix ? { 'socket.2.use': 2 } : {}),
    ...(type.video ? { 'socket.3.use': 4 } : {}),
    'radio.strengthChannel': 12,
    'switch.arm.channel': 5,
    'switch.selfLevel.channel': 6,
    'switch.selfLevel.low': 900,
    'switch.selfLevel.high': 1650,
    'switch.rate.channel': 6,
    'switch.sounder.channel': 7,
    'switch.failsafe.channel': 8,
    ...(type.fliesHome === true ? homeInTheMiddle : {}),
    ...sheet.settings,
  }
}

export const soundMotor = (type: TypeFacts): MotorBuild => ({ ...type.motor })

/** As it comes from its maker: an analogue one goes by its own range until it is taught another. */
export const soundEsc = ({ analogue = false }: { readonly analogue?: boolean } = {}): EscBuild => {
  const settings = {
    reverse: 0,
    timingDeg: 16,
    switchingKHz: 24,
    startPower: 0.5,
    brake: 0,
    cutCellV: 0,
    lockedRotorS: 2,
    heatLimitC: 110,
    ampLimit: 60,
  }
  return {
    plug: 'home',
    firmware: '16.9',
    understands: ['PWM', 'OneShot125', 'MultiShot', ...(analogue ? [] : (['DShot150', 'DShot300', 'DShot600'] as const))],
    range: { low: 0.06, high: 0.94 },
    learns: true,
    settings,
    saved: { ...settings },
    keepsSettings: true,
    repliesAtAll: !analogue,
    replyErrors: 0.0005,
    startAt: 0.045,
    hotter: 1,
  }
}

const soundDrive = (position: number, turn: 'clockwise' | 'anticlockwise', type: TypeFacts, random: Random): DriveBuild => ({
  position,
  motor: {
    ...type.motor,
    kv: type.motor.kv * (1 + random.spread(0.006)),
    resistance: type.motor.resistance * (1 + random.spread(0.004)),
    imbalance: type.motor.imbalance * (0.6 + 0.8 * random.uniform()),
  },
  esc: { ...soundEsc(type), startAt: 0.045 + random.spread(0.002) },
  leadsSwapped: false,
  drawnTurn: turn,
})

/** By output, as the sheet's geometry says which position each one drives. */
const drivesOf = (count: number, make: (position: number) => DriveBuild, geometry: Geometry): (DriveBuild | null)[] => {
  const drives: (DriveBuild | null)[] = Array.from({ length: 12 }, () => null)
  positionsOf(geometry).forEach(({ output }, i) => {
    if (i < count) drives[output - 1] = make(i)
  })
  return drives
}

/** Booms as rods from the middle with a motor at the end, the body as a block: common textbook formulas. */
const inertiaOf = ({ booms, body }: Geometry, massKg: number): Vec3 => {
  const motors = booms.flatMap((b) => b.motors.map(() => b))
  const each = (0.45 * massKg) / motors.length
  const block = 0.55 * massKg
  const sum = (of: (b: (typeof motors)[number]) => number) => motors.reduce((total, b) => total + each * of(b), 0)
  const height = 0.05
  return [
    (block * (body.widthM ** 2 + height ** 2)) / 12 + sum((b) => (b.radiusM * Math.sin(radians(b.bearingDeg))) ** 2),
    (block * (body.lengthM ** 2 + height ** 2)) / 12 + sum((b) => (b.radiusM * Math.cos(radians(b.bearingDeg))) ** 2),
    (block * (body.lengthM ** 2 + body.widthM ** 2)) / 12 + sum((b) => b.radiusM ** 2),
  ]
}

const softIronOf = (random: Random): Airframe['compass']['softIron'] => {
  const [a, b, c] = [random.spread(0.002), random.spread(0.002), random.spread(0.002)]
  return [
    [1 + random.spread(0.004), a, b],
    [a, 1 + random.spread(0.004), c],
    [b, c, 1 + random.spread(0.004)],
  ]
}

const socketsOf = (type: TypeFacts): Airframe['board']['sockets'] =>
  (
    ['receiver', type.fix ? 'position' : 'nothing', type.video ? 'video' : 'nothing', 'nothing', 'nothing', 'nothing'] as const
  ).map((plugged) => ({ plugged, plug: 'home' as const }))

const soundTransmitter = (random: Random): TransmitterBuild => {
  const plain = { trimUs: 0, subTrimUs: 0, travelLow: 90, travelHigh: 90, inverted: false, mix: null }
  const reach = () => ({ low: 1 + random.spread(0.001), high: 1 + random.spread(0.001), rest: random.spread(0.0008) })
  return {
    modelId: 7,
    channels: [
      { ...plain, source: { stick: 'roll' } },
      { ...plain, source: { stick: 'pitch' } },
      { ...plain, source: { stick: 'throttle' } },
      { ...plain, source: { stick: 'yaw' } },
      ...['A', 'B', 'C', 'D'].map((name) => ({ ...plain, source: { switch: name } })),
      ...Array.from({ length: 8 }, () => ({ ...plain, source: null })),
    ],
    switches: [
      { name: 'A', positions: 2, at: 0 },
      { name: 'B', positions: 3, at: 0 },
      { name: 'C', positions: 2, at: 0 },
      { name: 'D', positions: 2, at: 0 },
    ],
    badContact: null,
    stickReach: { roll: reach(), pitch: reach(), throttle: reach(), yaw: reach() },
    lossPreset: null,
    powerMw: 100,
    mostTravel: 125,
  }
}
