import type { AsBuilt, Finding, Question, SheetPart } from '@taraf/contract'
import { byHand, defineCheck, shown } from '../check'
import { findingsOfList } from '../questions'
import { hasBoard } from '../sheetHas'
import { want } from '../take'

const questionsOf = (sheet: SheetPart): Question[] => [
  {
    id: 'tag',
    words: 'Tag on the frame, as it reads',
    why: 'The record is of this frame and no other: read it, or scan it, from the frame itself.',
    answer: 'text',
  },
  {
    id: 'built',
    words: `It is a ${sheet.title ?? 'craft'} as sheet ${sheet.type ?? ''} version ${sheet.version ?? ''} says.`,
    why: 'Every later limit comes from this sheet.',
    answer: 'so',
    remedy: byHand('Give the airframe the sheet that it was built to, or build it as its sheet says.'),
  },
  ...(sheet.parts ?? []).map(({ part, model, count }): Question => ({
    id: `part ${part}`,
    words: `${count > 1 ? `All ${count} of` : 'The'} ${part}: ${model}.`,
    why: 'Another model has other limits, signals and wiring.',
    answer: 'so',
    remedy: byHand(`Fit ${model}, or make a variant of the sheet that says what is fitted.`),
  })),
  {
    id: 'fresh',
    words: 'No part is re-used, repaired or altered.',
    why: 'A re-used part brings its hours and its knocks with it; the record must say so.',
    answer: 'so',
    remedy: byHand('Note which part it is and where it comes from, with its serial; a lead sets this aside or has it replaced.'),
  },
  {
    id: 'nothingMore',
    words: 'No wire or part is there that the sheet does not have.',
    why: 'What is not on the sheet is proved by no check.',
    answer: 'so',
    remedy: byHand('Take it off, or put it on a variant of the sheet.'),
  },
]

/** Which airframe this is, and whether it is what its sheet says. */
export const identity = defineCheck({
  id: 'intake.identity',
  version: 2,
  station: 'intake',
  title: 'Right airframe',
  proves: 'The frame is the one on this card, and it is built as its sheet says.',
  needs: [],
  reads: { settings: [], parts: ['frame'], acts: [], built: true, image: false },
  appliesTo: hasBoard,
  stages: null,
  *take({ sheet }) {
    yield* want.answers({
      label: 'list',
      ask: 'Nothing is powered. Compare the frame with its card and its sheet.',
      questions: questionsOf(sheet),
    })
  },
  evaluate: (evidence) => [
    ...findingsOfList(questionsOf(evidence.sheet), evidence, (question, answer) =>
      question.id === 'tag' ? judgeTag(String(answer).trim(), evidence.airframe) : null,
    ),
    ...serials(evidence.airframe),
  ],
})

const judgeTag = (read: string, airframe: AsBuilt | undefined): Finding | null => {
  if (airframe === undefined) return null
  const limit = { equals: airframe.tag }
  return read.toUpperCase() === airframe.tag.toUpperCase()
    ? { key: 'tag', value: read, unit: '', limit, verdict: 'pass' }
    : {
        key: 'tag',
        value: read,
        unit: '',
        limit,
        verdict: 'fail',
        remedy: byHand(`This frame is ${read}: put ${airframe.tag} on the bench, or open the card of ${read}.`),
      }
}

const serials = (airframe: AsBuilt | undefined): Finding[] =>
  airframe === undefined
    ? []
    : airframe.parts.map(({ part, model, serial, lot }) =>
        shown(
          `as built: ${part}`,
          `${model}${serial === null ? '' : `, serial ${serial}`}${lot === null ? '' : `, lot ${lot}`}`,
          '',
        ),
      )
