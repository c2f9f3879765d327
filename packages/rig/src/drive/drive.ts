import type { Random } from '../random'
import { bareShaft, stepSpeed, torqueConstant, windingAmps, type Load, type MotorBuild } from './motor'
import { digitalShare, isDigital, signalTable, type SignalName } from './signal'

/** One ESC with its motor, as wired: at which motor position it really sits, and which way it really turns. */
export interface DriveBuild {
  /** Index of the motor position (not of the output). */
  position: number
  motor: MotorBuild
  esc: EscBuild
  /** Two of the three leads exchanged against the drawing. */
  leadsSwapped: boolean
  /** The turn with the leads as drawn and the ESC's own reversing off. */
  drawnTurn: 'clockwise' | 'anticlockwise'
}

export interface EscBuild {
  /** `silent`: nothing arrives (a bent pin, an unplugged lead). */
  plug: 'home' | 'silent'
  firmware: string
  understands: SignalName[]
  /** The pulse it was taught, as shares of its signal type's range. */
  range: { low: number; high: number }
  /** False: it goes by its range whatever it is taught. */
  learns: boolean
  settings: EscSettings
  /** The settings that were saved: others are lost when the battery is off. */
  saved: EscSettings
  keepsSettings: boolean
  repliesAtAll: boolean
  replyErrors: number
  startAt: number
  hotter: number
}
export interface EscSettings {
  reverse: number
  timingDeg: number
  switchingKHz: number
  startPower: number
  brake: number
  cutCellV: number
  lockedRotorS: number
  heatLimitC: number
  ampLimit: number
}
export const escSettingRanges: Readonly<Record<keyof EscSettings, readonly [number, number, string]>> = {
  reverse: [0, 1, ''],
  timingDeg: [0, 30, 'deg'],
  switchingKHz: [8, 96, 'kHz'],
  startPower: [0, 1, ''],
  brake: [0, 1, ''],
  cutCellV: [0, 4, 'V'],
  lockedRotorS: [0, 10, 's'],
  heatLimitC: [0, 150, 'C'],
  ampLimit: [0, 120, 'A'],
}

const ambientC = 20
const heatCapacity = 18 // J/K of a small motor
const coolStill = 0.12 // W/K without a prop's wind
const coolWind = 0.5
const roughAtRad = 400
const deadBelow = 0.02
/** A rotor that is driven and slower than this, rad/s, is locked. */
const lockedBelow = 1

/** What is told to a drive for one step: a share of full command, on which signal, and the volts at its terminals. */
export interface Told {
  readonly command: number
  readonly signal: SignalName
  readonly volts: number
}

/** A running drive: its speed, heat and current, stepped from what is told to it. */
export class Drive {
  speed = 0
  phase = 0
  heatC = ambientC
  amps = 0
  /** Why it stands although it is told to turn. */
  fault: 'none' | 'no signal' | 'not understood' | 'locked' | 'stutter' = 'none'
  private lockedS = 0
  private teach: 'no' | 'high' | 'done' = 'no'

  constructor(readonly build: DriveBuild) {}

  get turn(): 'clockwise' | 'anticlockwise' {
    const flipped = this.build.leadsSwapped !== (this.build.esc.settings.reverse === 1)
    return (this.build.drawnTurn === 'clockwise') !== flipped ? 'clockwise' : 'anticlockwise'
  }

  get rpm(): number {
    return (this.speed * 60) / (2 * Math.PI)
  }

  /** Battery on: unsaved settings are gone, and an analogue signal that is high now starts teaching. */
  powerUp({ command, signal }: Pick<Told, 'command' | 'signal'>): void {
    const { esc } = this.build
    if (!esc.keepsSettings) esc.settings = { ...esc.saved }
    this.teach = !isDigital(signal) && command > 0.9 && this.hears(signal) ? 'high' : 'no'
    this.lockedS = 0
  }

  get teaching(): boolean {
    return this.teach === 'high'
  }

  powerDown(): void {
    this.teach = 'no'
  }

