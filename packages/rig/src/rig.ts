import type { BesideName, BoardState, ImuStage, Settings } from '@taraf/contract'
import type { Angles, Vec3 } from '@taraf/core/rotation'
import type { Airframe, Firmware } from './airframe'
import { Board } from './board/board'
import type { LoaderRefusal } from './board/loader'
import { receiverReaches, socketPasses } from './board/report'
import type { ForceAndRate } from './board/sensors'
import { Drive, escSettingRanges, type EscSettings } from './drive/drive'
import { propLoad, type Load } from './drive/motor'
import { mechanicalRpm } from './drive/signal'
import type { Pilot } from './pilot'
import { Motion, noWrench, type Wrench } from './frame/motion'
import { Power } from './power/power'
import { Receiver, type RadioFrame } from './radio/receiver'
import { Transmitter } from './radio/transmitter'
import { randomFrom, type Random } from './random'

/** One sample of the board: force in m/s2 and rate in rad/s of the stage asked for; attitude in rad as the board reports it. */
export interface Sample {
  readonly t: number
  readonly force: Vec3
  readonly rate: Vec3
  readonly attitude: Angles
}

/** A turn with props on outside a flight permit, as the rig, which knows the truth about props, saw it. */
export interface Incident {
  readonly t: number
  readonly output: number
  readonly permit: string | null
}

export interface RigPlan {
  readonly seed: number
  readonly airframe: Airframe
  /** What the board is set to as it comes to the bench. */
  readonly settings: Settings
  /** Of this run and no other: with it the name of a battery connection never comes again. */
  readonly life?: string
}

/** The board's samples come this often; while it is armed or free to move the model steps at 1 kHz in between. */
export const stepS = 0.005
const fineSteps = 5
const burstSteps = 20
const positionEvery = 40
const restartS = 1.2
/** A board that was driven as in flight for so long logs a burst of it. */
const [flownCommand, flownS, burstS] = [0.15, 5, 2]

/** The rows of a burst, column behind column. */
export const burstValues = (rows: readonly ForceAndRate[]): Float32Array<ArrayBuffer> => {
  const values = new Float32Array(6 * rows.length)
  rows.forEach(({ force, rate }, i) => {
    for (const [k, value] of [...force, ...rate].entries()) values[k * rows.length + i] = value
  })
  return values
}

/** A simulated airframe with its board, radio, drives and power: deterministic from its seed, stepped by its caller, no I/O. */
export class Rig {
  readonly airframe: Airframe
  board: Board
  readonly motion: Motion
  readonly power: Power
  readonly transmitter: Transmitter
  readonly receiver: Receiver
  readonly drives: readonly (Drive | null)[]
  readonly incidents: Incident[] = []
  /** The newest radio frame that reached the board since it was last taken, oldest first. */
  readonly frames: RadioFrame[] = []
  /** Who flies a hop, while somebody does. */
  pilot: Pilot | null = null
  /** Good frames a socket has passed, from socket 1 on. */
  readonly goodFrames: number[]
  private positionSteps = 0
  private readonly random: Random
  private readonly prop: Load
  private wrench: Wrench = noWrench
  /** Whether anything turned, or was told to, in the step before. */
  private drove = false
  /** For how long it has been driven as in flight, s. */
  private upS = 0
  /** Whether it was armed for a flight in the step before. */
  private flew = false
  private shaken: Vec3 = [0, 0, 0]
  private t = 0
  private burst: { rows: ForceAndRate[]; wanted: number; isForLog: boolean } | null = null
  private raw: ForceAndRate

  constructor(readonly plan: RigPlan) {
    this.airframe = plan.airframe
    this.random = randomFrom(plan.seed)
    this.motion = new Motion(this.airframe, this.random)
    this.power = new Power(this.airframe.power)
    this.transmitter = new Transmitter(this.airframe.transmitter)
    this.receiver = new Receiver(this.airframe.receiver, this.random)
    this.board = new Board(this.airframe, plan.settings, this.random, plan.life ?? 'one')
    this.drives = this.airframe.drives.map((d) => (d === null ? null : new Drive(d)))
    this.goodFrames = this.airframe.board.sockets.map(() => 0)
    this.prop = propLoad(this.airframe.geometry.propDiameterM)
    this.raw = this.board.sensors.raw(this.motion)
  }

  /** Seconds on the board's clock. */
  get clock(): number {
    return this.t
  }

  get turning(): boolean {
    for (const drive of this.drives) if ((drive?.speed ?? 0) > 1) return true
    return false
  }

  /** Nothing moves and nothing is watched: time may be jumped over. */
  get resting(): boolean {
    const { board, motion } = this
    const moves = this.turning || board.drives || motion.mode !== 'held'
    return !moves && motion.still && !board.arming.armed && board.failsafe.phase === 'none'
  }

