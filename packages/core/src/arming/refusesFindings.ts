import type { Column, Evidence, Finding, Limit, Remedy, Segment, Settings } from '@taraf/contract'
import { cellsOf } from '../cells'
import { byHand, judged, judgedAs, refusal, shown } from '../check'
import { limitFor } from '../limits'
import { degrees } from '../rotation'
import { imageAgain } from '../remedy'
import { mean } from '../statistics'
import { accountOfStep } from './account'
import { cameUp, triedIn, wasThere } from './attempt'
import { guardsOf, type Guard, type GuardKind, type TiltWay } from './guards'
import { stickIn, switchIn } from './moved'
import { armsAtAnyTilt, mostOf, rulesOf } from './rules'

const again = 'Run it again, and do each step as it is asked.'

/** What a board is told so that it refuses. */
const settingsFor = (guard: GuardKind, evidence: Pick<Evidence, 'sheet'>): Settings => {
  const rules = rulesOf(evidence.sheet)
  return {
    throttle: { 'arm.throttleMost': rules.throttleUs },
    tilt: { 'arm.tiltMost': rules.tiltDeg },
    calibration: { 'arm.wantsCalibration': 1 },
    fix: { 'arm.wantsFix': 1 },
    radio: { 'arm.offFirst': 1 },
    'power-up': { 'arm.offFirst': 1 },
    battery: { 'power.armCell': rules.cellVolts },
  }[guard]
}

/** What makes it refuse: another setting; where that is so already, the board does not do what it is set to. */
const remedyFor = ({ kind, words }: Guard, evidence: Evidence): Remedy => {
  const settings = settingsFor(kind, evidence)
  const isSo = Object.entries(settings).every(([name, value]) => evidence.board.settings?.[name] === value)
  if (!isSo) return { by: 'settings', act: `Have the board refuse: ${words.toLowerCase()}.`, settings }
  return kind === 'battery'
    ? byHand(
        'The board is set to refuse, and sees other volts than there are: compare its volts and its number of cells with the meter.',
      )
    : byHand('The board is set to refuse, and does not: write its firmware again, then take this whole check again.')
}

/** Every guard of the sheet: that it refused, for its own reason alone, and where its edge lies. */
export const refusesFindings = (evidence: Evidence): Finding[] => [
  ...guardsOf(evidence.sheet).flatMap((guard) => {
    const segment = evidence.segments.find(({ label }) => label === guard.step.label)
    if (segment === undefined) return refusal(`${guard.words}: it was not tried`, again)
    return [...findingsOf(guard, segment, evidence), ...afterFindings(guard, evidence)]
  }),
  ...(armsAtAnyTilt(evidence.sheet) ? [anyTilt(evidence)] : []),
  ...accountOfStep(evidence, evidence.segments),
]

/** Nobody asked again, and what refused it is gone: one that arms then arms by itself. */
const afterFindings = ({ id, words, after }: Guard, evidence: Evidence): Finding[] => {
  const segment = evidence.segments.find(({ label }) => label === after?.label)
  if (segment === undefined) return []
  const [stick, arm] = [stickIn(segment, evidence, 'throttle'), switchIn(segment, evidence)]
  const armed = triedIn(segment).armedAt
  const lastlyLow = (stick?.us[stick.us.length - 1] ?? Infinity) <= rulesOf(evidence.sheet).throttleUs
  // Whoever put the switch off and on again asked again.
  const isOn = arm !== null && arm.isOn.length > 0 && arm.isOn.every(Boolean)
  if (!isOn) return refusal(`${words}: the switch was not left on as throttle came down`, again)
  if (armed !== null)
    return [
      judgedAs(
        `${id}After`,
        'it arms by itself',
        'it stays disarmed',
        imageAgain(evidence, 'It arms by itself as soon as throttle comes down.'),
      ),
    ]
  return lastlyLow
    ? [judgedAs(`${id}After`, 'it stays disarmed', 'it stays disarmed')]
    : refusal(`${words}: throttle was not brought down`, again)
}

/** Where a sheet lets it arm at any tilt that a hand can hold, only the setting tells. */
const anyTilt = ({ sheet, board }: Evidence): Finding => {
  const { tiltDeg } = rulesOf(sheet)
  const set = board.settings?.['arm.tiltMost']
  const remedy = {
    by: 'settings',
    act: 'Have it arm at any tilt, as the sheet says.',
    settings: { 'arm.tiltMost': tiltDeg },
  } as const
  return set === undefined ? shown('tilt', tiltDeg, 'deg') : judged('tilt', set, 'deg', { min: tiltDeg, max: tiltDeg }, remedy)
}

