import { socketUses, type Sheet } from '@taraf/contract'
import {
  angleOf,
  apply,
  corrected,
  correctionIn,
  degrees,
  fromAngles,
  fromDegrees,
  inverse,
  isOwn,
  length,
  limitFor,
  median,
  multiply,
  tiltOf,
  worthOf,
  type Vec3,
} from '@taraf/core'
import { valuesOf } from '@taraf/core/atLink'
import { Drive, askedFunctions, bandsOf, faultById, type DriveBuild, type Rig } from '@taraf/rig'

/** What the campaign knows and its technician does not: the faults that are still in, and how near to a limit the truth lies. */
export const stillIn = (rig: Rig, ids: readonly string[]): string[] => ids.filter((id) => faultById(id)?.isIn(rig) === true)

/** Deviations of what the checks measure, from the noise of a sound sensor and the rows of a take. */
const deviation = {
  bias: 0.08 / Math.sqrt(1000),
  noise: 0.08 / Math.sqrt(2000),
  lean: 0.02,
  // The plate that the first pose is on is not level, and the fit cannot tell that from the seat.
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

const sides: readonly Vec3[] = [
  [0, 0, -1],
  [0, 0, 1],
  [1, 0, 0],
  [-1, 0, 0],
  [0, 1, 0],
  [0, -1, 0],
]
const corners: readonly Vec3[] = [-1, 1].flatMap((x) => [-1, 1].flatMap((y) => [-1, 1].map((z): Vec3 => [x, y, z])))

/** What a take cannot tell from its limit: noise, warming, and how far a hand holds askew. */
const allowance = { bias: 0.06, lean: 0.1, turn: 1.2, accel: 0.04, compass: 0.015 } as const

/**
 * What is not true of an airframe that the stations built so far have passed, whatever its faults were: told by what it truly is and what its board is
 * told, and never by what a take found.
 */
export const untrue = ({ airframe, board, transmitter }: Rig, sheet: Sheet): string[] => {
  const { sensors, settings, loader } = board
  const { shop, compass } = airframe
  const told = valuesOf(settings.list())
  const set = (name: string) => told[name] ?? 0
  const at = (up: Vec3) => sensors.calibrated(sensors.quiet({ force: scaled(up, shop.gravity), rate: [0, 0, 0] }))
  const rest = at([0, 0, -1])
  const lean = tiltOf(sensors.inBody(rest).force)
  const truly = multiply(fromAngles(airframe.board.mounting), fromAngles(airframe.board.chip))
  const turned = (group: string) =>
    fromDegrees({ roll: set(`${group}.roll`), pitch: set(`${group}.pitch`), yaw: set(`${group}.yaw`) })
  const toldTurn = multiply(turned('board'), turned('chip'))
  const found: [string, boolean][] = [
    ['gyro', rest.rate.some((r) => Math.abs(degrees(r)) > limitFor(sheet, 'gyroRest.bias').max + allowance.bias)],
    ['level', [lean.roll, lean.pitch].some((a) => Math.abs(degrees(a)) > limitFor(sheet, 'level.offset').max + allowance.lean)],
    ['mounting', degrees(angleOf(multiply(toldTurn, inverse(truly)))) > allowance.turn],
    [
      'accelerometer',
      sheet.asks?.includes('sensors.sixPoses') === true &&
        sides.some(
          (up) => Math.abs(length(at(up).force) - shop.gravity) > limitFor(sheet, 'sixPoses.inForce').max + allowance.accel,
        ),
    ],
    [
      'compass',
      sheet.fitted?.includes('compass') === true &&
        compassOff(told, compass) > limitFor(sheet, 'compass.residual').max + allowance.compass,
    ],
    [
      'settings',
      Object.entries(sheet.settings).some(
        ([name, value]) => !isOwn(name) && Math.abs(set(name) - value) > 1e-6 * Math.max(1, Math.abs(value)),
      ),
    ],
    [
      'sockets',
      sheet.board !== undefined &&
        airframe.board.sockets.some(
          (_, i) =>
            set(`socket.${i + 1}.use`) !==
            socketUses.indexOf(sheet.board?.sockets.find((s) => s.socket === i + 1)?.use ?? 'free'),
        ),
    ],
    ['unsaved settings', settings.list().some((s) => s.value !== s.saved)],
    [
      'firmware',
      loader.loading ||
        (sheet.board?.firmware !== undefined &&
          worthOf({ ...airframe.board.firmware, features: [...airframe.board.firmware.features] }, sheet.board.firmware).word !==
            'approved'),
    ],
  ]
  return [
    ...found,
    ...untrueOnAir({ airframe, board, transmitter }, sheet, set),
    ...untrueOfEscs(airframe, sheet, board.signal, set),
  ].flatMap(([name, isWrong]) => (isWrong ? [name] : []))
}

/** What is not true of the ESCs, by what each is and keeps. */
const untrueOfEscs = (
  airframe: Rig['airframe'],
  sheet: Sheet,
  signal: Rig['board']['signal'],
  set: (name: string) => number,
): [string, boolean][] => {
  const { escs } = sheet
  if (escs === undefined) return []
  const { drives } = airframe
  const fitted = drives.flatMap((drive) => (drive === null ? [] : [drive]))
  const wanted = Object.entries({ brake: 0, cutCellV: 0, ...escs.settings })
  return [
    ['plugs of the ESCs', fitted.some(({ esc }) => esc.plug !== 'home')],
    [
      'settings of the ESCs',
      fitted.some(({ esc }) => wanted.some(([name, value]) => (esc.saved as unknown as Record<string, number>)[name] !== value)),
    ],
    ['motor signal', fitted.some(({ esc }) => !esc.understands.includes(signal))],
    [
      'range of the ESCs',
      !signal.startsWith('DShot') &&
        fitted.some(({ esc: { range } }) => Math.abs(range.low) > 0.03 || Math.abs(range.high - 1) > 0.08),
    ],
    ['replies of the ESCs', fitted.some(({ esc }) => esc.replyErrors > limitOfReplies)],
    ...untrueOfMotors(airframe, sheet, set),
    ['pole count', fitted.some(({ motor }) => motor.poles !== set('esc.poles'))],
  ]
}
/** Which motor each output truly turns, and which way, against what the board and the sheet take for so. */
const untrueOfMotors = (
  { drives, positions, frame }: Rig['airframe'],
  sheet: Sheet,
  set: (name: string) => number,
): [string, boolean][] => {
  const fitted = drives.flatMap((drive, i) => (drive === null ? [] : [{ output: i + 1, drive }]))
  const mirrored = set('motors.mirrored') === 1
  return [
    ['output map', fitted.some(({ output, drive }) => set(`output.${output}.position`) !== drive.position + 1)],
    ...untrueOfRunning(
      fitted.map(({ drive }) => drive),
      sheet,
    ),
    ['props', sheet.rotor?.props !== undefined && !mirrored && frame.propSet.some((prop) => prop !== 'right')],
    ['turns', fitted.some(({ drive }) => (new Drive(drive).turn === positions[drive.position]?.turn) === mirrored)],
  ]
}

/** How each motor begins, turns, shakes and warms, by what it is; what a take cannot tell from its limit is allowed. */
const untrueOfRunning = (drives: readonly DriveBuild[], sheet: Sheet): [string, boolean][] => {
  const middle = (of: (drive: DriveBuild) => number) => median(drives.map(of))
  const kv = drives.map(({ motor }) => motor.kv)
  return [
    ['start of the motors', drives.some(({ esc }) => esc.startAt > limitFor(sheet, 'start.least').max + 0.005)],
    ['speeds of the motors', (Math.max(...kv) - Math.min(...kv)) / median(kv) > limitFor(sheet, 'start.speeds').max / 100 + 0.02],
    [
      'balance of the motors',
      drives.some(
        ({ motor }) => motor.imbalance > 1.3 * limitFor(sheet, 'smooth.beside').max * middle((one) => one.motor.imbalance),
      ),
    ],
    ['bearings of the motors', drives.some(({ motor }) => motor.roughness > 0.2)],
    ['heat of the motors', drives.some(({ motor }) => motor.noLoadAmps > 2.5 * middle((one) => one.motor.noLoadAmps))],
  ]
}

/** One in a hundred, and what chance adds in a second and a half. */
const limitOfReplies = 0.0115

const controls = ['roll', 'pitch', 'throttle', 'yaw'] as const
const centred = ['roll', 'pitch', 'yaw'] as const

/** What is not true of the sticks, the switches and the link, by what the transmitter truly sends and the rig's board makes of it. */
const untrueOnAir = (
  { airframe, board, transmitter }: Pick<Rig, 'airframe' | 'board' | 'transmitter'>,
  sheet: Sheet,
  set: (name: string) => number,
): [string, boolean][] => {
  if (sheet.switches === undefined) return []
  const { receiver } = airframe
  const { sticks, build } = transmitter
  const before = { ...sticks }
  const atRest = { roll: 0, pitch: 0, yaw: 0, throttle: -1 }
  const sent = (held: Partial<typeof atRest>): number[] => {
    Object.assign(sticks, atRest, held)
    const channels = transmitter.channels()
    Object.assign(sticks, before)
    return channels
  }
  const taken = (channels: readonly number[], control: (typeof controls)[number]): number => {
    const us = channels[set(`radio.${control}.channel`) - 1] ?? 0
    return set(`radio.${control}.reverse`) === 1 ? 3000 - us : us
  }
  const gate = limitFor(sheet, 'radio.beyondGate')
  const slack = 1
  const ends = controls.some((control) => {
    const low = set('radio.lowGate') - taken(sent({ [control]: -1 }), control)
    const high = taken(sent({ [control]: 1 }), control) - set('radio.highGate')
    return [low, high].some((beyond) => beyond < gate.min - slack || beyond > gate.max + slack)
  })
  const alone = controls.some((control) =>
    controls.some((other) => other !== control && Math.abs(taken(sent({ [control]: 1 }), other) - taken(sent({}), other)) > 60),
  )
  const places = build.switches.map((one) => one.at)
  const asked = (at: readonly number[]): string => {
    build.switches.forEach((one, i) => void (one.at = at[i] ?? 0))
    const channels = transmitter.channels()
    build.switches.forEach((one, i) => void (one.at = places[i] ?? 0))
    const planned = (sheet.switchPlan ?? [])
      .filter((row) => [row, ...(row.with === undefined ? [] : [row.with])].every((b) => inBand(channels[b.channel - 1], b)))
      .map((row) => row.function)
    const onBoard = [...askedFunctions(bandsOf(board.settings), channels)]
    return planned.sort().join() === onBoard.sort().join() ? '' : 'differs'
  }
  return [
    ['controls', ends || alone],
    [
      'centres',
      centred.some((control) => Math.abs(taken(sent({}), control) - 1500) > limitFor(sheet, 'radio.centre').max + slack),
    ],
    ['switch plan', combinationsOf(build.switches.map((s) => s.positions)).some((at) => asked(at) !== '')],
    ['gestures', ['calibrate', 'trim', 'profile'].some((g) => set(`gesture.${g}`) !== (sheet.settings[`gesture.${g}`] ?? 0))],
    [
      'link',
      receiver.boundTo !== build.modelId ||
        !receiver.lead ||
        receiver.jitterUs > limitFor(sheet, 'radio.noise').max * 1.1 ||
        receiver.dropOuts > 0.02 ||
        receiver.quality < 0.78 ||
        set('radio.strengthChannel') !== receiver.strengthChannel,
    ],
  ]
}
const inBand = (us: number | undefined, { from, to }: { from: number; to: number }): boolean =>
  us !== undefined && Math.round(us) >= from && Math.round(us) <= to
const combinationsOf = (counts: readonly number[]): number[][] =>
  counts.reduce<number[][]>((all, count) => all.flatMap((at) => Array.from({ length: count }, (_, p) => [...at, p])), [[]])

const scaled = (v: Vec3, by: number): Vec3 => [v[0] * by, v[1] * by, v[2] * by]

/** How far the corrected field lies from the true one, as a share of it, over all corners. */
const compassOff = (told: Parameters<typeof correctionIn>[0], { softIron, hardIron }: Rig['airframe']['compass']): number => {
  const correction = correctionIn(told)
  const field = 50
  const read = corners.map((c) => {
    const b = scaled(c, field / length(c))
    const soft = apply(softIron, b)
    return { b, says: corrected(correction, [soft[0] + hardIron[0], soft[1] + hardIron[1], soft[2] + hardIron[2]]) }
  })
  const size = read.reduce((sum, { says }) => sum + length(says), 0) / read.length
  const squares = read.reduce(
    (sum, { b, says }) =>
      sum + length([says[0] / size - b[0] / field, says[1] / size - b[1] / field, says[2] / size - b[2] / field]) ** 2,
    0,
  )
  return Math.sqrt(squares / read.length)
}
