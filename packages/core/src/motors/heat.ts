import type { Evidence, Finding, Question, Remedy, Settings, SheetPart } from '@taraf/contract'
import { defineCheck, judged, refusal, verdictOf } from '../check'
import { outputWords, powered } from '../escs/read'
import { outputsOf } from '../geometry'
import { limitFor } from '../limits'
import { hasMotors } from '../sheetHas'
import { median } from '../statistics'
import { answersOf, findingsOfList } from '../questions'
import { want } from '../take'
import { leastRpm, rpmOf, streamsOf } from './speeds'
import { positionAt } from './told'

/** Long enough for a winding that is partly burnt to be told by the back of a hand (common practice). */
const share = 0.4
const runS = 15

export const heatWays = { item: 'heatBy', thermometer: 'with a thermometer', hand: 'with the back of the hand' } as const

/** None is hotter than its neighbours after a run. */
export const heat = defineCheck({
  id: 'motors.heat',
  version: 2,
  station: 'motors',
  title: 'Heat',
  proves: 'After a run, no motor is hotter than its neighbours.',
  words: (sheet) => ({
    ...Object.fromEntries(
      outputsOf(sheet).flatMap((output) => [
        [`heat${output}`, `Motor at output ${output}`],
        [`reading${output}`, `Bell of the motor at output ${output}`],
      ]),
    ),
    [heatWays.item]: 'Felt or measured',
  }),
  needs: ['motors.start'],
  reads: {
    settings: ['esc.signal', 'esc.replies'],
    parts: ['motor', 'ESC'],
    acts: ['board'],
    image: false,
    escs: ['timingDeg', 'switchingKHz'],
  },
  appliesTo: hasMotors,
  stages: null,
  *take({ sheet, settings }) {
    const outputs = outputsOf(sheet)
    yield* want.turn({
      label: 'run',
      ask: `Press and hold the button for ${runS} s: all motors turn, and warm up.`,
      during: 'Turning fast: keep holding, hands off the airframe',
      streams: ['escs'],
      seconds: runS,
      outputs: outputs.map((output) => ({ output, share })),
      runUpS: 1,
      state: powered,
    })
    const { observations = [] } = yield* want.answers(way)
    const isFelt = observations.find(({ item }) => item === heatWays.item)?.answer === heatWays.hand
    yield* want.answers({
      label: 'bells',
      ask: isFelt
        ? 'Touch each bell with the back of the hand, in this order, at once.'
        : 'Point the thermometer at each bell, in this order, at once.',
      questions: questionsOf(sheet, settings, isFelt),
    })
  },
  evaluate: (evidence) => heatFindings(evidence),
})

const way = {
  label: 'way',
  ask: 'The motors stand. Do not wait: they cool.',
  questions: [
    {
      id: heatWays.item,
      words: 'How their heat is known',
      why: 'A thermometer tells a few degrees apart; a hand tells which one is hot.',
      answer: [heatWays.thermometer, heatWays.hand],
    },
  ] satisfies Question[],
}

const questionsOf = (sheet: SheetPart, settings: Settings, isFelt: boolean): Question[] =>
  outputsOf(sheet).map((output): Question => {
    const position = positionAt(sheet, settings, output)
    return isFelt
      ? {
          id: `heat${output}`,
          words: `${position}: no hotter than the others`,
          why: 'A winding that is partly burnt, or a bearing that rubs, heats one motor alone.',
          answer: 'so',
          remedy: hotRemedy([output]),
        }
      : {
          id: `heat${output}`,
          words: `${position}: its bell reads`,
          why: 'A winding that is partly burnt, or a bearing that rubs, heats one motor alone.',
          answer: 'number',
          unit: 'C',
        }
  })

const heatFindings = (evidence: Evidence): Finding[] => {
  const { sheet } = evidence
  const outputs = outputsOf(sheet)
  const streams = streamsOf(evidence, 'run')
  const still = outputs.filter((output) => rpmOf(streams, output) < leastRpm)
  if (still.length > 0)
    return refusal(
      `the motor at ${outputWords(still)} did not turn all the while`,
      'Run it again, and hold the button to the end.',
    )
  const isFelt = answersOf(evidence).get(heatWays.item)?.answer === heatWays.hand
  const listed = [...way.questions, ...questionsOf(sheet, evidence.board.settings ?? {}, isFelt)]
  const found = findingsOfList(listed, evidence)
  if (isFelt || verdictOf(found) === 'refused') return found
  const read = outputs.map((output) => ({ output, degrees: Number(answersOf(evidence).get(`heat${output}`)?.answer) }))
  const none = read.filter(({ degrees }) => !(degrees >= coldest && degrees <= hottest))
  if (none.length > 0)
    return refusal(
      `what was read at ${outputWords(none.map((n) => n.output))} is no bell’s: they lie from ${coldest} to ${hottest} C`,
      'Run it again, and read the thermometer in degrees Celsius.',
    )
  const { max } = limitFor(sheet, 'heat.above')
  const most = limitFor(sheet, 'heat.most').max
  return read.flatMap(({ output, degrees }) => {
    const others = median(read.filter((other) => other.output !== output).map((other) => other.degrees))
    return [
      judged(`heat${output}`, degrees - others, 'C above the others', { max }, hotRemedy([output])),
      judged(`reading${output}`, degrees, 'C', { max: most }, hotRemedy([output])),
    ]
  })
}

const [coldest, hottest] = [-20, 200]

const hotRemedy = (outputs: readonly number[]): Remedy => ({
  by: 'work',
  act: `Battery out. The motor at ${outputWords(outputs)} grows hotter than its neighbours: turn it by hand, look at its windings for a dark one, and replace it.`,
  work: ['replace motor'],
  outputs: [...outputs],
})
