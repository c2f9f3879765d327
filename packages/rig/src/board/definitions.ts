import { socketUses } from '@taraf/contract'

/** A number that the simulated board can be told. With `choices`, its value counts them from zero. */
export interface Definition {
  readonly name: string
  readonly unit: string
  readonly min: number
  readonly max: number
  readonly factory: number
  readonly choices?: readonly string[]
}

const number = (name: string, unit: string, min: number, max: number, factory: number): Definition => ({
  name,
  unit,
  min,
  max,
  factory,
})
const choice = (name: string, choices: readonly string[], factory = 0): Definition => ({
  name,
  unit: '',
  min: 0,
  max: choices.length - 1,
  factory,
  choices,
})
const onOff = (name: string, factory = 0): Definition => choice(name, ['off', 'on'], factory)
const each = <T>(names: readonly T[], make: (name: T, i: number) => Definition[]): Definition[] => names.flatMap(make)

export const controls = ['roll', 'pitch', 'throttle', 'yaw'] as const
export type Control = (typeof controls)[number]

/** What a switch can ask of the board (the switch plan's functions). */
export const functions = [
  'arm',
  'selfLevel',
  'blend',
  'rate',
  'zeroControl',
  'altitude',
  'position',
  'heading',
  'returnHome',
  'failsafe',
  'sounder',
  'selfRight',
  'log',
  'gimbal',
  'lights',
  'payload',
] as const
export type SwitchFunction = (typeof functions)[number]

export const signals = ['PWM', 'OneShot125', 'MultiShot', 'DShot150', 'DShot300', 'DShot600', 'DShot1200'] as const
export const receiverKinds = ['a wire a channel', 'one wire', 'serial'] as const
export const socketNumbers = [1, 2, 3, 4, 5, 6] as const
export const lossActs = ['cut', 'descend', 'return home'] as const
export const outputs = Array.from({ length: 12 }, (_, i) => i + 1)
const axes = ['X', 'Y', 'Z'] as const

