import { isDigital } from '../drive/signal'
import type { BoardIdentity, BoardState, Settings } from '@taraf/contract'
import { mixerOf } from '@taraf/core/geometry'
import { degrees, type Angles, type Vec3 } from '@taraf/core/rotation'
import type { Airframe } from '../airframe'
import { Arming, type RefusalReason } from '../control/arming'
import { Failsafe } from '../control/failsafe'
import { Loops } from '../control/loops'
import { askedFunctions, modeOf, switchPlan, type SwitchBands } from '../control/modes'
import { wantedOf, type FromHome, type Sticks } from '../control/wanted'
import type { Power } from '../power/power'
import type { RadioFrame } from '../radio/receiver'
import type { Random } from '../random'
import { GyroCalibration } from './calibration'
import { type controls, outputs, signals, type SwitchFunction } from './definitions'
import { Estimator } from './estimator'
import { FlightLog } from './flightLog'
import { Loader } from './loader'
import { BoardLog, type BoardEvent } from './log'
import { Permits, mayBeArmed, type PermitKind } from './permits'
import { Sensors, type ForceAndRate } from './sensors'
import { BoardSettings } from './settings'

/** What reaches the board in one step. */
export interface BoardView {
  readonly t: number
  readonly dt: number
  /** What its chip feels, already as read: raw stage. */
  readonly raw: ForceAndRate
  readonly frame: RadioFrame | null
  readonly power: Power
  readonly heightM: number
  readonly climbMps: number
  /** Null without a fix. */
  readonly fromHome: FromHome | null
  readonly landed: boolean
}

/** What the board makes of the channels: sticks and switches, by the settings in force. */
interface Heard {
  readonly channels: readonly number[]
  readonly plan: RadioPlan
  readonly sticks: Sticks
  readonly asked: ReadonlySet<SwitchFunction>
}
interface RadioPlan {
  readonly controls: Readonly<Record<(typeof controls)[number], { channel: number; reversed: boolean }>>
  readonly deadband: number
  readonly lowGate: number
  readonly highGate: number
  readonly switches: readonly SwitchBands[]
}
const radioPlan = (s: BoardSettings): RadioPlan => {
  const control = (name: string) => ({ channel: s.get(`radio.${name}.channel`), reversed: s.isOn(`radio.${name}.reverse`) })
  return {
    controls: { roll: control('roll'), pitch: control('pitch'), throttle: control('throttle'), yaw: control('yaw') },
    deadband: s.get('radio.deadband'),
    lowGate: s.get('radio.lowGate'),
    highGate: s.get('radio.highGate'),
    switches: switchPlan(s),
  }
}
const nothingFelt: ForceAndRate = { force: [0, 0, 0], rate: [0, 0, 0] }
const nothingAsked: ReadonlySet<SwitchFunction> = new Set()

interface PowerScales {
  readonly voltFactor: number
  readonly ampFactor: number
  readonly ampOffset: number
  readonly cells: number
  readonly lowCell: number
  readonly warnCell: number
}
const powerScales = (s: BoardSettings): PowerScales => {
  const factor = (group: 'volt' | 'amp') => {
    const scale = s.get(`power.${group}Scale`)
    return s.isOn(`power.${group}Divides`) ? 1 / scale : scale
  }
  return {
    voltFactor: factor('volt'),
    ampFactor: factor('amp'),
    ampOffset: s.get('power.ampOffset'),
    cells: s.get('power.cells'),
    lowCell: s.get('power.lowCell'),
    warnCell: s.get('power.warnCell'),
  }
}

/** No cell holds more, V: so many of them make up a voltage at the least. */
const fullestCell = 4.4
/** The shortest between two tellings of what would refuse: at an edge it trembles. */
const gatesEveryS = 0.05
const teachHighS = 3
const teachLowS = 2
/** Of full collective: with more than this it may be in the air. */
const flightCommand = 0.2
/** What holds a height moves its command no faster than this, of full collective in a second: whatever asks for it, nothing jumps. */
const heldRate = 0.5
const slowly = (from: number, to: number, dtS: number): number =>
  Math.max(from - heldRate * dtS, Math.min(from + heldRate * dtS, to))

