import type { Evidence, Finding, Question, Remedy, Settings, SheetPart } from '@taraf/contract'
import { byHand, defineCheck, judged, judgedAs, refusal } from '../check'
import { want } from '../take'
import { findingsOfList } from '../questions'
import { drivenPositions } from './told'

/** Which prop goes on one position. */
export interface PlannedProp {
  readonly position: string
  readonly boom: string
  /** The output that drives it. */
  readonly output: number
  readonly turn: 'clockwise' | 'anticlockwise'
  readonly sits: 'puller' | 'pusher'
  readonly mark: string
}

/** Which prop goes where: the hand is that of the motor's turn, and a mirrored board turns them all the other way. */
export const propPlanOf = (sheet: SheetPart, settings: Settings = {}): PlannedProp[] => {
  const { rotor } = sheet
  const props = rotor?.props
  if (props === undefined) return []
  const mirrored = settings['motors.mirrored'] === 1
  return drivenPositions(sheet, settings).map((position) => {
    const turn = mirrored ? opposite[position.turn] : position.turn
    const sits = position.tier === 'lower' ? (rotor?.lower ?? 'pusher') : 'puller'
    return { position: position.name, boom: position.boom, output: position.output, turn, sits, mark: props[turn] }
  })
}
const opposite = { clockwise: 'anticlockwise', anticlockwise: 'clockwise' } as const

export const propAnswers = { right: 'this one, whole', other: 'another one', damaged: 'this one, damaged' } as const
const hands = ['clockwise', 'anticlockwise'] as const
const keyOf = (i: number): string => `prop${i + 1}`

/** The right prop lies ready for each position, as many as there are of each hand, and none is damaged. */
export const propPlan = defineCheck({
  id: 'motors.propPlan',
  version: 1,
  station: 'motors',
  title: 'Prop plan',
  proves: 'For every position the right prop lies ready, whole, and as many as there are of each hand.',
  words: (sheet) => ({
    ...Object.fromEntries(propPlanOf(sheet).map(({ position }, i) => [keyOf(i), `Prop for ${position}`])),
    clockwise: 'Clockwise props',
    anticlockwise: 'Anticlockwise props',
  }),
  needs: ['motors.order'],
  reads: { settings: ['motors.mirrored'], parts: [], acts: ['prop'], image: false },
  appliesTo: (sheet) => sheet.geometry !== undefined && sheet.rotor?.props !== undefined,
  stages: null,
  *take({ sheet, settings }) {
    yield* want.state({ label: 'out', ask: 'Take the battery out: hands go where props turn.', state: { battery: false } })
    yield* want.answers({
      label: 'list',
      ask: 'Lay each prop beside its boom, and look along its edges. Do not mount it yet.',
      questions: questionsOf(sheet, settings),
    })
  },
  evaluate: (evidence) => planFindings(evidence),
})

const questionsOf = (sheet: SheetPart, settings: Settings | undefined): Question[] => {
  const plan = propPlanOf(sheet, settings)
  return [
    ...plan.map((planned, i): Question => ({
      id: keyOf(i),
      words: wordsOf(planned),
      why: 'A prop of the other hand pushes the wrong way; a nick in its edge is where it breaks.',
      answer: [propAnswers.right, propAnswers.other, propAnswers.damaged],
      booms: [planned.boom],
    })),
    ...hands.flatMap((turn): Question[] => {
      const mark = sheet.rotor?.props?.[turn]
      return mark === undefined
        ? []
        : [
            {
              id: turn,
              words: `Props marked ${mark}, ${turn}, that lie beside the booms: their count`,
              why: 'One too many of a hand is one too few of the other.',
              answer: 'number',
              unit: 'props',
            },
          ]
    }),
  ]
}

const planFindings = (evidence: Evidence): Finding[] => {
  const { sheet, board } = evidence
  const plan = propPlanOf(sheet, board.settings)
  if (plan.length === 0)
    return refusal('the sheet says nothing of its props', 'Write their marks into the build sheet, under Rotor.')
  return findingsOfList(questionsOf(sheet, board.settings), evidence, ({ id }, answer) => {
    const i = plan.findIndex((_, at) => keyOf(at) === id)
    const planned = plan[i]
    if (planned !== undefined) return judgedAs(id, answer, propAnswers.right, propRemedy(answer === propAnswers.damaged, planned))
    const count = plan.filter(({ turn }) => turn === id).length
    const remedy = byHand(`${count} of this hand are wanted: put away what is too much, fetch what is missing, count again.`)
    return judged(id, Number(answer), 'props', { min: count, max: count }, remedy)
  })
}

const wordsOf = ({ position, mark, turn, sits }: PlannedProp): string => `${position}: marked ${mark}, ${turn}, ${sits}`

const propRemedy = (isDamaged: boolean, planned: PlannedProp): Remedy => ({
  by: 'work',
  act: isDamaged
    ? `Throw it away: a damaged prop breaks in the air. Lay a new one there. ${wordsOf(planned)}.`
    : `Lay the right one there. ${wordsOf(planned)}.`,
  work: [isDamaged ? 'replace prop' : 'put right prop'],
  outputs: [planned.output],
})
