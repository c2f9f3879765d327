import type { Evidence, Finding, Sampled, Segment, SheetPart, WantOf } from '@taraf/contract'
import { halfUs, stickAt, switchedAt, switchIn } from '../arming/moved'
import { isOfArming } from '../arming/rules'
import { byHand, defineCheck, judged, judgedAs, refusal } from '../check'
import { limitFor } from '../limits'
import { hoverFindings } from '../hover/known'
import { hoverWords } from '../hover/words'
import { onTheWay } from '../radio/sticks'
import { canBeArmed } from '../sheetHas'
import { modeName } from '../switches/modeName'
import { want } from '../take'
import {
  allOff,
  armedIn,
  endsItself,
  fixedFirst,
  readyFor,
  soFarOf,
  taken,
  tried,
  underSky,
  whyNotArmed,
  wordsIn,
  type Tried,
} from './losing'
import { modesOf, needsFix } from './losses'
import { accountFinding, accountOf } from '../arming/account'
import { gapIn, modeIn, phasesOf, type Gap } from './phases'
import { again } from '../remedy'
import { actedFindings, jumps, phasesOfLoss, timesOf } from './responseFindings'

const hasSwitch = (sheet: SheetPart): boolean => sheet.switchPlan?.some((row) => row.function === 'failsafe') === true
const labelOf = (mode: string): string => `by-${mode}`
const armLabel = 'arm-switch-on'

const switching = (mode: string): WantOf<'watch'> => ({
  kind: 'watch',
  ...taken,
  seconds: 45,
  label: labelOf(mode),
  ask: `Mode ${modeName(mode)}, throttle just over the middle, sticks let go. Then put the switch of failsafe on.`,
  during: 'Armed: the switch of failsafe on, and off again as the step says',
  onlyAfter: 'loss:act',
  then: [{ event: 'loss:act', words: 'It acts. Look at the motors for two seconds, then put the switch of failsafe off.' }],
  afterS: 0.4,
})
/** What is tried, in its order, and by which step. */
export const switchTried = (sheet: SheetPart): Tried[] =>
  modesOf(sheet).map((mode) => ({
    label: labelOf(mode),
    words: `From mode ${modeName(mode)}: it acts as at a loss, and lets go.`,
  }))

const wantsFix = (sheet: SheetPart): boolean => modesOf(sheet).some(needsFix)
const arming = (sheet: SheetPart): WantOf<'watch'> => armedIn(sheet, armLabel, modesOf(sheet)[0] as string)
const steps = (sheet: SheetPart): Sampled[] => [
  ...(wantsFix(sheet) ? [underSky(armLabel)] : []),
  arming(sheet),
  ...modesOf(sheet).map(switching),
]

/** Failsafe asked for by its switch, from every mode: what it then does, and how it lets go. It proves nothing about a loss. */
export const bySwitch = defineCheck({
  id: 'failsafe.bySwitch',
  version: 4,
  station: 'failsafe',
  title: 'Failsafe by switch',
  proves: 'Its switch brings failsafe about from every mode, and gives control back. It proves nothing about a loss.',
  words: (sheet) => ({
    ...hoverWords,
    ...Object.fromEntries(
      modesOf(sheet).flatMap((mode) => {
        const [of, from] = [`${labelOf(mode)}.`, `From ${modeName(mode)}`]
        return [
          [`${of}acts`, `${from}: acts after`],
          [`${of}mode`, `${from}: mode that it went into`],
          [`${of}command`, `${from}: command`],
          [`${of}outputs`, `${from}: outputs`],
          [`${of}lift`, `${from}: held up while it acts`],
          [`${of}back`, `${from}: sticks count again after`],
          [`${of}jump`, `${from}: jump as they do`],
          [`${of}account`, `${from}: motors, moment by moment`],
        ]
      }),
    ),
  }),
  needs: ['failsafe.response'],
  reads: {
    settings: [
      'loss.*',
      'arm.*',
      'switch.*',
      'radio.throttle.*',
      'gain.*',
      'rotor.hover',
      'motors.turnWhenArmed',
      'output.*',
      'motors.most',
    ],
    parts: ['board', ...onTheWay],
    acts: ['board', 'remount', 'transmitter'],
    onTransmitter: (set, sheet) =>
      isOfArming(false)(set, sheet) ||
      sheet.switchPlan?.some((row) => row.function === 'failsafe' && row.channel === set.channel) === true,
    image: true,
    hover: true,
  },
  appliesTo: (sheet) => canBeArmed(sheet) && hasSwitch(sheet),
  stages: null,
  *take(soFar) {
    const { sheet } = soFar
    yield* want.state(readyFor(sheet))
    const isFixed = !wantsFix(sheet) || (yield* fixedFirst(sheet, armLabel))
    const isArmed = isFixed && (yield arming(sheet)).short !== true
    for (const mode of isArmed ? modesOf(sheet) : []) {
      const whyNot = (segment: Segment) => wordsIn(switchedIn(soFarOf(soFar, bySwitch.id, segment), segment, mode))
      if (!(yield* tried(switching(mode), whyNot))) break
    }
    yield* want.state(allOff)
  },
  stepsOf: ({ sheet, segments }) => steps(sheet).filter(({ label }) => segments.some((segment) => segment.label === label)),
  evaluate: (evidence) => switchFindings(evidence),
})

