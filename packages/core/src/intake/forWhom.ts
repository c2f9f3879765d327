import type { Question, SheetPart } from '@taraf/contract'
import { byHand, defineCheck } from '../check'
import { findingsOfList } from '../questions'
import { hasBoard } from '../sheetHas'
import { want } from '../take'

const questionsOf = (sheet: SheetPart): Question[] => [
  {
    id: 'pilot',
    words: 'Who flies it',
    why: 'It decides the resting flight mode, what it does at zero throttle, and how sharp the sticks are.',
    answer: ['a learner', 'a trained pilot', 'an expert'],
  },
  { id: 'purpose', words: 'What for', why: 'It decides how calm or quick the airframe must be.', answer: 'text' },
  {
    id: 'payload',
    words: 'What it carries, all in all',
    why: 'The hover throttle and the gains are those of this weight.',
    answer: 'number',
    unit: 'kg',
  },
  { id: 'weight', words: 'Ready to fly, with pack and payload', why: 'Weighed, not added up.', answer: 'number', unit: 'kg' },
  {
    id: 'packs',
    words: 'Packs that it will fly on: cells, capacity, how many',
    why: 'The battery warnings are set for these.',
    answer: 'text',
  },
  {
    id: 'transmitter',
    words: 'Transmitter that flies it',
    why: 'Ends, centres and switches are measured with it.',
    answer: 'text',
  },
  {
    id: 'sticks',
    words: 'Throttle is on the',
    why: 'Which stick arms, and all that is said about sticks, depends on it.',
    answer: ['left stick', 'right stick'],
  },
  ...(sheet.contents ?? []).map((content): Question => ({
    id: `packed ${content}`,
    words: `There: ${content}.`,
    why: 'It is on the packing list.',
    answer: 'so',
    remedy: byHand(`Lay ${content} with it, or note that it follows later as an open item.`),
  })),
]

/** Who will fly it and how: what later stations choose by. It is asked once; nothing spoils it. */
export const forWhom = defineCheck({
  id: 'intake.forWhom',
  version: 1,
  station: 'intake',
  title: 'Use and documents',
  proves: 'Its use is known, and everything that goes with it is there.',
  needs: [],
  reads: { settings: [], parts: [], acts: [], image: false },
  appliesTo: hasBoard,
  stages: null,
  *take({ sheet }) {
    yield* want.answers({
      label: 'list',
      ask: 'Ask the person who ordered it, or read the order.',
      questions: questionsOf(sheet),
    })
  },
  evaluate: (evidence) => findingsOfList(questionsOf(evidence.sheet), evidence),
})
