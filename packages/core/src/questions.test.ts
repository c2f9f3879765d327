import type { Entry, Observation, Question } from '@taraf/contract'
import fc from 'fast-check'
import { verdictOf } from './check'
import { checks } from './checks'
import { findingsOfList } from './questions'
import { standingsOf } from './standing'

const question = (i: number, optional: boolean): Question => ({
  id: `q${i}`,
  words: `Statement ${i} holds.`,
  why: 'Because it must.',
  answer: 'so',
  optional,
})

test('a list is refused while something that must be said is not, failed where a statement is not true, else passed', () => {
  const said = fc.constantFrom('yes', 'no', 'nothing')
  fc.assert(
    fc.property(fc.array(fc.tuple(said, fc.boolean()), { minLength: 1, maxLength: 12 }), (items) => {
      const questions = items.map(([, optional], i) => question(i, optional))
      const observations: Observation[] = items.flatMap(([answer], i) =>
        answer === 'nothing' ? [] : [{ segment: 'list', item: `q${i}`, answer: answer === 'yes' }],
      )
      const isOpen = items.some(([answer, optional]) => answer === 'nothing' && !optional)
      const isWrong = items.some(([answer]) => answer === 'no')
      const findings = findingsOfList(questions, { observations })
      expect(verdictOf(findings)).toBe(isOpen ? 'refused' : isWrong ? 'fail' : 'pass')
      if (!isOpen) expect(findings).toHaveLength(observations.length)
    }),
  )
})

test('the newest answer to an item counts, and a note stands with it', () => {
  const [one] = [question(0, false)]
  const observations: Observation[] = [
    { segment: 'list', item: 'q0', answer: true },
    { segment: 'list', item: 'q0', answer: false, note: 'cracked' },
  ]
  expect(findingsOfList([one], { observations })).toMatchObject([{ value: 'not so: cracked', verdict: 'fail' }])
})

test('what is opened, closed, parked and taken up again changes no standing', () => {
  const sheet = { board: { target: 'T', sockets: [] } }
  const take = (check: string, seq: number): Entry['body'] & { seq?: number } => ({
    kind: 'take',
    check,
    checkVersion: 1,
    began: 0,
    verdict: seq % 3 === 0 ? 'fail' : 'pass',
    findings: [],
    evidenceSha256: null,
    bench: 'b',
    board: 'b',
  })
  const other = fc.constantFrom<Entry['body']>(
    { kind: 'item', what: 'open', words: 'left', blocks: true },
    { kind: 'closed', item: 1, words: 'done' },
    { kind: 'parked', reason: 'waits' },
    { kind: 'resumed' },
  )
  const taken = fc.tuple(fc.constantFrom(...checks.map((c) => c.id)), fc.nat(9)).map(([id, n]) => take(id, n))
  fc.assert(
    fc.property(fc.array(fc.oneof(other, taken), { maxLength: 20 }), (bodies) => {
      const entries = (of: readonly Entry['body'][]): Entry[] =>
        of.map((body, i) => ({ format: 2, job: 'j', seq: i + 1, at: '', by: '', body }))
      const states = (of: readonly Entry['body'][]) =>
        Object.fromEntries(Object.entries(standingsOf(checks, sheet, entries(of))).map(([id, s]) => [id, s.state]))
      expect(states(bodies)).toEqual(states(bodies.filter((b) => b.kind === 'take')))
    }),
  )
})
