import type { Evidence, Finding, Observation, Question } from '@taraf/contract'
import { byHand, refusal } from './check'

/** What was answered, by the question's id. */
export const answersOf = ({ observations = [] }: Pick<Evidence, 'observations'>): ReadonlyMap<string, Observation> =>
  new Map(observations.flatMap((o) => (o.item === undefined ? [] : [[o.item, o] as const])))

/** Whether an answer is one to its question: of its kind, and not empty. */
export const isAnswered = ({ answer: kind }: Question, { answer }: Pick<Observation, 'answer'>): boolean => {
  if (kind === 'so') return typeof answer === 'boolean'
  if (kind === 'number') return typeof answer === 'number' && Number.isFinite(answer)
  if (kind === 'text') return typeof answer === 'string' && answer.trim() !== ''
  return typeof answer === 'string' && kind.includes(answer)
}

/**
 * The findings of a list: refused while something is not answered; a statement that is not true fails with its remedy; what was read is
 * shown, unless `judge` says what it is worth.
 */
export const findingsOfList = (
  questions: readonly Question[],
  evidence: Pick<Evidence, 'observations'>,
  judge: (question: Question, answer: string | number) => Finding | null = () => null,
): Finding[] => {
  const answers = answersOf(evidence)
  const open = questions.filter((q) => {
    const found = answers.get(q.id)
    return found === undefined || found.answer === '' ? q.optional !== true : !isAnswered(q, found)
  })
  if (open.length > 0)
    return refusal(
      `not answered: ${open.map((q) => q.words.replace(/\.$/, '')).join('; ')}`,
      'Look at each and say what you see.',
    )
  return questions.flatMap((question): Finding[] => {
    const { answer, note } = answers.get(question.id) ?? {}
    if (answer === undefined || answer === '') return []
    if (typeof answer !== 'boolean')
      return [judge(question, answer) ?? { key: question.id, value: answer, unit: question.unit ?? '', verdict: 'shown' }]
    const value = `${answer ? 'so' : 'not so'}${note === undefined || note === '' ? '' : `: ${note}`}`
    return [
      answer
        ? { key: question.id, value, unit: '', verdict: 'pass' }
        : {
            key: question.id,
            value,
            unit: '',
            verdict: 'fail',
            remedy: question.remedy ?? byHand(`Fix it: ${question.words}`),
          },
    ]
  })
}
