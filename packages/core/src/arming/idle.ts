import type { Evidence, Finding, Question, Remedy, Settings, SheetPart, WantOf } from '@taraf/contract'
import { byHand, defineCheck, judged, judgedAs, refusal, shown } from '../check'
import { escsTell, ofOutput, tellsSpeeds } from '../escs/read'
import { outputsOf } from '../geometry'
import { limitFor } from '../limits'
import { apart, leastRpm, oddOnes, outputColumn, rpmOf } from '../motors/speeds'
import { notTurning, type Standing } from '../motors/stands'
import { positionAt } from '../motors/told'
import { answersOf, findingsOfList } from '../questions'
import { onTheWay } from '../radio/sticks'
import { canBeArmed } from '../sheetHas'
import { mean } from '../statistics'
import { want } from '../take'
import { armingStep } from './arms'
import { armedAnswers } from './asked'
import { ready, rulesOf } from './rules'
import { whyUnarmed } from './unarmed'

const idleS = 4

const idling = {
  kind: 'capture',
  label: 'idle',
  ask: `Leave it armed, throttle down, hands off, for ${idleS} s. Look at every motor.`,
  during: 'Armed: hands off, throttle down',
  permit: 'armed-bench',
  streams: ['outputs', 'escs'],
  mayLack: ['escs'],
  seconds: idleS,
  enoughS: 2,
  atOnce: true,
  state: { ...ready, armed: true },
} as const satisfies WantOf<'capture'>

/** What the motors do while it is armed with throttle down, seen and measured. */
export const idle = defineCheck({
  id: 'arming.idle',
  version: 2,
  station: 'arming',
  title: 'Idle',
  proves: 'Armed with throttle down, the motors do what the sheet says, evenly.',
  words: (sheet) => ({
    effect: 'Armed, throttle down',
    lifts: 'Idle, of what holds it up',
    spread: 'Between the fastest and the slowest',
    ...Object.fromEntries(
      outputsOf(sheet).flatMap((output) => [
        [`idle${output}`, `Motor at output ${output}`],
        [`swing${output}`, `Motor at output ${output}: hunts by`],
        [idlesId(output), `Motor at output ${output}, as it was seen`],
      ]),
    ),
  }),
  needs: ['arming.arms'],
  reads: {
    settings: ['motors.turnWhenArmed', 'motors.idle', 'esc.signal', 'esc.replies', 'esc.poles', 'output.*'],
    // Whether it arms at all is part of it.
    parts: ['board', 'ESC', 'motor', 'power wiring', ...onTheWay],
    acts: ['board', 'transmitter'],
    onTransmitter: ({ name }) => name === 'inverted',
    image: true,
    escs: ['startPower', 'timingDeg'],
  },
  appliesTo: canBeArmed,
  stages: null,
  *take({ sheet, settings }) {
    yield* want.state({ label: 'ready', ask: 'Battery in, props and nuts off, transmitter on, throttle down.', state: ready })
    const { short } = yield armingStep(sheet, 'arm')
    if (short === true) return
    yield idling
    const questions = questionsOf(sheet, settings)
    if (questions.length > 0)
      yield* want.answers({ label: 'seen', ask: 'It is disarmed again. Say what each motor did while it was armed.', questions })
  },
  optional: [idling, { kind: 'answers', label: 'seen', ask: 'Say what each motor did.', questions: [] }],
  evaluate: (evidence) => idleFindings(evidence),
})

const idlesId = (output: number): string => `idles${output}`

/** Asked where no ESC tells how fast it turns. */
const questionsOf = (sheet: SheetPart, settings: Settings | undefined): Question[] =>
  tellsSpeeds(settings) && escsTell(sheet)
    ? []
    : outputsOf(sheet).map((output) => ({
        id: idlesId(output),
        words: `${positionAt(sheet, settings, output)}: armed, throttle down, it`,
        why: 'These ESCs do not tell how fast they turn: only you have seen it.',
        answer: [armedAnswers.turns, armedAnswers.stutters, armedAnswers.stands],
      }))