/** A flight controller board: settings, sensors, radio, arming, control, permits, log and loader. No clock but its own. */
export class Board {
  readonly serial: string
  readonly settings: BoardSettings
  readonly sensors: Sensors
  readonly log = new BoardLog()
  readonly flight = new FlightLog()
  readonly loader: Loader
  readonly permits: Permits
  arming: Arming
  readonly failsafe: Failsafe
  /** Commands to the outputs, 0 to 1, the first for output 1. */
  commands: readonly number[] = outputs.map(() => 0)
  /** Whether any output is told to turn. */
  drives = false
  collective = 0
  mode: SwitchFunction = 'rate'
  asked: ReadonlySet<SwitchFunction> = nothingAsked
  channels: readonly number[] = []
  quality = 0
  attitude: Angles = { roll: 0, pitch: 0, yaw: 0 }
  /** Its newest sample after calibration, and turned into body axes. */
  calibrated: ForceAndRate = nothingFelt
  body: ForceAndRate = nothingFelt
  boots = 1
  events: BoardEvent[] = []
  /** Readings by the board's own scales. */
  volts = 0
  amps = 0
  usedMah = 0
  private readonly estimator = new Estimator()
  private readonly loops: Loops
  private calibration: GyroCalibration | null = null
  private spin: Readonly<Record<number, number>> = {}
  private teach: { sinceBattery: number | null } | null = null
  private warned: 'none' | 'warn' | 'low' = 'none'
  private gates = { key: '', t: -Infinity }
  /** Cells of the battery that is in, by the most volts that it had; zero before. */
  private counted = 0
  /** Throttle was up as in flight since it was armed. */
  private flew = false
  private heightHeld: number | null = null
  private t = 0
  private readonly radioPlan: () => RadioPlan
  private readonly scales: () => PowerScales
  /** The motor position that each output drives, 0 for none. */
  private readonly positions: () => readonly number[]
  private heard: Heard | null = null

  constructor(
    private readonly airframe: Airframe,
    asReceived: Settings,
    random: Random,
    /** Of this run of the model and no other, so that the name of a battery connection never comes again. */
    private readonly life: string,
  ) {
    this.serial = airframe.board.serial
    this.settings = new BoardSettings(asReceived)
    this.radioPlan = this.settings.derived(radioPlan)
    this.scales = this.settings.derived(powerScales)
    this.positions = this.settings.derived((settings) => outputs.map((o) => settings.get(`output.${o}.position`)))
    this.sensors = new Sensors(airframe, this.settings, random)
    this.loader = new Loader(airframe.board.target)
    this.permits = new Permits(airframe.board.serial)
    this.arming = this.newArming()
    this.failsafe = new Failsafe(this.settings)
    this.loops = new Loops(this.settings, mixerOf(airframe.positions))
  }

  private newArming(): Arming {
    return new Arming(this.settings, () => this.airframe.board.firmware.habit)
  }

  get identity(): BoardIdentity {
    const { target, firmware } = this.airframe.board
    return {
      board: this.serial,
      target,
      firmware: this.loader.loading ? null : { name: firmware.name, version: firmware.version, features: [...firmware.features] },
      loader: this.loader.loading,
    }
  }

  powerId(power: Power): string {
    return `${this.serial}-${this.life}-${this.boots}-${power.connections}`
  }

  state(power: Power, turning: boolean): BoardState {
    const { arming } = this
    return {
      power: power.kind === 'none' ? 'cable' : power.kind,
      powerId: this.powerId(power),
      motors: arming.armed ? 'armed' : turning ? 'turning' : 'still',
      radio: this.channels.length === 0 ? 'none' : this.failsafe.isLost(this.t) ? 'lost' : 'heard',
      mode: this.mode,
      refusing: arming.armed ? [] : [...arming.reasons],
      lossPhase: this.failsafe.phase,
      permit: this.permits.current?.kind ?? null,
    }
  }

  step(view: BoardView): void {
    this.t = view.t
    this.calibrated = this.sensors.calibrated(view.raw)
    this.body = this.sensors.inBody(this.calibrated)
    this.attitude = this.estimator.step(this.body, this.arming.armed, view.dt)
    this.readPower(view.power)
    this.hear(view.frame)
    if (this.loader.loading) return this.stopAll()
    this.watchPermit(view.t)
    this.control(view, this.body.rate)
  }