const findingsOf = (guard: Guard, segment: Segment, evidence: Evidence): Finding[] => {
  const { id, reason, words } = guard
  const { armedAt, reasons } = triedIn(segment)
  const measured = measure[guard.kind]?.(guard, segment, evidence) ?? null
  const notTried = whyNotTried(guard, segment, evidence)
  if (notTried !== null && (armedAt !== null || reasons !== null || guard.kind === 'power-up'))
    return refusal(`${words}: ${notTried}`, again)
  if (armedAt !== null) {
    const notSo = whyNotSo(guard, segment, evidence, armedAt)
    if (notSo !== null) return refusal(`${words}: it armed, but ${notSo}`, again)
    return [judgedAs(id, 'armed', reason, remedyFor(guard, evidence))]
  }
  // One that never says where its edge lies was not tried past it: whoever led on would have had it arm.
  if (reasons === null && measured !== null && 'reached' in measured) return [measured.reached]
  const told = reasons ?? (guard.kind === 'radio' && wasThere(segment, reason) ? [reason] : null)
  if (told === null)
    return guard.kind === 'power-up' && isOnFromTheFirst(guard, segment, evidence)
      ? [judgedAs(id, 'it has nothing against it', reason, remedyFor(guard, evidence))]
      : refusal(`${words}: nobody tried to arm it`, again)
  if (told.length !== 1 || told[0] !== reason)
    return refusal(
      `${words}: it refused for ${told.join(', ')}, which does not prove that it refuses for ${reason}`,
      'Clear what else it refuses for, then run it again.',
    )
  const found = judgedAs(id, reason, reason)
  if (measured === null) return [found]
  return 'edge' in measured
    ? [found, ...measured.edge]
    : refusal(`${words}: ${'why' in measured ? measured.why : notSeen}`, again)
}

type Measured = { readonly edge: readonly Finding[] } | { readonly why: string } | { readonly reached: Finding }

