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

test('an armed board: its switch, and throttle that goes down before it is held otherwise', () => {
  const step = (label: string) =>
    ({ kind: 'capture', label, ask: 'Hold it.', seconds: 1, streams: [], permit: 'armed-bench' }) as never
  const at = hands({ transmitter: { on: true, channels: [], switches: [{ name: 'A', positions: 2, at: 0 }] } } as never)
  expect(labels(actsForStep(step('arm'), at))).toEqual(['Throttle down', 'Switch A to 2'])
  expect(labels(actsForStep(step('nose-up'), at))).toEqual(['Throttle down', 'Hold its nose up', 'Throttle up a little'])
  expect(labels(actsForStep(step('turn-left'), at)).slice(2)).toEqual(['Throttle up a little', 'Turn its nose to the left'])
  expect(labels(actsForStep(step('disarm'), at))).toEqual(['Throttle down', 'Switch A to 1'])
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

test('a stick goes to the ends that its step asks for and back; a switch to each of its positions', () => {
  const control = (label: string) => ({ kind: 'control', label, ask: 'Move it.', streams: [] }) as never
  const channels = Array.from({ length: 8 }, (_, i) => ({ source: i === 5 ? 'switch B' : 'nothing' }))
  const transmitter = { on: true, channels, switches: [{ name: 'B', positions: 3, at: 0 }] }
  const at = hands({ transmitter } as never)
  expect(labels(actsForStep(control('roll-right'), at))).toEqual(['Roll to its end', 'Let roll go'])
  expect(labels(actsForStep(control('yaw'), at))).toEqual(['Yaw to its end', 'Yaw to the other end', 'Let yaw go'])
  expect(labels(actsForStep(control('throttle'), at))).toEqual(['Throttle up', 'Throttle down'])
  expect(labels(actsForStep(control('switch-6'), at))).toEqual(['Switch B to 1', 'Switch B to 2', 'Switch B to 3'])
})

test('the steps of the link: what is off is put on, and the other way round', () => {
  const step = (label: string) => ({ kind: 'watch', label, ask: 'Do it.', streams: [], seconds: 60, until: ['x'] }) as never
  const on = hands({ transmitter: { on: true }, cable: true } as never)
  expect(labels(actsForStep(step('transmitter-off'), on))).toEqual(['Switch the transmitter off'])
  expect(labels(actsForStep(step('transmitter-off'), hands()))).toEqual([])
  expect(labels(actsForStep(step('power-off'), on))).toEqual(['Pull the cable'])
  expect(labels(actsForStep(step('power-off'), hands({ battery: 'pack' })))).toEqual([
    'Take the battery out',
    'Plug the cable in',
  ])
})
