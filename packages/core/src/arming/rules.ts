import type { Settings, SheetPart, TransmitterSetting } from '@taraf/contract'
import { limitFor } from '../limits'
import { controlChannels } from '../radio/sticks'

/** Common practice, where a sheet does not say. */
const usual = { throttleUs: 1060, tiltDeg: 25, cellVolts: 3.4, idleOffS: 10, idle: 0.06 } as const

/** What a sheet wants of arming: its own settings where it names them, else common practice. */
export interface ArmingRules {
  /** Armed by a switch; else by the sticks in a corner. */
  readonly bySwitch: boolean
  readonly throttleUs: number
  readonly tiltDeg: number
  readonly cellVolts: number
  readonly wantsCalibration: boolean
  readonly wantsFix: boolean
  readonly sticksDisarm: boolean
  /** Armed with throttle down it disarms by itself after so long, s; zero where it does not. */
  readonly idleOffS: number
  /** Motors turn when it is armed with throttle down. */
  readonly turns: boolean
  /** What turns every sound motor steadily, and no faster, 0..1. */
  readonly idle: number
}

export const rulesOf = ({ settings = {} }: SheetPart): ArmingRules => ({
  bySwitch: (settings['arm.way'] ?? 0) === 0,
  throttleUs: settings['arm.throttleMost'] ?? usual.throttleUs,
  tiltDeg: settings['arm.tiltMost'] ?? usual.tiltDeg,
  cellVolts: settings['power.armCell'] ?? usual.cellVolts,
  wantsCalibration: (settings['arm.wantsCalibration'] ?? 1) === 1,
  wantsFix: settings['arm.wantsFix'] === 1,
  sticksDisarm: (settings['arm.sticksDisarm'] ?? 1) === 1,
  idleOffS: settings['arm.idleOff'] ?? usual.idleOffS,
  turns: (settings['motors.turnWhenArmed'] ?? 1) === 1,
  idle: settings['motors.idle'] ?? usual.idle,
})

/** Further over than this no hand holds it and puts a switch on, deg: a sheet that lets it arm there lets it arm at any tilt. */
const mostTiltTried = 60
export const armsAtAnyTilt = (sheet: SheetPart): boolean => rulesOf(sheet).tiltDeg > mostTiltTried

/** Props and nuts off, everything on, as it is armed on the bench. */
export const ready = { battery: true, props: 'off', transmitter: true } as const

/** How it is armed and disarmed, in words. */
export const armWords = ({ bySwitch }: ArmingRules) =>
  bySwitch
    ? { on: 'put the arm switch on', off: 'Arm switch off' }
    : { on: 'hold the stick of yaw to the right with throttle down for a second', off: 'Sticks let go' }

/** The bands of the switch of a function as the board has them: a channel is in where it lies within. */
export const bandsOf = (name: string, settings: Settings = {}): { channel: number; low: number; high: number }[] =>
  (['', 'with'] as const).flatMap((prefix) => {
    const get = (part: string) =>
      settings[`switch.${name}.${prefix === '' ? part : `with${part.charAt(0).toUpperCase()}${part.slice(1)}`}`] ?? 0
    return get('channel') === 0 ? [] : [{ channel: get('channel'), low: get('low'), high: get('high') }]
  })

/** Whether what is set on a transmitter is of a channel that arms or disarms it: throttle, yaw where the sticks do, and the arm switch. */
export const isOfArming =
  (bySticksToo: boolean) =>
  ({ channel }: Pick<TransmitterSetting, 'channel'>, sheet: SheetPart): boolean => {
    const [throttle, , , yaw] = controlChannels(sheet)
    if (channel === throttle) return true
    if (channel === yaw) return bySticksToo || !rulesOf(sheet).bySwitch
    const rows = sheet.switchPlan?.filter((row) => row.function === 'arm')
    return rows?.some((row) => row.channel === channel || row.with?.channel === channel) ?? false
  }

/** The most that a limit allows, where the sheet does not name the setting itself. */
export const mostOf = (
  sheet: SheetPart,
  setting: string,
  limit: 'arming.throttleGate' | 'arming.tiltGate',
  tolerance: number,
): number => {
  const own = sheet.settings?.[setting]
  return own === undefined ? (limitFor(sheet, limit).max ?? Infinity) : own + tolerance
}