  /** Whether what is on the wire is a signal to it. */
  hears(signal: SignalName): boolean {
    const { esc } = this.build
    return esc.plug === 'home' && esc.understands.includes(signal)
  }

  step({ command, signal, volts }: Told, prop: Load | null, dtS: number): void {
    const { motor, esc } = this.build
    const load = prop ?? bareShaft
    const share = volts < 3 ? 0 : this.shareOf(command, signal)
    const driven = share > 0
    const applied = driven ? share * volts : esc.settings.brake === 1 ? 0 : null
    const before = this.speed
    if (driven || before > 0) this.speed = stepSpeed(motor, load, before, volts < 3 ? null : applied, dtS)
    this.phase = (this.phase + ((this.speed + before) / 2) * dtS) % (2 * Math.PI)
    // The battery feels the windings' current times the share of time that they are connected.
    const winding = driven ? Math.max(0, windingAmps(motor, this.speed, share * volts)) : 0
    this.amps = Math.min(winding, esc.settings.ampLimit || Infinity) * share
    // What the no-load current works against is lost in iron and bearings.
    const idling = torqueConstant(motor) * motor.noLoadAmps * this.speed
    const lost = winding * winding * motor.resistance * esc.hotter + idling + motor.rub * this.speed
    this.heatC += ((lost - (this.heatC - ambientC) * (prop === null ? coolStill : coolWind)) / heatCapacity) * dtS
    this.lockedS = driven && this.speed < lockedBelow ? this.lockedS + dtS : driven ? 0 : this.lockedS
  }

  /** As warm as the room. */
  cool(): void {
    this.heatC = ambientC
  }

  /** Coasts and cools for a time in which nothing is told. */
  rest(seconds: number): void {
    this.heatC = ambientC + (this.heatC - ambientC) * Math.exp((-coolStill / heatCapacity) * seconds)
    this.amps = 0
    this.free()
  }

  /** Told zero: a rotor that was locked may be driven again. */
  free(): void {
    this.lockedS = 0
  }

  /** What share of the replies to a board that asks for them is bad; null where it cannot reply. */
  replyErrors(signal: SignalName): number | null {
    return this.build.esc.repliesAtAll && isDigital(signal) && this.hears(signal) ? this.build.esc.replyErrors : null
  }

  /** Amplitude of the force that its imbalance turns with, N. */
  get shake(): number {
    return this.build.motor.imbalance * this.speed * this.speed
  }

  /** A grating bearing: force of no one frequency, N rms. */
  roughness(random: Random): number {
    const { roughness } = this.build.motor
    return roughness === 0 || this.speed === 0 ? 0 : roughness * Math.min(1, this.speed / roughAtRad) * 2.5 * random.normal()
  }

  /** The share of full voltage for a command: zero below what starts it. */
  private shareOf(command: number, signal: SignalName): number {
    const { esc } = this.build
    this.fault = 'none'
    if (esc.plug === 'silent') return this.silent('no signal')
    if (!esc.understands.includes(signal)) return this.silent('not understood')
    if (this.teach === 'high') return this.taught(command, signal)
    const share = isDigital(signal)
      ? digitalShare(command)
      : Math.max(0, Math.min(1, (command - esc.range.low) / (esc.range.high - esc.range.low)))
    if (share <= deadBelow) {
      this.free()
      return 0
    }
    if (share < esc.startAt * (this.speed > 20 ? 0.8 : 1)) return this.silent('stutter')
    if (esc.settings.lockedRotorS > 0 && this.lockedS > esc.settings.lockedRotorS) return this.silent('locked')
    return share
  }

  private silent(why: Drive['fault']): number {
    this.fault = why
    return 0
  }

  /** Teaching: the pulse at power-up is the new high end, the first low one after it the new low end. It never turns meanwhile. */
  private taught(command: number, signal: SignalName): number {
    const { esc } = this.build
    const timing = signalTable[signal]
    if ('lowUs' in timing && command < 0.1) {
      if (esc.learns) esc.range = { low: Math.max(0, command), high: 1 }
      this.teach = 'done'
    }
    return 0
  }
}
