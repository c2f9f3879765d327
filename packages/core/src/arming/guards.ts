import type { Settings, SheetPart, Want, WantOf } from '@taraf/contract'
import { armsAtAnyTilt, bandsOf, armWords, ready, rulesOf, type ArmingRules } from './rules'

export const tiltWays = ['right', 'left', 'nose-up', 'nose-down'] as const
export type TiltWay = (typeof tiltWays)[number]
const tiltAsk: Readonly<Record<TiltWay, string>> = {
  right: 'its right side down',
  left: 'its left side down',
  'nose-up': 'its nose up',
  'nose-down': 'its nose down',
}
export type GuardKind = 'throttle' | 'tilt' | 'calibration' | 'fix' | 'radio' | 'power-up' | 'battery'

/** One thing that must keep it from arming: how it is caused, tried, and what the board must say. */
export interface Guard {
  readonly id: string
  readonly kind: GuardKind
  /** What it is called in a finding. */
  readonly words: string
  /** Why the board must refuse, and for nothing else. */
  readonly reason: string
  readonly step: WantOf<'watch'>
  /** What is caused before it is tried. */
  readonly before: readonly Want[]
  /** What is watched once it was refused, with the switch left as it is: nothing may arm. */
  readonly after?: WantOf<'watch'>
}

const trial = {
  kind: 'watch',
  permit: 'armed-bench',
  streams: ['radio', 'outputs'],
  mayLack: ['radio', 'outputs'],
  seconds: 90,
  until: ['refusing', 'armed'],
  // What was received comes a moment later than what it caused.
  afterS: 0.3,
  atOnce: true,
  state: { battery: true, props: 'off' },
} as const satisfies Partial<WantOf<'watch'>>

/** The reason to refuse goes, and nobody asks again. */
export const lowered: WantOf<'watch'> = {
  ...trial,
  label: 'throttle-down',
  ask: 'Leave the arm switch on. Bring throttle down, and wait: it must not arm.',
  seconds: 30,
  until: ['gates', 'armed'],
  afterS: 1.5,
}

/** Whoever has measured nothing has all of these at zero. */
const uncalibrated: Settings = Object.fromEntries(
  ['gyro', 'accel'].flatMap((sensor) => ['X', 'Y', 'Z'].map((axis) => [`${sensor}.bias${axis}`, 0])),
)

const throttleGuard = (rules: ArmingRules): Guard => {
  const { on, off } = armWords(rules)
  return {
    id: 'throttle',
    kind: 'throttle',
    words: 'Throttle up',
    reason: 'throttle',
    before: [],
    ...(rules.bySwitch ? { after: lowered } : {}),
    step: {
      ...trial,
      label: 'throttle',
      ask: `${off}, throttle down, laid level. Then throttle up in small steps, until you are told to stop.`,
      lead: { gate: 'throttle', words: `There it would refuse. A little further up, then ${on}.` },
    },
  }
}

const tiltGuard = (rules: ArmingRules, way: TiltWay): Guard => {
  const { on, off } = armWords(rules)
  return {
    id: `tilt-${way}`,
    kind: 'tilt',
    words: `Held with ${tiltAsk[way]}`,
    reason: 'tilt',
    before: [],
    step: {
      ...trial,
      label: `tilt-${way}`,
      streams: ['radio', 'outputs', 'imu'],
      ask: `${off}, throttle down, held level. Then tilt ${tiltAsk[way]}, slowly, until you are told to stop.`,
      lead: { gate: 'tilt', words: `There it would refuse. A little further, hold it, then ${on}.` },
    },
  }
}

/** Everything that must keep an airframe of this sheet from arming, in the order in which it is tried. */
export const guardsOf = (sheet: SheetPart): readonly Guard[] => {
  const rules = rulesOf(sheet)
  const { on, off } = armWords(rules)
  const { bySwitch, wantsCalibration, wantsFix, cellVolts } = rules
  const found: Guard[] = [throttleGuard(rules)]
  if (!armsAtAnyTilt(sheet)) found.push(...tiltWays.map((way) => tiltGuard(rules, way)))
  if (wantsCalibration)
    found.push({
      id: 'calibration',
      kind: 'calibration',
      words: 'Never calibrated',
      reason: 'not calibrated',
      before: [],
      step: {
        ...trial,
        label: 'calibration',
        ask: `${off}, throttle down, laid level. Then ${on}: for this step the board has no measured values.`,
        inForce: uncalibrated,
      },
    })
  if (wantsFix)
    found.push({
      id: 'fix',
      kind: 'fix',
      words: 'Without a fix',
      reason: 'no fix',
      before: [],
      step: {
        ...trial,
        label: 'fix',
        streams: ['radio', 'outputs', 'fix'],
        mayLack: ['radio', 'outputs', 'fix'],
        ask: `${off}, throttle down, laid level. Cover its position antenna until the fix is gone; then ${on}.`,
        lead: { gate: 'no fix', words: `There it would refuse. Now ${on}.` },
      },
    })
  found.push({
    id: 'radio',
    kind: 'radio',
    words: 'Without radio',
    reason: bySwitch ? 'switch on at power-up' : 'no radio',
    before: [],
    step: {
      ...trial,
      label: 'radio',
      ask: bySwitch
        ? 'Arm switch off, throttle down, laid level. Then switch the transmitter off.'
        : 'Throttle down, laid level. Then switch the transmitter off.',
      lead: {
        gate: 'no radio',
        words: bySwitch
          ? 'There it would refuse. Put the arm switch on; then the transmitter on again.'
          : 'There it would refuse.',
      },
      until: bySwitch ? trial.until : ['gates:no radio', 'armed'],
    },
  })
  if (bySwitch)
    found.push({
      id: 'power-up',
      kind: 'power-up',
      words: 'Switch on at power-up',
      reason: 'switch on at power-up',
      before: [
        {
          kind: 'watch',
          label: 'powered-anew',
          streams: [],
          ask: 'Battery out, cable out. Put the arm switch on, throttle down. Then battery in, and cable in.',
          seconds: 180,
          until: ['link:up'],
          mayLoseLink: true,
          atOnce: true,
        },
        {
          kind: 'state',
          label: 'anew',
          ask: 'Leave the arm switch on. Battery in, props and nuts off.',
          state: ready,
        },
      ],
      step: { ...trial, label: 'power-up', seconds: 20, ask: 'Leave it as it is: switch on, throttle down, level.' },
    })
  if (cellVolts > 0)
    found.push({
      id: 'battery',
      kind: 'battery',
      words: 'Battery low',
      reason: 'low battery',
      before: [
        { kind: 'state', label: 'pack-out', ask: `${off}. Battery out.`, state: { battery: false } },
        {
          kind: 'state',
          label: 'supply-in',
          ask: 'Set the supply to the voltage of a full pack, and put it in where the battery was. Props and nuts are off.',
          state: ready,
        },
      ],
      step: {
        ...trial,
        label: 'battery',
        streams: ['radio', 'outputs', 'meter'],
        mayLack: ['radio', 'outputs', 'meter'],
        ask: `${off}, throttle down, laid level. Then turn the supply down, slowly, until you are told to stop.`,
        lead: { gate: 'low battery', words: `There it would refuse. Now ${on}.` },
      },
    })
  return found
}

/** The try of a guard: from where the arm switch was seen off, but for the one that it is on as power comes. */
export const triedFrom = ({ kind, step }: Guard, settings: Settings): WantOf<'watch'> => {
  const offFirst = bandsOf('arm', settings)
  return kind === 'power-up' || offFirst.length === 0 ? step : { ...step, offFirst }
}
