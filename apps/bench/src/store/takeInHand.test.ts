import type { TakeTell, Want } from '@taraf/contract'
import { stepsOf } from './takeInHand'

const plan = ['heard', 'off', 'on', 'told'].map((label): Want => ({ kind: 'answers', label, ask: label, questions: [] }))
const take = (label: string, done: string[]): TakeTell => ({
  tell: 'take',
  job: 'j',
  check: 'c',
  phase: 'waiting',
  done,
  want: plan.find((w) => w.label === label) ?? null,
  share: 0,
})
const shown = (at: TakeTell | null) => stepsOf(plan, at).map(({ isDone, isNow }) => (isNow ? 'now' : isDone ? 'done' : 'open'))

test('a take that leaves its plan lights the step that it is at, and ticks none that it left out', () => {
  expect(shown(take('told', []))).toEqual(['open', 'open', 'open', 'now'])
  expect(shown(take('on', ['heard', 'off']))).toEqual(['done', 'done', 'now', 'open'])
})

test('a step that is done again is in hand, not done; a step outside the plan lights none', () => {
  expect(shown(take('heard', ['heard', 'off']))).toEqual(['now', 'done', 'open', 'open'])
  expect(shown(take('again', ['heard']))).toEqual(['done', 'open', 'open', 'open'])
})

test('without a take nothing is done or in hand', () => {
  expect(shown(null)).toEqual(['open', 'open', 'open', 'open'])
})