const switchFindings = (evidence: Evidence): Finding[] => {
  const { sheet, segments } = evidence
  const unarmed = whyNotArmed(evidence, armLabel)
  if (unarmed !== null) return unarmed
  const found = hoverFindings(evidence)
  for (const mode of modesOf(sheet)) {
    const segment = segments.find(({ label }) => label === labelOf(mode))
    // One from which it never acts ends the take: the modes after it were not tried, and it fails all the same.
    if (segment === undefined && found.some(({ verdict }) => verdict === 'fail')) break
    const some = segment === undefined ? 'it was not tried' : switchedIn(evidence, segment, mode)
    if (typeof some === 'string') return refusal(`From ${modeName(mode)}: ${some}`, again)
    found.push(...some)
  }
  return found
}

const switchedIn = (evidence: Evidence, segment: Segment, mode: string): Finding[] | string => {
  const { events = [] } = segment
  if (typeof gapIn(segment) !== 'string') return 'the signal went: that is a loss, and not the switch'
  const on = switchedAt(segment, evidence, 'on', 'failsafe')
  if (on === null)
    return switchIn(segment, evidence, 'failsafe')?.isOn[0] === true
      ? 'its switch was on from the beginning: put it off first'
      : 'its switch was not put on'
  if (events.some(({ what, t }) => what === 'disarmed' && t < on)) return 'it was disarmed before'
  if (endsItself(events)) return 'it came to its end before the switch was off: put it off while it acts'
  const us = stickAt(segment, evidence, 'throttle', on)
  if (us === null || us < halfUs) return 'throttle was not over the middle as the switch went on'
  const was = modeIn(events, 'rate', on - 0.03, on - 0.029)
  if (was !== mode) return `it was in mode ${modeName(was)}, not in ${modeName(mode)}`
  const key = `${segment.label}.acts`
  const { max } = limitFor(evidence.sheet, 'loss.notice')
  const act = events.find(
    (event) => event.what === 'loss' && (event as { phase?: string }).phase === 'act' && event.t > on - 0.03,
  )
  if (act === undefined) return [judgedAs(key, 'never', `within ${max} s`, unheard)]
  const took = judged(key, Math.max(0, act.t - on), 's', { max }, unheard)
  const off = switchedAt(segment, evidence, 'off', 'failsafe')
  if (off === null) return 'its switch was not put off again'
  if (off - act.t < leastActS) return 'its switch was off again as soon as it acted'
  // From the switch on to the switch off is what a loss is from the last frame to the next one.
  const gap: Gap = { from: on, to: off }
  const phases = { ...phasesOf(events, gap), wait: act.t, act: act.t }
  const next = events.find(({ what, t }) => what === 'loss' && t > act.t)
  const whole = { ...phases, next: next?.t ?? null, recover: next?.t ?? null }
  return [
    took,
    ...actedFindings(evidence, segment, whole, null),
    ...timesOf(evidence, `${segment.label}.`, gap, whole).given,
    ...jumps(evidence, `${segment.label}.`, segment, whole),
    accountFinding(
      evidence,
      `${segment.label}.account`,
      accountOf(evidence, segment, { isArmed: true, isLevel: true, phases: phasesOfLoss(evidence, segment, gap, whole) }),
    ),
  ]
}
const leastActS = 0.5
const unheard = byHand(
  'Its switch does not bring it about. Take Switches again: the channel or the band of failsafe is another one; else write its firmware again.',
)
