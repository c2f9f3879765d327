import type { Column, Evidence, Finding, Segment, SheetPart, WantOf } from '@taraf/contract'
import { cornerSince, halfUs, stickIn, switchIn } from '../arming/moved'
import { isOfArming, rulesOf } from '../arming/rules'
import { whyUnarmed } from '../arming/unarmed'
import { defineCheck, judgedAs, refusal } from '../check'
import { outputsOf } from '../geometry'
import { outputColumn } from '../motors/speeds'
import { onTheWay } from '../radio/sticks'
import { canBeArmed } from '../sheetHas'
import { want } from '../take'
import { allOff, armedIn, readyFor, type Tried } from './losing'
import { plainest } from './losses'
import { accountFinding, accountOf } from '../arming/account'
import { gapIn, rowsIn } from './phases'
import { again, setting } from '../remedy'

const armLabel = 'arm-cut'
/** Flown for so long, then down for so long, s. */
const [flownS, downS] = [0.5, 2]

const cutting = {
  kind: 'capture',
  label: 'down',
  ask: 'Throttle just over the middle for two seconds, as in flight. Then fully down, and leave it there.',
  during: 'Armed: throttle over the middle for two seconds, then fully down',
  permit: 'armed-bench',
  streams: ['outputs', 'radio'],
  mayLack: ['radio'],
  seconds: 20,
  leastSeconds: 4,
  enoughS: flownS + downS,
  atOnce: true,
  state: { battery: true, props: 'off' },
} as const satisfies WantOf<'capture'>

const keeps = 'motors go on'
const stops = 'motors stand'
/** Whether a sheet wants the motors to stand with throttle down, even in flight. */
const cutsBySheet = (sheet: SheetPart): boolean => sheet.settings?.['loss.throttleCuts'] === 1 || !rulesOf(sheet).turns

/** What is tried, and by which step. */
export const cutTried = (sheet: SheetPart): Tried[] => [
  { label: cutting.label, words: `Flown, then throttle fully down: the motors must ${cutsBySheet(sheet) ? 'stand' : 'go on'}.` },
]

/** A stick that is fully down in flight must not stop the motors, unless the sheet says so. */
export const motorCut = defineCheck({
  id: 'failsafe.motorCut',
  version: 3,
  station: 'failsafe',
  title: 'Throttle down in flight',
  proves: 'In flight, throttle fully down leaves the motors turning, unless the sheet says otherwise.',
  words: { down: 'Throttle fully down in flight', account: 'Motors, moment by moment' },
  needs: ['arming.idle', 'motors.response'],
  reads: {
    settings: [
      'loss.throttleCuts',
      'arm.*',
      'switch.arm.*',
      'radio.throttle.*',
      'motors.turnWhenArmed',
      'output.*',
      'motors.most',
    ],
    parts: ['board', ...onTheWay],
    acts: ['board', 'transmitter'],
    onTransmitter: isOfArming(false),
    image: true,
  },
  appliesTo: canBeArmed,
  stages: null,
  *take({ sheet }) {
    yield* want.state(readyFor(sheet))
    const { short } = yield armedIn(sheet, armLabel, plainest(sheet))
    if (short !== true) yield cutting
    yield* want.state(allOff)
  },
  optional: [cutting],
  evaluate: (evidence) => cutFindings(evidence),
})

const cutFindings = (evidence: Evidence): Finding[] => {
  const { sheet, segments } = evidence
  if (outputsOf(sheet).length === 0) return refusal('the sheet has no geometry', 'Write the booms into the build sheet.')
  const unarmed = whyUnarmed(evidence, armLabel)
  if (unarmed !== null) return unarmed
  const segment = segments.find(({ label }) => label === cutting.label)
  const outputs = segment?.streams.outputs
  const throttle = segment === undefined ? null : stickIn(segment, evidence, 'throttle')
  if (segment === undefined || outputs === undefined || throttle === null) return refusal('it was not tried', again)
  const up = throttle.us.findIndex((us) => us >= halfUs)
  const last = throttle.us.findLastIndex((us) => us > lowUs)
  const [from, to] = [throttle.t[up] ?? Infinity, throttle.t[last + 1] ?? Infinity]
  if (to - from < flownS) return refusal('throttle was not held over the middle for long enough', again)
  const whole = throttle.t[throttle.t.length - 1] ?? 0
  if (!(whole - to >= downS)) return refusal('throttle was not left fully down for long enough', again)
  const disturbed = disturbedIn(segment, evidence, from, to + downS)
  if (disturbed !== null) return refusal(disturbed, again)
  const before = rowsIn(outputs, from + 0.2, to - 0.2)
  const after = rowsIn(outputs, to + settlesS, to + downS)
  const all = outputsOf(sheet)
  const flew = all.filter((output) => before.some((i) => at(outputColumn(segment.streams, output), i) > 0))
  if (flew.length < all.length) return refusal('not every motor was driven with throttle over the middle', again)
  const standing = all.filter((output) => after.some((i) => at(outputColumn(segment.streams, output), i) === 0))
  const wanted = cutsBySheet(sheet) ? stops : keeps
  const isSo = wanted === stops ? standing.length === all.length : standing.length === 0
  const remedy = setting(
    evidence,
    wanted === keeps ? 'Have the motors go on with throttle down in flight.' : 'Have the motors stand with throttle down.',
    { 'loss.throttleCuts': wanted === keeps ? 0 : 1, ...(wanted === keeps ? { 'motors.turnWhenArmed': 1 } : {}) },
  )
  const some = `output ${standing.join(', ')} ${standing.length > 1 ? 'stand' : 'stands'}, the others go on`
  const is = isSo ? wanted : standing.length === 0 ? keeps : standing.length === all.length ? stops : some
  const account = accountOf(evidence, segment, { isArmed: true, phases: [], mayStand: cutsBySheet(sheet) })
  return [judgedAs('down', is, wanted, remedy), ...(isSo ? [accountFinding(evidence, 'account', account)] : [])]
}
/** What else stops motors, or keeps them on, between two times; null where nothing did. */
const disturbedIn = (segment: Segment, evidence: Evidence, from: number, to: number): string | null => {
  const arm = switchIn(segment, evidence)
  if (arm?.t.some((t, row) => t >= from && t <= to && arm.isOn[row] === false) === true)
    return 'its arm switch was off for a moment'
  const corner = cornerSince(segment, evidence, 'left')
  if (corner !== null && corner >= from && corner <= to) return 'the sticks stood in the corner that disarms it'
  const gap = gapIn(segment)
  return typeof gap !== 'string' && gap.from < to && gap.to > from ? 'the signal went for a moment' : null
}
const at = (column: Column | undefined, row: number): number => column?.[row] ?? 0
const [lowUs, settlesS] = [1100, 0.3]
