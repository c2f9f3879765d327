import type { Finding, HandsState, SheetPart } from '@taraf/contract'
import { checkById, planOf, type Check } from '@taraf/core'
import { actsForRemedies, actsForStep } from './wantedActs'

const hands = (news: Partial<HandsState> = {}) =>
  ({ props: 'right', nuts: true, cable: false, battery: 'none', transmitter: { on: false }, ...news }) as unknown as HandsState
const firstStep = (id: string) => planOf(checkById(id) as Check, {} as SheetPart)[0] as NonNullable<ReturnType<typeof planOf>[0]>
const labels = (acts: { label: string }[]) => acts.map((a) => a.label)

test('the step in hand says how the airframe is held, and what must be on', () => {
  expect(labels(actsForStep(firstStep('orientation.level'), hands()))).toContain('Lay it, nose away')
  expect(labels(actsForStep(firstStep('sensors.compass'), hands()))).toContain('Turn it all ways')
  const state = { battery: true, cable: true, props: 'off' } as const
  const wants = labels(actsForStep({ kind: 'state', label: 's', ask: 'Set it up.', state }, hands()))
  expect(wants).toEqual(['Take props off', 'Take nuts off', 'Plug the cable in', 'Plug the pack in'])
  const ready = hands({ props: 'off', nuts: false, cable: true, battery: 'pack' })
  expect(actsForStep({ kind: 'state', label: 's', ask: 'Set it up.', state }, ready)).toEqual([])
})

test('each work of a remedy once, and nothing of what passed', () => {
  const remedy = { by: 'work', act: 'Tighten the screws.', work: ['fasten board', 'replace board'] } as const
  const finding = (verdict: Finding['verdict']) => ({ key: 'k', value: 1, unit: '', verdict, remedy }) as unknown as Finding
  expect(labels(actsForRemedies([finding('fail'), finding('refused')]))).toEqual([
    'Tighten the board screws',
    'Replace the board',
  ])
  expect(actsForRemedies([finding('pass')])).toEqual([])
})
