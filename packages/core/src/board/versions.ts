import type { Question, SheetPart } from '@taraf/contract'
import { defineCheck } from '../check'
import { want } from '../take'
import { findingsOfList } from '../questions'

const partOf = (id: string) => id.replace(/^version of /, '')

const questionsOf = (sheet: SheetPart): Question[] =>
  (sheet.versions ?? []).map(({ part, approved }) => ({
    id: `version of ${part}`,
    words: `Version of the ${part}, as it shows it`,
    why: `The sheet approves ${approved.join(', ')}; another may speak another way to the board.`,
    answer: 'text',
  }))

/** Every other part with firmware: the version that it shows against those that the sheet approves. */
export const versions = defineCheck({
  id: 'board.versions',
  version: 1,
  station: 'board',
  title: 'Firmware of the other parts',
  proves: 'Every other part that has firmware runs a version that the sheet approves.',
  words: ({ versions = [] }) => Object.fromEntries(versions.map(({ part }) => [`version of ${part}`, `Version of the ${part}`])),
  needs: [],
  reads: {
    settings: [],
    parts: ['part firmware', 'receiver', 'position receiver', 'video transmitter', 'gimbal'],
    acts: [],
    image: false,
  },
  appliesTo: (sheet) => sheet.board !== undefined && (sheet.versions ?? []).length > 0,
  stages: null,
  *take({ sheet }) {
    yield* want.answers({
      label: 'list',
      ask: 'Read the version of each part from the part, not from its box.',
      questions: questionsOf(sheet),
    })
  },
  evaluate: (evidence) =>
    findingsOfList(questionsOf(evidence.sheet), evidence, ({ id }, answer) => {
      const part = partOf(id)
      const approved = evidence.sheet.versions?.find((v) => v.part === part)?.approved ?? []
      const limit = { equals: approved.join(' or ') }
      return approved.includes(String(answer).trim())
        ? { key: id, value: answer, unit: '', limit, verdict: 'pass' }
        : {
            key: id,
            value: answer,
            unit: '',
            limit,
            verdict: 'fail',
            remedy: {
              by: 'work',
              act: `Bring the ${part} to version ${approved[approved.length - 1]}.`,
              work: ['update part'],
              part,
            },
          }
    }),
})
