import type { Evidence, Finding, Question, Remedy, Settings, SheetPart, WantOf } from '@taraf/contract'
import { byHand, defineCheck, judged, judgedAs, refusal } from '../check'
import { limitFor } from '../limits'
import { findingsOfList } from '../questions'
import { onTheWay } from '../radio/sticks'
import { canBeArmed } from '../sheetHas'
import { signalsOf } from '../signals'
import { want } from '../take'
import { accountOfStep } from './account'
import { armedAnswers } from './asked'
import { triedIn } from './attempt'
import { cornerSince, switchedAt } from './moved'
import { notArmed } from './unarmed'
import { isOfArming, armWords, ready, rulesOf } from './rules'

/** Watches until the board is armed, from where its switch is off. */
export const armingStep = (sheet: SheetPart, label: string, more = ''): WantOf<'watch'> => {
  const { on, off } = armWords(rulesOf(sheet))
  return {
    kind: 'watch',
    permit: 'armed-bench',
    streams: ['radio', 'outputs'],
    mayLack: ['radio', 'outputs'],
    label,
    ask: `${off}, throttle down, laid level. Then ${on}.${more}`,
    seconds: 60,
    until: ['armed'],
    // What was received comes a moment later than what it caused.
    afterS: 0.3,
    atOnce: true,
    state: ready,
  }
}

/** It arms by the sheet's way, and only then; and says so. */
export const arms = defineCheck({
  id: 'arming.arms',
  version: 2,
  station: 'arming',
  title: 'Must arm',
  proves: 'It arms by the sheet’s way, by nothing else, and says so.',
  words: {
    armed: 'Armed by',
    took: 'From the switch to armed',
    account: 'Motors until it armed, and as it did',
    [armedAnswers.light]: 'Light while it was armed',
  },
  needs: ['arming.refuses'],
  reads: {
    settings: ['arm.*', 'switch.arm.*', 'radio.throttle.*', 'radio.yaw.*'],
    parts: ['board', ...onTheWay],
    acts: ['board', 'transmitter'],
    onTransmitter: isOfArming(false),
    image: true,
  },
  appliesTo: canBeArmed,
  stages: null,
  *take({ sheet }) {
    yield* want.state({ label: 'ready', ask: 'Battery in, props and nuts off, transmitter on, throttle down.', state: ready })
    yield armingStep(sheet, 'arm', ' Look at the light of the board as it arms, and listen.')
    const questions = questionsOf(sheet)
    if (questions.length > 0) yield* want.answers({ label: 'said', ask: 'It is disarmed again. Say what it showed.', questions })
  },
  evaluate: (evidence) => armsFindings(evidence),
})

/** The lights of the board, as its part lists them. */
const boardLights = (sheet: SheetPart) =>
  signalsOf(sheet, 'board').flatMap(({ signals }) => signals.filter(({ by }) => by === 'light'))
const notSeen = 'not seen'

const questionsOf = (sheet: SheetPart): Question[] => {
  const lights = boardLights(sheet)
  if (!lights.some(({ tells }) => tells === 'armed')) return []
  return [
    {
      id: armedAnswers.light,
      words: 'Light of the board while it was armed',
      why: 'In the field there is no screen: the person who picks it up must see that it is armed.',
      answer: [...new Set(lights.map(({ shows }) => shows)), notSeen],
    },
  ]
}

const armsFindings = (evidence: Evidence): Finding[] => {
  const { sheet, board } = evidence
  const segment = evidence.segments.find(({ label }) => label === 'arm')
  if (segment === undefined) return refusal('it was not tried', 'Run it again.')
  const { armedAt, reasons } = triedIn(segment)
  const { bySwitch } = rulesOf(sheet)
  const moved = bySwitch ? switchedAt(segment, evidence, 'on') : cornerSince(segment, evidence, 'right')
  if (armedAt === null) {
    if (reasons !== null) return notArmed(evidence, segment, reasons)
    return moved === null
      ? refusal('nobody asked it to arm', `Run it again, and ${armWords(rulesOf(sheet)).on} when it is asked.`)
      : [judgedAs('armed', 'nothing', way(bySwitch), wayRemedy(sheet, board.settings))]
  }
  if (moved === null || moved > armedAt + 1e-3) return [judgedAs('armed', 'itself', way(bySwitch), itself)]
  const said = findingsOfList(questionsOf(sheet), evidence, (question, answer) => {
    const wanted = boardLights(sheet).find(({ tells }) => tells === 'armed')?.shows ?? ''
    return judgedAs(question.id, answer, wanted, noLight)
  })
  const found = [judgedAs('armed', way(bySwitch), way(bySwitch))]
  const took = judged('took', armedAt - moved, 's', { max: limitFor(sheet, 'arming.took').max }, slow)
  return [...found, took, ...accountOfStep(evidence, [segment]), ...said]
}

const way = (bySwitch: boolean) => (bySwitch ? 'its switch' : 'its sticks')
const itself = byHand(
  'It armed before it was asked to. Do not put props on it: look at the switch and its channel, at the bands of the switch plan, then take Switches and this check again.',
)
const slow = byHand('Look at the rate of the radio and at what the board waits for before it arms.')
const noLight = byHand(
  'Look at the light again while it is armed. If it is dark or another one, look at its lead and its setting.',
)
const wayRemedy = (sheet: SheetPart, settings: Settings | undefined): Remedy => {
  const { bySwitch } = rulesOf(sheet)
  const wanted = bySwitch ? 0 : 1
  return settings?.['arm.way'] !== undefined && settings['arm.way'] !== wanted
    ? { by: 'settings', act: `Have it arm by ${way(bySwitch)}.`, settings: { 'arm.way': wanted } }
    : byHand('It did not arm. Take Switches again: the channel or the band of arming is another one.')
}
