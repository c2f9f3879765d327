import type { Evidence, Finding, Segment, SheetPart, WantOf } from '@taraf/contract'
import { halfUs, stickAt, switchedAt } from '../arming/moved'
import { isOfArming, rulesOf } from '../arming/rules'
import { byHand, defineCheck, judged, judgedAs, refusal, shown } from '../check'
import { hoverFindings } from '../hover/known'
import { hoverWords } from '../hover/words'
import { limitFor } from '../limits'
import { onTheWay } from '../radio/sticks'
import { canBeArmed } from '../sheetHas'
import { modeName } from '../switches/modeName'
import { want } from '../take'
import {
  allOff,
  armedIn,
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
import { accountFinding, accountOf } from '../arming/account'
import { gapIn, modeIn } from './phases'
import { mostHomeM, plainest } from './losses'
import { again, setting } from '../remedy'
import { fallIn } from './responseFindings'

const home = 'returnHome'
const hasSwitch = (sheet: SheetPart): boolean => sheet.switchPlan?.some((row) => row.function === home) === true

interface Place {
  readonly id: 'covered' | 'open'
  readonly words: string
  readonly fixed: boolean
}
const places: readonly Place[] = [
  { id: 'covered', words: 'Without a fix', fixed: false },
  { id: 'open', words: 'With a fix', fixed: true },
]
const covered = 'Cover its position antenna until the fix is gone.'
const arming = (sheet: SheetPart, place: Place): WantOf<'watch'> =>
  armedIn(sheet, armLabel(place), plainest(sheet), place.fixed ? '' : covered)
/** A board that does not arm without a fix shows that at the station Arming. */
const placesOf = (sheet: SheetPart): readonly Place[] => places.filter(({ fixed }) => fixed || !rulesOf(sheet).wantsFix)
const armLabel = ({ id }: Place): string => `arm-${id}`
const labelOf = ({ id }: Place): string => `home-${id}`

const asking = (sheet: SheetPart, place: Place): WantOf<'watch'> => {
  const plain = plainest(sheet)
  return {
    kind: 'watch',
    ...taken,
    label: labelOf(place),
    streams: ['radio', 'outputs', 'fix'],
    mayLack: ['radio', 'fix'],
    ask: `Mode ${modeName(plain)}, throttle just over the middle. Then put the switch of return home on, wait for two seconds, and put it off.`,
    during: 'Armed: the switch of return home on, and off again after two seconds',
    // Where the mode does not change without a fix, there is nothing to wait for.
    seconds: place.fixed || plain === 'rate' ? 60 : 15,
    until: [`mode:${plain}`],
    afterS: 0.4,
  }
}

/** What is tried, in its order, and by which step. */
export const homeTried = (sheet: SheetPart): Tried[] =>
  placesOf(sheet).map((place) => ({
    label: labelOf(place),
    words: place.fixed ? 'With fix and home: it flies home.' : 'Without a fix: it must not try.',
  }))

/** It comes home only where it knows where it is, and over what stands in the way. */
export const returnHome = defineCheck({
  id: 'failsafe.returnHome',
  version: 5,
  station: 'failsafe',
  title: 'Return home',
  proves: 'It flies home only with fix and home, over what stands in the way and no higher than it may.',
  words: {
    ...hoverWords,
    'home-covered': 'Asked for without a fix: mode',
    'home-open': 'Asked for with a fix: mode',
    lift: 'Held up on its way home',
    over: 'Height of the way home, over what stands there',
    height: 'Height of the way home',
    'home-covered.account': 'Asked for without a fix: motors, moment by moment',
    'home-open.account': 'Asked for with a fix: motors, moment by moment',
    distance: 'Furthest from home',
    below: 'What is below',
  },
  needs: ['failsafe.response', 'sensors.position'],
  reads: {
    settings: [
      'home.*',
      'arm.*',
      'switch.arm.*',
      'switch.returnHome.*',
      'radio.throttle.*',
      'socket.*',
      'rotor.hover',
      'bound.distance',
      'motors.idle',
      'motors.most',
    ],
    parts: ['board', 'position receiver', ...onTheWay],
    acts: ['board', 'transmitter'],
    onTransmitter: (set, sheet) =>
      isOfArming(false)(set, sheet) ||
      sheet.switchPlan?.some(
        (row) => row.function === home && (row.channel === set.channel || row.with?.channel === set.channel),
      ) === true,
    image: true,
    hover: true,
  },
  appliesTo: (sheet) => canBeArmed(sheet) && hasSwitch(sheet),
  stages: null,
  *take(soFar) {
    const { sheet } = soFar
    yield* want.state(readyFor(sheet))
    for (const place of placesOf(sheet)) {
      if (place.fixed && !(yield* fixedFirst(sheet, armLabel(place)))) break
      const { short } = yield arming(sheet, place)
      if (short === true) break
      const whyNot = (segment: Segment) => wordsIn(askedIn(soFarOf(soFar, returnHome.id, segment), segment, place))
      const goesOn = yield* tried(asking(sheet, place), whyNot)
      if (!goesOn && place.fixed) break
    }
    yield* want.state(allOff)
  },
  stepsOf: ({ sheet, segments }) =>
    placesOf(sheet)
      .flatMap((place) => [...(place.fixed ? [underSky(armLabel(place))] : []), arming(sheet, place), asking(sheet, place)])
      .filter(({ label }) => segments.some((segment) => segment.label === label)),
  evaluate: (evidence) => homeFindings(evidence),
  opens: ({ sheet }) =>
    sheet.home === undefined
      ? [{ what: 'open', words: 'The sheet does not say what stands in the way home: nobody judged the height.', blocks: true }]
      : [],
})

const homeFindings = (evidence: Evidence): Finding[] => {
  const { sheet, segments } = evidence
  const found: Finding[] = []
  for (const place of placesOf(sheet)) {
    const unarmed = whyNotArmed(evidence, armLabel(place))
    if (unarmed !== null) return unarmed
    const segment = segments.find(({ label }) => label === labelOf(place))
    const one = segment === undefined ? 'it was not tried' : askedIn(evidence, segment, place)
    if (typeof one === 'string') return refusal(`${place.words}: ${one}`, again)
    found.push(...one)
  }
  return [...hoverFindings(evidence), ...found, ...heightFindings(evidence)]
}

const leastOnS = 1.8
/** Which mode it went into as its switch was put on, and that it is held up in it; or why that is not told. */
const askedIn = (evidence: Evidence, segment: Segment, { fixed }: Place): Finding[] | string => {
  const { events = [], streams } = segment
  if (typeof gapIn(segment) !== 'string') return 'the signal went'
  const on = switchedAt(segment, evidence, 'on', home)
  const off = switchedAt(segment, evidence, 'off', home)
  if (on === null || off === null || off - on < leastOnS) return 'its switch was not put on for two seconds, and off again'
  if (events.some(({ what, t }) => what === 'disarmed' && t < off)) return 'it was disarmed meanwhile'
  const us = stickAt(segment, evidence, 'throttle', on)
  if (us === null || us < halfUs) return 'throttle was not over the middle as the switch went on'
  const fixes = Array.from(streams.fix?.fixed ?? [])
  if (fixed && (fixes.length === 0 || fixes.some((one) => one === 0))) return 'there was no fix all the while'
  if (!fixed && fixes.some((one) => one > 0)) return 'the fix was still there'
  const account = accountFinding(
    evidence,
    `${segment.label}.account`,
    accountOf(evidence, segment, { isArmed: true, phases: [] }),
  )
  const mode = modeIn(events, 'rate', on + 0.1, off - 0.05)
  if (!fixed)
    return [judgedAs(segment.label, modeName(mode), mode === home ? 'another one' : modeName(mode), triesBlind), account]
  const found = judgedAs(segment.label, modeName(mode), modeName(home), notHome)
  if (mode !== home) return [found, account]
  if (streams.outputs === undefined) return 'no output was sampled'
  const fall = fallIn(evidence, streams.outputs, 'lift', { from: on, to: off })
  return fall === null ? [found, account] : [found, fall, account]
}
const notHome = byHand(
  'It has a fix and does not fly home: look at whether home was set as it was armed, and take Switches again: the band of return home may be another one.',
)
const triesBlind = byHand('Do not fly it. It flies home without knowing where it is: write its firmware again.')

/** The height at which it comes home, against what stands in the way and what it may. */
const heightFindings = (evidence: Evidence): Finding[] => {
  const { sheet, board } = evidence
  const height = board.settings?.['home.height']
  if (height === undefined) return []
  const named = sheet.home
  if (named === undefined) return [shown('height', height, 'm')]
  const { obstaclesM, mostHeightM = mostHomeM, mostDistanceM, below } = named
  const over = limitFor(sheet, 'home.over')
  const least = obstaclesM + (over.min ?? 0)
  const right = setting(evidence, 'Have it come home over what stands in the way, and no higher than it may.', {
    'home.height': sheet.settings?.['home.height'] ?? Math.min(mostHeightM, Math.ceil(least)),
  })
  return [
    judged('over', height - obstaclesM, 'm', { min: over.min }, right),
    judged('height', height, 'm', { max: mostHeightM }, right),
    ...boundFindings(evidence, mostDistanceM),
    shown('below', below, ''),
  ]
}

/** So far a pilot sees it (common practice); a sheet that allows more has it fly a route that bounds it. */
const inSightM = 500

/** The distance that the board keeps within, against that of the sheet; zero on the board is none. */
const boundFindings = (evidence: Evidence, wanted: number | undefined): Finding[] => {
  const set = evidence.board.settings?.['bound.distance']
  if (wanted === undefined) return []
  if (set === undefined || wanted > inSightM) return [shown('distance', wanted, 'm')]
  const remedy = setting(evidence, `Have the board keep within ${wanted} m, as the sheet says.`, { 'bound.distance': wanted })
  return [
    set === 0
      ? judgedAs('distance', 'no bound', `within ${wanted} m`, remedy)
      : judged('distance', set, 'm', { max: wanted }, remedy),
  ]
}