  /** A time in which nothing moved and nothing was sampled. */
  rest(felt: ForceAndRate, seconds: number, powered: boolean): void {
    this.sensors.pass(seconds, powered)
    if (powered)
      this.attitude = this.estimator.rest(this.sensors.inBody(this.sensors.calibrated(this.sensors.quiet(felt))), seconds)
  }

  /** Takes a raw rate into a running calibration, at 200 Hz. */
  calibrate(rawRate: Vec3): void {
    if (this.calibration !== null && !this.calibration.isDone) this.calibration.take(rawRate)
  }

  /** Starts measuring the gyro's bias; false while that runs. */
  beginCalibration(): boolean {
    if (this.calibration !== null) return false
    this.calibration = new GyroCalibration()
    return true
  }

  /** Null while it measures; then the values put in force, or 'moving'. */
  calibrationResult(): Settings | 'moving' | null {
    if (this.calibration?.isDone !== true) return null
    const result = this.calibration.result()
    this.calibration = null
    if (result !== 'moving') this.settings.write(result)
    return result
  }

  /** Asks for a permit; returns its token, or why not. */
  grant(kind: PermitKind, props: 'off' | 'on', powerId: string, power: Power): { token: string } | { refused: string } {
    if (kind === 'spin' && this.arming.armed) return { refused: 'held' }
    // An ESC that counts would take high for what it says, and turn.
    if (kind === 'teach' && isDigital(this.signal)) return { refused: 'signal' }
    const found = this.permits.grant(kind, props, powerId, this.powerId(power), power.battery, this.t)
    if (typeof found === 'string') return { refused: found }
    if (kind === 'teach') this.teach = { sinceBattery: null }
    this.say({ t: this.t, what: 'permit', detail: { kind } })
    return { token: found.token }
  }

  /**
   * Turns outputs under a spin permit, and renews it. Every output not named stands. Returns why not, or null: a foreign token
   * takes any permit away, and whatever turns or is armed stops.
   */
  turn(token: string, values: Readonly<Record<number, number>>): string | null {
    const wrong = this.permits.renew(token, this.t)
    if (wrong !== null) {
      this.stop('permit lost')
      return wrong
    }
    if (this.permits.current?.kind !== 'spin') return 'token'
    this.spin = values
    return null
  }

  /** Stop all: whatever turns or is armed stops, whatever permit is held is gone. */
  stop(cause: string): void {
    this.permits.drop()
    this.stopAll()
    this.sayArming(this.arming.disarm(cause))
  }

  /** Another battery connection, or none: permits of the one before are worth nothing. */
  batteryChanged(power: Power): void {
    this.permits.powerChanged(this.powerId(power))
    if (this.permits.current === null) {
      this.stopAll()
      this.sayArming(this.arming.disarm('battery off'))
    }
    this.counted = 0
    if (this.teach !== null && power.battery) this.teach = { sinceBattery: this.t }
  }

  /** The link that asked for a permit is gone: what its asker had to hold is lost. */
  linkClosed(): void {
    // Nobody is there to be told what it measured: nothing of it comes into force.
    this.calibration = null
    const kind = this.permits.current?.kind
    if (kind === 'spin' || kind === 'teach' || kind === 'armed-bench') {
      this.permits.drop()
      this.stopAll()
      this.sayArming(this.arming.disarm('link lost'))
    }
  }

  /** Starts again: by a restart or by power. */
  restart(): void {
    this.settings.reload()
    this.permits.drop()
    this.stopAll()
    this.boots += 1
    this.t = 0
    this.estimator.reset()
    this.calibration = null
    this.failsafe.restart()
    this.channels = []
    this.warned = 'none'
    this.gates = { key: '', t: -Infinity }
    this.arming = this.newArming()
    this.say({ t: 0, what: 'started' })
  }

  /** Seconds on the board's clock. */
  get clock(): number {
    return this.t
  }

  get signal(): (typeof signals)[number] {
    return signals[this.settings.get('esc.signal')] ?? 'PWM'
  }

  get reasons(): readonly RefusalReason[] {
    return this.arming.reasons
  }

