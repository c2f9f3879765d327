import type { SwitchFunction } from '../board/definitions'
import type { Habit } from '../airframe'
import type { BoardSettings } from '../board/settings'

export const refusals = [
  'throttle',
  'tilt',
  'no radio',
  'switch on at power-up',
  'not calibrated',
  'low battery',
  'no battery',
  'no fix',
  'sensor',
  'permit',
  'busy',
] as const
export type RefusalReason = (typeof refusals)[number]

/** What the board knows when it decides whether to arm. */
export interface ArmingView {
  readonly t: number
  readonly heard: boolean
  readonly lost: boolean
  readonly throttleUs: number
  /** Sticks from -1 to 1. */
  readonly yaw: number
  readonly asked: ReadonlySet<SwitchFunction>
  readonly tiltDeg: number
  readonly cellVolts: number | null
  readonly fixed: boolean
  readonly sensorsWork: boolean
  readonly permitted: boolean
  readonly busy: boolean
}
export type ArmingEvent = { what: 'armed' } | { what: 'disarmed'; cause: string } | { what: 'refusing'; reasons: RefusalReason[] }

const gestureS = 0.8

const rulesOf = (s: BoardSettings) => ({
  bySwitch: s.get('arm.way') === 0,
  offFirst: s.isOn('arm.offFirst'),
  throttleMost: s.get('arm.throttleMost'),
  tiltMost: s.get('arm.tiltMost'),
  uncalibrated: s.isOn('arm.wantsCalibration') && isFactory(s),
  leastCell: s.get('power.armCell'),
  wantsFix: s.isOn('arm.wantsFix'),
  sticksDisarm: s.isOn('arm.sticksDisarm'),
  idleOffS: s.get('arm.idleOff'),
})

/** Arming: who wants it, what refuses it, and every way out of it. */
export class Arming {
  armed = false
  /** What refuses arming now; empty where it would arm. */
  reasons: RefusalReason[] = []
  private switchBlocked = true
  private wantedBefore = false
  private gestureSince: number | null = null
  private gestureUsed = false
  private idleSince: number | null = null
  private offSince: number | null = null
  private said = ''

  private readonly rules: () => ReturnType<typeof rulesOf>

  constructor(
    settings: BoardSettings,
    private readonly habit: () => Habit | undefined = () => undefined,
  ) {
    this.rules = settings.derived(rulesOf)
  }

  step(view: ArmingView): ArmingEvent | null {
    const wants = this.wants(view)
    this.reasons = this.refusing(view)
    const event = this.armed ? this.maybeDisarm(view, wants) : this.maybeArm(wants)
    this.wantedBefore = wants
    return event
  }

  /** Disarms at once for a cause outside the sticks; null where it was not armed. */
  disarm(cause: string): ArmingEvent | null {
    if (!this.armed) return null
    this.armed = false
    this.idleSince = null
    this.offSince = null
    this.said = ''
    // Whoever wants to arm again has to ask again.
    this.switchBlocked = this.rules().bySwitch
    return { what: 'disarmed', cause }
  }

  private wants({ t, heard, throttleUs, yaw, asked }: ArmingView): boolean {
    const { bySwitch, throttleMost, offFirst } = this.rules()
    if (!heard) {
      // Nobody saw where the switch was put meanwhile: it must be seen off again.
      if (!this.armed && bySwitch && offFirst) this.switchBlocked = true
      return this.armed
    }
    if (bySwitch) {
      const on = asked.has('arm')
      if (!on || !offFirst) this.switchBlocked = false
      return on && !this.switchBlocked
    }
    this.switchBlocked = false
    const low = throttleUs <= throttleMost
    const corner = low && Math.abs(yaw) > 0.9
    if (!corner) {
      this.gestureSince = null
      this.gestureUsed = false
      return this.armed
    }
    this.gestureSince ??= t
    if (this.gestureUsed || t - this.gestureSince < gestureS) return this.armed
    this.gestureUsed = true
    return yaw > 0
  }

  private refusing({
    asked,
    lost,
    throttleUs,
    tiltDeg,
    cellVolts,
    fixed,
    sensorsWork,
    permitted,
    busy,
  }: ArmingView): RefusalReason[] {
    const rules = this.rules()
    const found: RefusalReason[] = []
    if (lost) found.push('no radio')
    else {
      if (throttleUs > rules.throttleMost) found.push('throttle')
      if (this.switchBlocked && rules.bySwitch && asked.has('arm')) found.push('switch on at power-up')
    }
    if (tiltDeg > rules.tiltMost) found.push('tilt')
    if (rules.uncalibrated) found.push('not calibrated')
    if (cellVolts === null) found.push('no battery')
    else if (cellVolts < rules.leastCell) found.push('low battery')
    if (rules.wantsFix && !fixed) found.push('no fix')
    if (!sensorsWork) found.push('sensor')
    if (!permitted) found.push('permit')
    if (busy) found.push('busy')
    return found
  }

  private maybeArm(wants: boolean): ArmingEvent | null {
    const asks = wants || this.reasons.includes('switch on at power-up')
    if (!asks) {
      this.said = ''
      return null
    }
    if (this.reasons.length === 0 && (!this.wantedBefore || this.habit() === 'arms once it may')) {
      this.armed = true
      this.said = ''
      return { what: 'armed' }
    }
    // A switch that was put on while something refused must be put on again.
    const key = this.reasons.join()
    if (key === this.said || key === '') return null
    this.said = key
    return { what: 'refusing', reasons: this.reasons }
  }

  /** Whether a bad copy of its firmware goes on although nobody wants it armed any more. */
  private goesOn(forS: number, throttleUs: number): boolean {
    return this.habit() === 'late' ? forS < lateS : this.habit() === 'deaf in flight' && throttleUs > flightUs
  }

  private maybeDisarm(view: ArmingView, wants: boolean): ArmingEvent | null {
    const { t, heard, throttleUs, yaw } = view
    const { bySwitch, throttleMost, sticksDisarm, idleOffS } = this.rules()
    if (view.cellVolts === null) return this.disarm('battery off')
    if (!wants) this.offSince ??= t
    else this.offSince = null
    if (heard && this.offSince !== null && !this.goesOn(t - this.offSince, throttleUs))
      return this.disarm(bySwitch ? 'switch' : 'sticks')
    const low = throttleUs <= throttleMost
    if (heard && (low || this.habit() === 'yaw disarms') && yaw < -0.9 && sticksDisarm) {
      this.gestureSince ??= t
      if (t - this.gestureSince >= gestureS) return this.disarm('sticks')
    } else if (bySwitch) this.gestureSince = null
    if (!low || !heard) this.idleSince = null
    else this.idleSince ??= t
    if (idleOffS > 0 && this.idleSince !== null && t - this.idleSince >= idleOffS) return this.disarm('idle')
    return null
  }
}

/** So long one that is late goes on, s; over so much throttle one that is deaf does, us. */
const [lateS, flightUs] = [5, 1400]

/** Nobody has calibrated the board since it was cleared. */
const isFactory = (s: BoardSettings): boolean =>
  ['gyro.biasX', 'gyro.biasY', 'gyro.biasZ', 'accel.biasX', 'accel.biasY', 'accel.biasZ'].every((name) => s.get(name) === 0)