  /** Steps by 5 ms and returns the board's sample in the stage asked for. */
  step(stage: ImuStage): Sample {
    // Legs on the ground are stiff springs, and what the loops make of noise goes by their rate.
    const isFine = this.motion.mode !== 'held' || this.board.arming.armed
    const steps = this.burst !== null ? burstSteps : isFine ? fineSteps : 1
    const dtS = stepS / steps
    for (let i = 1; i <= steps; i++) this.substep(dtS, isFine ? dtS : i === steps ? stepS : 0)
    if (this.pilot?.step(this, stepS) === true) this.pilot = null
    const { board, raw } = this
    board.calibrate(raw.rate)
    board.sensors.pass(stepS, this.power.boardOn)
    this.hearPosition()
    this.logFlight()
    const { force, rate } = stage === 'raw' ? raw : stage === 'calibrated' ? board.calibrated : board.body
    return { t: this.t, force, rate, attitude: board.attitude }
  }

  /** A board that is armed for a flight logs every row of it. */
  private logFlight(): void {
    const { board } = this
    const flies = board.arming.armed && board.permits.current?.kind === 'flight'
    if (flies && !this.flew) {
      board.flight.begin(board.boots)
      this.upS = 0
    }
    this.flew = flies
    if (!flies) return
    this.upS = board.collective > flownCommand ? this.upS + stepS : 0
    if (this.upS > flownS && board.flight.burst === null && this.burst === null) this.beginBurst(burstS, true)
    const burst = this.takeBurst()
    if (burst !== null) board.flight.burst = { endsAt: this.t, rateHz: burst.rateHz, values: burstValues(burst.rows) }
    const { force, rate } = board.body
    const { roll, pitch, yaw } = board.attitude
    board.flight.add(this.t, [
      ...board.commands,
      board.collective,
      roll,
      pitch,
      yaw,
      ...force,
      ...rate,
      board.volts,
      board.amps,
      board.usedMah,
    ])
  }

  /** Lets time pass in which nothing is sampled: an exact jump while everything rests, else steps. */
  skip(seconds: number): void {
    let left = seconds
    while (left > 1e-9 && !this.resting) {
      this.step('body')
      left -= stepS
    }
    if (left <= 1e-9) return
    this.t += left
    this.board.rest(this.motion, left, this.power.boardOn)
    this.power.step(0, this.airframe.fitOut.videoFitted, false, left)
    for (const drive of this.drives) drive?.rest(left)
    this.receiver.restartClock(this.t)
    this.substep(stepS, stepS)
  }

  /** The board starts again: unsaved settings are lost, and it is away for a while. Seconds until it is back. */
  restart(): number {
    this.board.restart()
    this.t = 0
    this.receiver.restartClock(0)
    this.frames.length = 0
    return restartS
  }

  /** Another board is built in: set as its factory leaves it, with its own serial. The rest of the airframe stays as it is. */
  replaceBoard(): void {
    const { board } = this
    const [name = '', count = '1'] = board.serial.split('/')
    this.airframe.board.serial = `${name}/${Number(count) + 1}`
    this.board = new Board(this.airframe, {}, this.random, this.plan.life ?? 'one')
    this.board.boots = board.boots
    this.restart()
  }

  /** The battery or a supply goes in or out. */
  connect(source: Power['source']): void {
    const wasOn = this.power.boardOn
    const made = this.power.connect(source)
    if (!wasOn && this.power.boardOn) this.restart()
    this.board.batteryChanged(this.power)
    for (const [i, drive] of this.drives.entries()) {
      if (made) drive?.powerUp({ command: this.board.commands[i] ?? 0, signal: this.board.signal })
      else drive?.powerDown()
    }
    this.afterPower(wasOn)
  }

  /** The cable goes in or out. */
  plugCable(inPlace: boolean): void {
    const wasOn = this.power.boardOn
    this.power.cable = inPlace
    if (!wasOn && this.power.boardOn) this.restart()
    if (!inPlace) this.linkClosed()
    this.afterPower(wasOn)
  }

  private afterPower(boardWasOn: boolean): void {
    if (boardWasOn && !this.power.boardOn) this.board.stop('power off')
    if (!this.power.receiverOn) this.receiver.powerCut()
  }

  /** Starts a burst at 4 kHz of raw samples; false while one runs. `takeBurst` gives them once they are there. */
  beginBurst(seconds: number, isForLog = false): boolean {
    if (this.burst !== null) return false
    this.burst = { rows: [], wanted: Math.round(seconds * (burstSteps / stepS)), isForLog }
    return true
  }