/** Where the edge of a guard lies, by approach; or how far it was brought without one. */
const measure: Partial<Record<GuardKind, (guard: Guard, segment: Segment, evidence: Evidence) => Measured | null>> = {
  throttle: (guard, segment, evidence) => {
    const { sheet, board } = evidence
    const us = stickIn(segment, evidence, 'throttle')
    if (us === null) return { why: 'throttle was not received' }
    const most = mostOf(sheet, 'arm.throttleMost', 'arming.throttleGate', limitFor(sheet, 'arming.throttleOff').max ?? 0)
    const reached = { value: Math.max(...us.us), unit: 'us', most, beyond: 60 }
    const at = cameUp(segment, guard.reason)
    if (at === null) return noEdge(guard, segment, evidence, reached)
    const row = us.t.findLastIndex((t) => t <= at + 1e-3)
    const [above, below] = [us.us[row], us.us[row - 1]]
    if (above === undefined || below === undefined) return { why: 'throttle was up as it began' }
    if (above - below > stepUs) return { why: 'throttle was raised too fast for its gate to be found' }
    return edgeOf(
      guard,
      evidence,
      (above + below) / 2,
      'us',
      { max: most },
      board.settings?.['arm.throttleMost'],
      'arming.throttleOff',
    )
  },
  tilt: (guard, segment, evidence) => {
    const { sheet, board } = evidence
    const { imu } = segment.streams
    if (imu === undefined) return { why: 'nothing was sampled' }
    const way = guard.id.slice('tilt-'.length) as TiltWay
    const most = mostOf(sheet, 'arm.tiltMost', 'arming.tiltGate', limitFor(sheet, 'arming.tiltOff').max ?? 0)
    const at = cameUp(segment, guard.reason)
    const lean = (until: number) => leanOf(imu, way, until)
    const end = imu.t[imu.t.length - 1] as number
    if (at === null) return noEdge(guard, segment, evidence, { value: lean(end), unit: 'deg', most, beyond: 10 })
    const rate = degrees(mean(rowsOf(imu.t, at - 0.2, at).map((i) => Math.hypot(imu.gx[i] as number, imu.gy[i] as number))))
    if (rate > fastestTilt) return { why: 'it was tilted too fast for its limit to be found' }
    if (lean(at) < leastLean) return { why: `it was to be tilted its own way, and leant ${lean(at).toFixed(0)} deg that way` }
    return edgeOf(guard, evidence, lean(at), 'deg', { max: most }, board.settings?.['arm.tiltMost'], 'arming.tiltOff')
  },
  battery: (guard, segment, evidence) => {
    const { sheet, board } = evidence
    const { meter } = segment.streams
    if (meter === undefined) return { why: 'the meter said nothing' }
    const cells = cellsOf(board.settings, Math.max(...meter.volts))
    const least =
      sheet.settings?.['power.armCell'] === undefined
        ? (limitFor(sheet, 'arming.cellGate').min ?? 0)
        : sheet.settings['power.armCell'] - (limitFor(sheet, 'arming.cellOff').max ?? 0)
    const at = cameUp(segment, guard.reason)
    if (at === null) {
      const lowest = Math.min(...meter.volts) / cells
      if (lowest >= least - 0.1 || wasThere(segment, guard.reason))
        return {
          why: 'its edge was not approached: begin with the voltage of a full pack, and go down until you are told to stop',
        }
      return { reached: failedAt(guard, evidence, lowest, 'V a cell', { min: least }) }
    }
    const rows = rowsOf(meter.t, at - 0.3, at)
    if (rows.length === 0) return { why: 'the meter said nothing as it refused' }
    const volts = rows.map((i) => meter.volts[i] as number)
    if ((Math.max(...volts) - Math.min(...volts)) / cells > stepVolts)
      return { why: 'the supply was turned down too fast for the limit to be found' }
    return edgeOf(
      guard,
      evidence,
      mean(volts) / cells,
      'V a cell',
      { min: least },
      board.settings?.['power.armCell'],
      'arming.cellOff',
    )
  },
}
const notSeen = 'its edge was not seen'
const stepUs = 25
const fastestTilt = 20 // deg/s
const leastLean = 4 // deg
const stepVolts = 0.1
const lookS = 0.15

const edgeOf = (
  guard: Guard,
  evidence: Evidence,
  value: number,
  unit: string,
  limit: Limit,
  set: number | undefined,
  off: 'arming.throttleOff' | 'arming.tiltOff' | 'arming.cellOff',
): Measured => {
  const remedy = remedyFor(guard, evidence)
  const edge = judged(`${guard.id}Gate`, value, unit, limit, remedy)
  if (set === undefined) return { edge: [edge] }
  const beside = `${unit} from what is set`
  const { max } = limitFor(evidence.sheet, off)
  return { edge: [edge, judged(`${guard.id}Off`, Math.abs(value - set), beside, { max }, lies(guard))] }
}

const lies = ({ kind }: Guard): Remedy =>
  ({
    throttle: byHand('The gate is not where it is set: take Stick ends again, then this check.'),
    tilt: byHand('The board sees another tilt than there is: take Level and Follow again, then this check.'),
    battery: byHand(
      'The board sees other volts than the meter: look at its scale of volts and its number of cells, then take this check again.',
    ),
    calibration: byHand(again),
    fix: byHand(again),
    radio: byHand(again),
    'power-up': byHand(again),
  })[kind]

const failedAt = (guard: Guard, evidence: Evidence, value: number, unit: string, limit: Limit): Finding => ({
  key: `${guard.id}Gate`,
  value,
  unit,
  limit,
  verdict: 'fail',
  remedy: remedyFor(guard, evidence),
})

/** Brought so far, and the board had nothing against it: far enough, that is a fault; else it was never approached. */
const noEdge = (
  guard: Guard,
  segment: Segment,
  evidence: Evidence,
  { value, unit, most, beyond }: { value: number; unit: string; most: number; beyond: number },
): Measured | null =>
  value < most + beyond || wasThere(segment, guard.reason)
    ? {
        why: `its edge was not approached: begin ${guard.kind === 'throttle' ? 'with throttle down' : 'level'}, and go on until you are told to stop`,
      }
    : {
        reached: failedAt(guard, evidence, value, unit, { max: most }),
      }