  private control(view: BoardView, rate: Vec3): void {
    const { t, power } = view
    const { sticks, asked } = this.heardNow()
    this.asked = asked
    const lost = this.failsafe.isLost(t)
    const phase = this.failsafe.step(t, this.arming.armed, this.asked.has('failsafe'))
    if (phase !== null) this.sayPhase(phase)
    const permit = this.permits.current
    this.sayArming(
      this.arming.step({
        t,
        heard: !lost && this.failsafe.control === 'sticks',
        lost: lost || this.failsafe.phase === 'recover',
        throttleUs: sticks.throttleUs,
        yaw: sticks.yaw,
        asked: this.asked,
        tiltDeg: degrees(Math.max(Math.abs(this.attitude.roll), Math.abs(this.attitude.pitch))),
        cellVolts: power.battery ? this.volts / this.cells : null,
        fixed: view.fromHome !== null,
        sensorsWork: this.sensors.answers('imu'),
        permitted: mayBeArmed(permit),
        busy: this.calibration !== null || this.teach !== null,
      }),
    )
    this.tellGates(t)
    if (this.arming.armed) {
      this.permits.use(t)
      return this.fly(view, rate, sticks)
    }
    this.loops.reset()
    this.heightHeld = null
    this.flew = false
    this.setMode('rate', false)
    if (permit?.kind === 'spin') return this.command((o) => this.spin[o] ?? 0)
    if (permit?.kind === 'teach' && this.teach !== null) return this.runTeaching(t)
    this.stopAll()
  }

  private fly(view: BoardView, rate: Vec3, sticks: Sticks): void {
    const { settings } = this
    const acts = this.failsafe.control === 'act'
    if (acts && (this.failsafe.act === 'cut' || this.failsafe.phase === 'end')) {
      this.sayArming(this.arming.disarm('failsafe'))
      return this.stopAll()
    }
    this.setMode(
      acts
        ? this.failsafe.act === 'return home' && view.fromHome !== null
          ? 'returnHome'
          : 'selfLevel'
        : modeOf(this.asked, view.fromHome !== null),
      true,
    )
    if (this.mode !== 'altitude' && this.mode !== 'position' && this.mode !== 'returnHome') this.heightHeld = null
    else this.heightHeld ??= view.heightM
    const before = this.collective
    const asked = wantedOf(settings, {
      sticks,
      mode: this.mode,
      control: this.failsafe.control,
      act: this.failsafe.act,
      yaw: this.attitude.yaw,
      heightM: view.heightM,
      climbMps: view.climbMps,
      heightHeld: this.heightHeld,
      fromHome: view.fromHome,
    })
    const holds = this.heightHeld !== null && this.failsafe.control !== 'held'
    const wanted = holds ? { ...asked, collective: slowly(before, asked.collective, view.dt) } : asked
    this.collective = wanted.collective
    const idle = settings.get('motors.idle')
    const low = wanted.collective <= 0
    this.flew ||= wanted.collective > flightCommand
    const cuts = !settings.isOn('motors.turnWhenArmed') || (this.flew && settings.isOn('loss.throttleCuts'))
    if (low && cuts && !acts) {
      this.loops.reset()
      return this.stopAll()
    }
    const corrects = !low || this.asked.has('zeroControl') || acts
    const shares = corrects ? this.loops.step(wanted, rate, this.attitude, !view.landed || !low, view.dt) : null
    if (!corrects) this.loops.reset()
    const positions = this.positions()
    this.command((o) => {
      const position = positions[o - 1] ?? 0
      if (position === 0) return 0
      const share = shares?.[position - 1] ?? 0
      return Math.min(1, idle + share * (1 - idle))
    })
  }

  private runTeaching(t: number): void {
    const since = this.teach?.sinceBattery
    if (since === null || since === undefined) return this.command(() => 1)
    if (t - since < teachHighS) return this.command(() => 1)
    if (t - since < teachHighS + teachLowS) return this.command(() => 0)
    this.teach = null
    this.permits.drop()
    this.stopAll()
    this.say({ t, what: 'taught' })
  }

  private command(of: (output: number) => number): void {
    this.commands = outputs.map((o) => Math.max(0, Math.min(1, of(o))))
    this.drives = this.commands.some((c) => c > 0)
  }

  private stopAll(): void {
    this.spin = {}
    this.collective = 0
    if (this.drives) this.command(() => 0)
    if (this.permits.current?.kind !== 'teach') this.teach = null
  }