  /** The link is gone: what it asked for and nobody waits for ends. */
  linkClosed(): void {
    if (this.burst?.isForLog === false) this.burst = null
    this.board.linkClosed()
  }

  takeBurst(): { rateHz: number; rows: readonly ForceAndRate[] } | null {
    if (this.burst === null || this.burst.rows.length < this.burst.wanted) return null
    const { rows } = this.burst
    this.burst = null
    return { rateHz: burstSteps / stepS, rows }
  }

  state(): BoardState {
    return this.board.state(this.power, this.turning)
  }

  /** A row of a stream as the board gives it now, columns as the table of streams says; null where it gives nothing. */
  readings(stream: Exclude<BesideName, 'radio'>): number[] | null {
    const { board, motion } = this
    switch (stream) {
      case 'mag': {
        const field = board.sensors.compass(motion.attitude, this.motorAmps)
        return field === null ? null : [...field]
      }
      case 'outputs':
        return [...board.commands, board.collective]
      case 'escs':
        return [...this.drives.map((d) => this.reportedRpm(d)), ...this.drives.map((d) => this.replyErrors(d))]
      case 'power':
        return [board.volts, board.amps, board.usedMah]
      case 'meter':
        return [this.power.volts, this.power.amps, this.power.rail]
      case 'baro': {
        const height = board.sensors.barometer(motion.heightM)
        return height === null ? null : [height]
      }
      case 'fix': {
        const fix = board.sensors.fix()
        return fix === null ? null : [fix.fixed ? 1 : 0, fix.satellites, fix.dilution]
      }
    }
  }

  /** Each output that has an ESC fitted, and what it says when it is read: nothing without the battery. */
  escs(): { output: number; found: boolean; firmware: string | null; settings: Record<string, number> | null }[] {
    return this.drives.flatMap((drive, i) => {
      if (drive === null) return []
      const { esc } = drive.build
      const found = this.power.battery && esc.plug === 'home'
      return [{ output: i + 1, found, firmware: found ? esc.firmware : null, settings: found ? { ...esc.settings } : null }]
    })
  }

  /** Writes settings to the ESCs named that answer; what is wrong with them where it writes none. */
  writeEscs(outputs: readonly number[], settings: Readonly<Record<string, number>>): number[] | string {
    for (const [name, value] of Object.entries(settings)) {
      const range = escSettingRanges[name as keyof EscSettings] as (typeof escSettingRanges)[keyof EscSettings] | undefined
      if (range === undefined) return `${name} is unknown`
      if (!(value >= range[0] && value <= range[1]))
        return `${name} = ${value} is outside ${range[0]} to ${range[1]} ${range[2]}`.trim()
    }
    return outputs.filter((output) => {
      const esc = this.drives[output - 1]?.build.esc
      if (esc === undefined || !this.power.battery || esc.plug !== 'home') return false
      esc.settings = { ...esc.settings, ...settings }
      if (esc.keepsSettings) esc.saved = { ...esc.settings }
      return true
    })
  }

  /** Ends an image: the board runs it from its next start. An update alters one setting that nobody asked it to. */
  startImage(sha256: string): Firmware | LoaderRefusal {
    const found = this.board.loader.end(sha256)
    if (typeof found === 'string') return found
    if (found.version !== this.airframe.board.firmware.version) {
      this.board.settings.write({ 'filter.gyro': 150 })
      this.board.settings.save()
    }
    this.airframe.board.firmware = found
    return found
  }

  private reportedRpm(drive: Drive | null): number {
    if (drive === null || !this.board.settings.isOn('esc.replies') || drive.replyErrors(this.board.signal) === null) return 0
    return mechanicalRpm(drive.rpm * (drive.build.motor.poles / 2), this.board.settings.get('esc.poles'))
  }

  private replyErrors(drive: Drive | null): number {
    if (drive === null || !this.power.battery || !this.board.settings.isOn('esc.replies')) return 0
    // One version of the firmware is known to be bad with replies.
    return this.airframe.board.firmware.version === '3.3.0' ? 1 : (drive.replyErrors(this.board.signal) ?? 1)
  }

  /** The current that the motors draw, A. */
  get motorAmps(): number {
    return this.drives.reduce((sum, d) => sum + (d?.amps ?? 0), 0)
  }