/** Every setting of the simulated board, by group. Gates and bands are inclusive. */
export const definitions: readonly Definition[] = [
  ...each(axes, (a) => [number(`gyro.bias${a}`, 'deg/s', -20, 20, 0)]),
  ...each(axes, (a) => [number(`accel.bias${a}`, 'm/s2', -3, 3, 0), number(`accel.scale${a}`, '', 0.8, 1.2, 1)]),
  ...each(['board', 'chip'] as const, (g) => [
    number(`${g}.roll`, 'deg', -180, 180, 0),
    number(`${g}.pitch`, 'deg', -90, 90, 0),
    number(`${g}.yaw`, 'deg', -180, 180, 0),
  ]),
  number('level.roll', 'deg', -15, 15, 0),
  number('level.pitch', 'deg', -15, 15, 0),
  onOff('compass.use'),
  ...each(axes, (a) => [number(`compass.hard${a}`, 'uT', -200, 200, 0)]),
  ...each(['XX', 'YY', 'ZZ', 'XY', 'XZ', 'YZ'], (a, i) => [number(`compass.soft${a}`, '', -2, 2, i < 3 ? 1 : 0)]),
  onOff('baro.use', 1),
  onOff('position.use'),
  ...each(axes, (a) => [number(`position.antenna${a}`, 'm', -2, 2, 0)]),
  ...each(['compass', 'baro'], (sensor) => [choice(`${sensor}.bus`, ['first address', 'second address'])]),
  choice('loop.rate', ['1 kHz', '2 kHz', '4 kHz', '8 kHz'], 2),

  choice('radio.kind', receiverKinds, 2),
  ...each(controls, (c, i) => [number(`radio.${c}.channel`, '', 1, 16, i + 1), onOff(`radio.${c}.reverse`)]),
  number('radio.lowGate', 'us', 900, 1200, 1060),
  number('radio.highGate', 'us', 1800, 2100, 1940),
  number('radio.deadband', 'us', 0, 40, 4),
  number('radio.strengthChannel', '', 0, 16, 0),
  onOff('telemetry.use'),

  choice('arm.way', ['switch', 'sticks']),
  number('arm.throttleMost', 'us', 900, 1300, 1060),
  number('arm.tiltMost', 'deg', 5, 180, 25),
  onOff('arm.offFirst', 1),
  onOff('arm.wantsCalibration', 1),
  onOff('arm.wantsFix'),
  number('arm.idleOff', 's', 0, 120, 10),
  onOff('arm.sticksDisarm', 1),
  ...each(functions, (f) => [
    number(`switch.${f}.channel`, '', 0, 16, 0),
    number(`switch.${f}.low`, 'us', 900, 2100, 1700),
    number(`switch.${f}.high`, 'us', 900, 2100, 2100),
    number(`switch.${f}.withChannel`, '', 0, 16, 0),
    number(`switch.${f}.withLow`, 'us', 900, 2100, 1700),
    number(`switch.${f}.withHigh`, 'us', 900, 2100, 2100),
  ]),
  ...each(['calibrate', 'trim', 'profile'], (g) => [onOff(`gesture.${g}`)]),

  ...each(['roll', 'pitch', 'yaw'], (c) => [
    number(`curve.${c}.rate`, 'deg/s', 50, 1500, 400),
    number(`curve.${c}.soft`, '', 0, 1, 0.3),
    number(`gain.${c}.p`, '', 0, 2, c === 'yaw' ? 0.12 : 0.06),
    number(`gain.${c}.i`, '', 0, 4, 0.15),
    number(`gain.${c}.d`, '', 0, 0.1, c === 'yaw' ? 0 : 0.0008),
  ]),
  number('gain.level', '1/s', 0, 20, 6),
  number('level.most', 'deg', 10, 80, 45),
  number('filter.gyro', 'Hz', 20, 1000, 120),

  onOff('motors.turnWhenArmed', 1),
  number('motors.idle', '', 0, 0.3, 0.06),
  number('motors.most', '', 0.2, 1, 1),
  onOff('motors.mirrored'),
  ...each(outputs, (o) => [number(`output.${o}.position`, '', 0, 12, 0)]),
  choice('esc.signal', signals, 4),
  onOff('esc.replies', 1),
  number('esc.poles', '', 2, 40, 14),

  onOff('power.voltDivides'),
  number('power.voltScale', '', 0.001, 1000, 11),
  onOff('power.ampDivides'),
  number('power.ampScale', '', 0.001, 1000, 40),
  number('power.ampOffset', 'A', -10, 10, 0),
  number('power.cells', '', 0, 14, 0),
  number('power.warnCell', 'V', 2.5, 4.4, 3.5),
  number('power.lowCell', 'V', 2.5, 4.4, 3.3),
  number('power.armCell', 'V', 0, 4.4, 3.4),
  number('power.capacity', 'mAh', 0, 60000, 0),

  number('loss.notice', 'ms', 50, 3000, 300),
  number('loss.wait', 'ms', 0, 10000, 700),
  choice('loss.hold', ['last sticks', 'sticks centred'], 1),
  choice('loss.act', lossActs, 1),
  number('loss.throttle', '', 0, 1, 0.35),
  onOff('loss.levels', 1),
  number('loss.end', 's', 1, 120, 8),
  number('loss.back', 'ms', 50, 3000, 400),
  onOff('loss.throttleCuts', 0),
  number('home.height', 'm', 2, 400, 30),
  number('bound.height', 'm', 0, 1000, 0),
  number('bound.distance', 'm', 0, 20000, 0),
  number('rotor.hover', '', 0.05, 0.9, 0.39),

  ...each(socketNumbers, (s) => [choice(`socket.${s}.use`, socketUses)]),
  onOff('video.use'),
  number('video.channel', '', 1, 40, 1),
  number('video.power', 'mW', 0, 2000, 25),
  ...each(['quality', 'volts', 'timer', 'tag', 'mode', 'height'], (i) => [onOff(`overlay.${i}`)]),
  onOff('lights.use'),
  onOff('sounder.use', 1),
  number('gimbal.refresh', 'Hz', 50, 400, 50),
  onOff('log.use', 1),
]

const byName = new Map(definitions.map((d) => [d.name, d]))

/** The definition of a setting. Throws for a name that no board has: a bug, never input. */
export const definitionOf = (name: string): Definition => {
  const found = byName.get(name)
  if (found === undefined) throw new Error(`no setting ${name}`)
  return found
}
export const isSetting = (name: string): boolean => byName.has(name)