  private watchPermit(t: number): void {
    const lost = this.permits.step(t)
    if (lost === null) return
    this.say({ t, what: 'permit lost', detail: { kind: lost.kind } })
    this.stopAll()
    this.sayArming(this.arming.disarm('permit lost'))
  }

  private hear(frame: RadioFrame | null): void {
    if (frame === null) return
    if (this.channels.length === 0) this.say({ t: frame.t, what: 'heard' })
    this.channels = frame.channels
    this.quality = frame.quality
    this.failsafe.hear(frame.t)
  }

  /** Worked out again only for another frame or other settings. */
  private heardNow(): Heard {
    const { channels } = this
    const plan = this.radioPlan()
    if (this.heard?.channels === channels && this.heard.plan === plan) return this.heard
    const asked = channels.length === 0 ? nothingAsked : askedFunctions(plan.switches, channels)
    return (this.heard = { channels, plan, sticks: sticksOf(plan, channels), asked })
  }

  /** The pack's cells as set, else as many as the most volts since it was put in want. */
  get cells(): number {
    return this.scales().cells || Math.max(1, this.counted)
  }

  private readPower(power: Power): void {
    const { voltFactor, ampFactor, ampOffset, lowCell, warnCell } = this.scales()
    const { trueVoltRatio, trueAmpOffset, trueMvPerAmp } = this.airframe.power
    this.volts = (power.volts / trueVoltRatio) * voltFactor
    this.amps = (((power.amps + trueAmpOffset) * trueMvPerAmp) / 1000) * ampFactor - ampOffset
    this.usedMah = power.amps === 0 ? this.usedMah : power.usedMah * (this.amps / Math.max(0.01, power.amps))
    if (!power.battery) return
    this.counted = Math.max(this.counted, Math.ceil(this.volts / fullestCell))
    const cell = this.volts / this.cells
    const now = cell < lowCell ? 'low' : cell < warnCell ? 'warn' : 'none'
    if (now === this.warned || (now === 'warn' && this.warned === 'low') || (now === 'none' && this.warned !== 'none')) return
    this.warned = now
    this.say({ t: this.t, what: 'battery', detail: { level: now, volts: this.volts } })
  }

  private setMode(mode: SwitchFunction, say: boolean): void {
    const now = this.arming.armed ? mode : modeOf(this.asked, false)
    if (now === this.mode) return
    this.mode = now
    if (say || this.channels.length > 0) this.say({ t: this.t, what: 'mode', detail: { mode: now } })
  }

  private sayPhase(phase: string): void {
    if (phase === 'wait') this.say({ t: this.t, what: 'lost' })
    this.say({ t: this.t, what: 'phase', detail: { phase } })
    if (phase === 'recover') this.say({ t: this.t, what: 'heard' })
  }

  /** What would refuse arming, whenever that changes: told, and not logged. */
  private tellGates(t: number): void {
    if (t - this.gates.t < gatesEveryS) return
    const reasons = this.arming.armed ? [] : this.arming.reasons
    const key = reasons.join()
    if (key === this.gates.key) return
    this.gates = { key, t }
    this.push({ t, what: 'gates', detail: { reasons: [...reasons] } })
  }

  private sayArming(event: ReturnType<Arming['step']>): void {
    if (event === null) return
    const { what, ...detail } = event
    this.say({ t: this.t, what, detail })
  }

  private say(event: BoardEvent): void {
    this.push(event)
    this.log.add(this.boots, event)
  }

  private push(event: BoardEvent): void {
    this.events.push(event)
    if (this.events.length > 200) this.events.shift()
  }
}

const sticksOf = ({ controls: by, deadband, lowGate, highGate }: RadioPlan, channels: readonly number[]): Sticks => {
  const us = (control: (typeof controls)[number]) => {
    const { channel, reversed } = by[control]
    const found = channels[channel - 1] ?? 1500
    return reversed ? 3000 - found : found
  }
  const centred = (value: number) => (Math.abs(value - 1500) <= deadband ? 0 : Math.max(-1, Math.min(1, (value - 1500) / 450)))
  const throttleUs = us('throttle')
  return {
    roll: centred(us('roll')),
    pitch: centred(us('pitch')),
    yaw: centred(us('yaw')),
    throttleUs,
    throttle: Math.max(0, Math.min(1, (throttleUs - lowGate) / (highGate - lowGate))),
  }
}