/** Why what was to keep it from arming was not so when it armed, or null where it was. */
const whyNotSo = (guard: Guard, segment: Segment, evidence: Evidence, at: number): string | null => {
  const rules = rulesOf(evidence.sheet)
  switch (guard.kind) {
    case 'throttle': {
      const us = stickIn(segment, evidence, 'throttle')
      const now = us?.us[us.t.findLastIndex((t) => t <= at + 1e-3)]
      if (now === undefined) return 'no frame came before it: nobody knows where throttle was'
      return now > rules.throttleUs + 20 ? null : `throttle was at ${now.toFixed(0)} us`
    }
    case 'tilt': {
      const { imu } = segment.streams
      const lean = imu === undefined ? 0 : leanOf(imu, guard.id.slice('tilt-'.length) as TiltWay, at)
      return lean > rules.tiltDeg + 3 ? null : `it was tilted by ${lean.toFixed(0)} deg`
    }
    case 'battery': {
      const { meter } = segment.streams
      if (meter === undefined) return 'the meter said nothing'
      const cell =
        mean(rowsOf(meter.t, at - 0.3, at).map((i) => meter.volts[i] as number)) /
        cellsOf(evidence.board.settings, Math.max(...meter.volts))
      return cell < rules.cellVolts - 0.05 ? null : `a cell had ${cell.toFixed(2)} V`
    }
    case 'fix':
      return (segment.streams.fix?.fixed ?? []).slice(-1)[0] === 0 ? null : 'the fix was still there'
    case 'radio':
    case 'power-up':
      return isOnFromTheFirst(guard, segment, evidence) ? null : 'the switch was put on only then'
    case 'calibration':
      return null
  }
}

/** Why a refusal is not what was to be tried, or null. */
const whyNotTried = (guard: Guard, segment: Segment, evidence: Evidence): string | null => {
  if (guard.kind === 'radio' && !wasThere(segment, 'no radio'))
    return 'the transmitter was not switched off, or the board did not notice'
  if (guard.kind === 'radio' && rulesOf(evidence.sheet).bySwitch && longestGap(segment) < leastGapS)
    return 'the transmitter was not switched off'
  if (guard.kind !== 'power-up') return null
  const link = evidence.segments.find(({ label }) => label === guard.before[0]?.label)?.events ?? []
  const up = link.findLast((event) => event.what === 'link' && event.link === 'up')
  const began = Math.min(...(segment.events ?? []).map((event) => event.t), ...(segment.streams.radio?.t ?? []))
  // A board that kept its power kept its clock too.
  return up === undefined || began >= up.t
    ? 'the board did not start again: battery and cable must both be out, and its switch on as power comes'
    : null
}
const leastGapS = 0.5

/** Whether the arm switch was on in the first frame that was heard: after the longest gap of the radio, or at all. */
const isOnFromTheFirst = ({ kind }: Guard, segment: Segment, evidence: Evidence): boolean => {
  const found = switchIn(segment, evidence)
  if (found === null) return false
  const gaps = found.t.map((t, i) => (i === 0 ? 0 : t - (found.t[i - 1] as number)))
  return found.isOn[kind === 'radio' ? gaps.indexOf(Math.max(...gaps)) : 0] === true
}

const longestGap = ({ streams: { radio } }: Segment): number => {
  if (radio === undefined) return 0
  const heard = Array.from(radio.t).filter((_, i) => radio.quality === undefined || (radio.quality[i] as number) > 0)
  return Math.max(0, ...heard.map((t, i) => (i === 0 ? 0 : t - (heard[i - 1] as number))))
}

/** How far it leans one way by what it feels, deg, in the moment before. */
const leanOf = (imu: NonNullable<Segment['streams']['imu']>, way: TiltWay, until: number): number => {
  const rows = rowsOf(imu.t, until - lookS, until)
  const of = (column: Column) => mean(rows.map((i) => column[i] as number))
  const [x, y, z] = [of(imu.ax), of(imu.ay), of(imu.az)]
  const roll = degrees(Math.atan2(-y, -z))
  const pitch = degrees(Math.atan2(x, Math.hypot(y, z)))
  return { right: roll, left: -roll, 'nose-up': pitch, 'nose-down': -pitch }[way]
}

const rowsOf = (t: Column, from: number, to: number): number[] =>
  Array.from({ length: t.length }, (_, i) => i).filter((i) => (t[i] as number) >= from && (t[i] as number) <= to + 1e-6)