  /** @param boardS what the board has not lived through yet; zero where it is not its turn */
  private substep(dtS: number, boardS: number): void {
    this.t += dtS
    const { power, motion, board } = this
    motion.step(this.wrench, dtS)
    this.raw = board.sensors.raw(this.felt())
    if (this.burst !== null && this.burst.rows.length < this.burst.wanted) this.burst.rows.push(this.raw)
    if (boardS > 0) this.stepBoard(boardS)
    if (this.turning || board.drives || this.drives.some((d) => d?.teaching)) {
      this.drove = true
      this.turnDrives(dtS)
    } else if (this.drove) {
      this.drove = false
      for (const drive of this.drives) drive?.free()
    }
    power.step(this.turning ? this.motorAmps : 0, this.airframe.fitOut.videoFitted, motion.mode === 'free' && this.turning, dtS)
  }

  private stepBoard(dtS: number): void {
    const { power, motion, board } = this
    const frame = this.receive()
    if (!power.boardOn) return
    const [north, east] = motion.position
    board.step({
      t: this.t,
      dt: dtS,
      raw: this.raw,
      frame,
      power,
      heightM: motion.heightM,
      climbMps: -motion.velocity[2],
      fromHome: board.sensors.hasFix ? { north, east, northwards: motion.velocity[0], eastwards: motion.velocity[1] } : null,
      landed: motion.mode !== 'free' || motion.landed,
    })
  }

  /** The body's motion with what unbalanced and grating motors add to it. */
  private felt(): ForceAndRate {
    const { motion } = this
    const [x, y, z] = this.shaken
    if (x === 0 && y === 0) return motion
    return { force: [motion.force[0] + x, motion.force[1] + y, motion.force[2] + z], rate: motion.rate }
  }

  private turnDrives(dtS: number): void {
    const { board, power, airframe } = this
    const told = { signal: board.signal, volts: power.volts }
    let thrust = 0
    let [roll, pitch, yaw] = [0, 0, 0]
    let [x, y, z] = [0, 0, 0]
    for (let i = 0; i < this.drives.length; i++) {
      const drive = this.drives[i]
      if (drive === null || drive === undefined) continue
      const { position } = drive.build
      const prop = airframe.frame.props[position] ?? 'none'
      const before = drive.speed
      drive.step({ command: board.commands[i] ?? 0, ...told }, prop === 'none' ? null : this.prop, dtS)
      if (before <= 1 && drive.speed > 1) this.watchTurn(i + 1)
      if (drive.speed === 0) continue
      const seat = airframe.positions[position]
      if (prop !== 'none' && seat !== undefined) {
        const squared = drive.speed * drive.speed
        // A prop lifts only turned the way that it was made for.
        const lifts = (prop === 'wrong') === (drive.turn !== seat.turn) ? 1 : -0.6
        const lift = this.prop.thrust * squared * lifts * (prop === 'damaged' ? 0.85 : 1)
        thrust += lift
        roll -= seat.y * lift
        pitch += seat.x * lift
        yaw += (drive.turn === 'anticlockwise' ? 1 : -1) * this.prop.torque * squared
      }
      const shake = (drive.shake * (prop === 'damaged' ? 6 : 1)) / airframe.frame.massKg
      const grate = drive.roughness(this.random) / airframe.frame.massKg
      x += shake * Math.cos(drive.phase) + grate
      y += shake * Math.sin(drive.phase)
      z += 0.3 * shake * Math.cos(drive.phase) + 0.5 * grate
    }
    this.wrench = thrust === 0 && yaw === 0 ? noWrench : { thrust, torque: [roll, pitch, yaw] }
    this.shaken = [x, y, z]
  }

  private watchTurn(output: number): void {
    const permit = this.board.permits.current?.kind ?? null
    const position = this.drives[output - 1]?.build.position ?? -1
    if (permit !== 'flight' && this.airframe.frame.props[position] !== 'none') this.incidents.push({ t: this.t, output, permit })
  }

  /** The position receiver speaks five times a second, fix or none. */
  private hearPosition(): void {
    this.positionSteps = (this.positionSteps + 1) % positionEvery
    if (this.positionSteps !== 0 || !this.power.boardOn) return
    for (const [i, socket] of this.airframe.board.sockets.entries())
      if (socket.plugged === 'position' && socketPasses(this.airframe, this.board.settings, i + 1))
        this.goodFrames[i] = (this.goodFrames[i] ?? 0) + 1
  }

  private receive(): RadioFrame | null {
    const frame = this.receiver.due(this.t, this.power.receiverOn, this.transmitter)
    if (frame === null) return null
    this.airframe.board.sockets.forEach((socket, i) => {
      if (socket.plugged !== 'receiver') return
      if (socketPasses(this.airframe, this.board.settings, i + 1)) this.goodFrames[i] = (this.goodFrames[i] ?? 0) + 1
    })
    if (!this.power.boardOn || !receiverReaches(this.airframe, this.board.settings)) return null
    this.frames.push(frame)
    if (this.frames.length > 400) this.frames.shift()
    return frame
  }
}
