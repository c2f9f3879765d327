import type { Question, SheetPart } from '@taraf/contract'
import { byHand, defineCheck } from '../check'
import { findingsOfList } from '../questions'
import { hasBoard } from '../sheetHas'
import { want } from '../take'

const questionsOf = ({ pastBoard = [] }: SheetPart): Question[] => [
  {
    id: 'nothingElse',
    words:
      pastBoard.length === 0
        ? 'Nothing is fed straight from a channel of the receiver.'
        : 'Nothing else is fed straight from a channel of the receiver.',
    why: 'Disarm and failsafe cannot stop what bypasses the board: it can start when nobody armed.',
    answer: 'so',
    remedy: byHand('Unplug it; or put it on a variant of the sheet, so that it gets its own checks.', ['unplug past the board']),
  },
  ...pastBoard.map(({ channel, what }): Question => ({
    id: `past ${channel} ${what}`,
    words: `Channel ${channel}: ${what}, unplugged until its own checks.`,
    why: 'What it drives must not start while props, power and radio are tried.',
    answer: 'so',
    remedy: byHand(`Unplug the ${what} from channel ${channel} of the receiver.`, ['unplug past the board']),
  })),
]

/** What is fed past the board. Where the sheet has some, each gets its own checks before handover. */
export const pastBoard = defineCheck({
  id: 'intake.pastBoard',
  version: 2,
  station: 'intake',
  title: 'What bypasses the board',
  proves: 'What disarm and failsafe cannot stop is listed, and stays open until it has its own checks.',
  needs: [],
  reads: { settings: [], parts: ['receiver', 'receiver leads'], acts: [], image: false },
  appliesTo: hasBoard,
  stages: null,
  *take({ sheet }) {
    yield* want.answers({ label: 'list', ask: 'Follow every lead that leaves the receiver.', questions: questionsOf(sheet) })
  },
  opens: ({ sheet }) =>
    (sheet.pastBoard ?? []).flatMap(({ channel, what }) =>
      ['with props off', 'on its channel, both ends', 'with the signal lost'].map((how) => ({
        what: 'open' as const,
        words: `Check the ${what} on channel ${channel} ${how}.`,
        blocks: true,
      })),
    ),
  evaluate: (evidence) => findingsOfList(questionsOf(evidence.sheet), evidence),
})