const idleFindings = (evidence: Evidence): Finding[] => {
  const { sheet, board, segments } = evidence
  const unarmed = whyUnarmed(evidence, 'arm')
  if (unarmed !== null) return unarmed
  const segment = segments.find(({ label }) => label === 'idle')
  if (segment === undefined) return refusal('it was not left armed', 'Run it again, and leave it armed with throttle down.')
  const { streams } = segment
  const outputs = outputsOf(sheet)
  const command = streams.outputs?.command
  if (command !== undefined && Math.max(...Array.from(command)) > 0)
    return refusal('throttle was not down', 'Run it again with throttle down.')
  const { turns } = rulesOf(sheet)
  const told = outputs.some((output) => mean(outputColumn(streams, output) ?? [0]) > 0)
  const listed = findingsOfList(questionsOf(sheet, board.settings), evidence, (question, answer) =>
    judgedAs(
      question.id,
      answer,
      turns ? armedAnswers.turns : armedAnswers.stands,
      seenRemedy(Number(question.id.slice(5)), evidence),
    ),
  )
  const effect = judgedAs(
    'effect',
    told ? 'they are told to turn' : 'they are told nothing',
    turns ? 'they are told to turn' : 'they are told nothing',
    effectRemedy(turns),
  )
  if (questionsOf(sheet, board.settings).length > 0) return [effect, ...listed]
  if (streams.escs === undefined)
    return refusal('the ESCs did not tell how fast they turn', 'Make sure that the ESCs answer, then run it again.')
  if (!turns) {
    const turning = outputs.filter((output) => rpmOf(streams, output) >= leastRpm)
    return [effect, ...turning.map((output) => judgedAs(`idle${output}`, 'turns', 'stands', effectRemedy(turns)))]
  }
  if (!told) return [effect]
  const lifts = liftsFinding(evidence, Math.max(...outputs.map((output) => mean(outputColumn(streams, output) ?? [0]))))
  const { max } = limitFor(sheet, 'idle.swing')
  const speeds = outputs.map((output) => ({ output, rpm: rpmOf(streams, output) }))
  const still = speeds.filter(({ rpm }) => rpm < leastRpm)
  const found = speeds.flatMap(({ output, rpm }) =>
    rpm < leastRpm
      ? [judgedAs(`idle${output}`, 'stands', 'turns', lowRemedy(evidence, output, 'stands'))]
      : [
          shown(`idle${output}`, rpm, 'rpm'),
          judged(
            `swing${output}`,
            swingOf(ofOutput(streams.escs, 'rpm', output) ?? []),
            '% rms of its speed',
            { max },
            lowRemedy(evidence, output, 'stutters'),
          ),
        ],
  )
  if (still.length > 0) return [effect, lifts, ...found]
  const spread = limitFor(sheet, 'idle.spread').max
  const odd = oddOnes(speeds, spread ?? 0)
  return [effect, lifts, ...found, judged('spread', apart(speeds), '% of the middle one', { max: spread }, uneven(odd))]
}

/** What idles against what hovers: one that nearly lifts cannot be landed. */
const liftsFinding = ({ sheet, board }: Evidence, idles: number): Finding => {
  const hovers = sheet.rotor?.hover ?? usualHover
  const wanted = rulesOf(sheet).idle
  const isSet = board.settings?.['motors.idle'] === wanted
  return judged(
    'lifts',
    (100 * idles) / hovers,
    '% of the command in hover',
    { max: limitFor(sheet, 'idle.lifts').max },
    isSet
      ? byHand('Battery out. The motors idle faster than the board is set to: take Range of the signal again, then this check.')
      : { by: 'settings', act: 'Lower the idle command: it nearly lifts.', settings: { 'motors.idle': wanted } },
  )
}
/** Of full command, where the sheet does not say (common practice). */
const usualHover = 0.4

/** How far a speed strays from its own mean, % rms. */
const swingOf = (rpm: ArrayLike<number>): number => {
  const middle = mean(Array.from(rpm))
  return (100 * Math.sqrt(mean(Array.from(rpm, (one) => (one - middle) ** 2)))) / Math.max(1, middle)
}

const effectRemedy = (turns: boolean): Remedy => ({
  by: 'settings',
  act: turns ? 'Have the motors turn when it is armed.' : 'Have the motors stand when it is armed.',
  settings: { 'motors.turnWhenArmed': turns ? 1 : 0 },
})
const uneven = (outputs: readonly number[]): Remedy =>
  byHand(
    `Battery out. Turn the motors by hand${outputs.length === 0 ? '' : `, those at output ${outputs.join(', ')} first`}: one that is stiff is replaced. Then take Motor start again.`,
  )

/** A motor that does not idle: told too little, or it cannot. */
const lowRemedy = ({ sheet, board: { settings } }: Evidence, output: number, how: Standing['how']): Remedy => {
  const wanted = rulesOf(sheet).idle
  return (settings?.['motors.idle'] ?? wanted) < wanted
    ? { by: 'settings', act: 'Raise the idle command: it does not turn every motor.', settings: { 'motors.idle': wanted } }
    : notTurning({ output, how })
}

const noneTurns = byHand(
  'Battery out. None of them turns: what the board gives for idle is zero to these ESCs. Take Range of the signal again, then this check.',
)

const seenRemedy = (output: number, evidence: Evidence): Remedy => {
  const answer = answersOf(evidence).get(idlesId(output))?.answer
  const { turns } = rulesOf(evidence.sheet)
  if (!turns || answer === armedAnswers.turns) return effectRemedy(turns)
  const allStand = outputsOf(evidence.sheet).every((one) => answersOf(evidence).get(idlesId(one))?.answer === armedAnswers.stands)
  if (allStand) return noneTurns
  return lowRemedy(evidence, output, answer === armedAnswers.stands ? 'stands' : 'stutters')
}
