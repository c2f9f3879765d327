import type { Question } from '@taraf/contract'
import { byHand, defineCheck } from '../check'
import { findingsOfList } from '../questions'
import { hasBoard } from '../sheetHas'
import { want } from '../take'

const questions: readonly Question[] = [
  {
    id: 'incoming',
    words: 'The board passed its own incoming test before it was built in.',
    why: 'A fault found later can then be traced to the maker or to the bench.',
    answer: 'so',
    remedy: byHand('Note that it was built in untested: what the board fails from here on cannot be sent back as new.'),
  },
  {
    id: 'testedBy',
    words: 'Who tested it, and when',
    why: 'Somebody can be asked what they saw.',
    answer: 'text',
    optional: true,
  },
  {
    id: 'hidden',
    words: 'What the cover will hide is photographed.',
    why: 'A closed airframe is not opened to see how a lead lies; the photo shows it.',
    answer: 'so',
    remedy: byHand('Photograph it now, before the cover goes on.'),
  },
]

/** What can only be known before the airframe is closed. It happened once; only another board makes it new. */
export const incoming = defineCheck({
  id: 'intake.incoming',
  version: 1,
  station: 'intake',
  title: 'Incoming inspection',
  proves: 'The board was tested before it was built in, and what will be hidden can be looked at later.',
  needs: [],
  reads: { settings: [], parts: [], acts: ['board'], image: false },
  appliesTo: hasBoard,
  stages: null,
  *take() {
    yield* want.answers({
      label: 'list',
      ask: 'Ask the person who built it, or read the slip in the box.',
      questions: [...questions],
    })
  },
  evaluate: (evidence) => findingsOfList(questions, evidence),
})
