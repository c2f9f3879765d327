import type { HandAct } from '@taraf/contract'
import { checkById, hoverProof, type Check } from '@taraf/core'
import { actOn, faultById } from '@taraf/rig'
import { heardRig, takenOn, taughtRig, wrongIn } from '../tests/heardRig'
import { sheetOf } from './rigs'

jest.setTimeout(300_000)

const hop = checkById(hoverProof) as Check

test.each([
  ['N4', 1],
  ['N4', 7],
  ['K4', 1],
  ['K4', 5],
  ['L4', 2],
  ['H6', 2],
  ['Y6', 1],
  ['Y6', 9],
] as const)('a sound %s of seed %i hops, and passes: it is carried in again, unarmed and without props', async (type, seed) => {
  const rig = await taughtRig(seed, type)
  const taken = await takenOn(rig, hop, sheetOf(type))
  expect(wrongIn(taken)).toEqual([])
  expect(rig.motion.mode).toBe('held')
  expect(rig.airframe.frame.props.every((prop) => prop === 'none')).toBe(true)
  // What is measured is what the rig knows: the middle of what held it up.
  const value = (key: string) => taken.findings.find((finding) => finding.key === key)?.value as number
  expect(value('hoverThrottle')).toBeGreaterThan(0.3)
  expect(value('hoverThrottle')).toBeLessThan(0.45)
  expect(value('seconds')).toBeGreaterThan(6)
})

test.each(['N4', 'H6'])('a %s that carries too much takes more to hold it up; without the load it passes', async (type) => {
  const rig = heardRig(3, { type, faults: ['hover.overweight'] })
  const wrong = wrongIn(await takenOn(rig, hop, sheetOf(type)))
  expect(wrong).toMatchObject([{ key: 'over', verdict: 'fail', remedy: { work: ['take load off'] } }])
  expect(actOn(rig, { act: 'take load off' })).toBeNull()
  expect(wrongIn(await takenOn(rig, hop, sheetOf(type)))).toEqual([])
  expect(faultById('hover.overweight')?.isIn(rig)).toBe(false)
})

test.each(['N4', 'L4'])('a damaged prop shakes a %s', async (type) => {
  const rig = heardRig(4, { type })
  rig.airframe.frame.propSet[1] = 'damaged'
  expect(wrongIn(await takenOn(rig, hop, sheetOf(type))).map(({ key }) => key)).toContain('vibration')
})

test.each([
  ['two motors exchanged', { act: 'swap outputs', a: 1, b: 2 }, 'tips'],
  ['a motor that turns the other way under its prop', { act: 'swap leads', output: 1 }, 'lifts'],
] as const)('%s: it turns over or does not lift, and fails without harm', async (_what, act: HandAct, key) => {
  const rig = heardRig(5, { type: 'N4' })
  expect(actOn(rig, act)).toBeNull()
  const wrong = wrongIn(await takenOn(rig, hop, sheetOf('N4')))
  expect(wrong[0]).toMatchObject({ key, verdict: 'fail', remedy: { work: ['put right prop'] } })
})

test('a pilot who is told that not all is ready does not fly', async () => {
  const rig = heardRig(6, { type: 'N4' })
  const { verdict, findings } = await takenOn(rig, hop, sheetOf('N4'), {
    answer: ({ questions }) => questions.map(({ id }) => ({ segment: 'place', item: id, answer: id !== 'hopPlace' })),
  })
  expect([verdict, String(findings[0]?.value)]).toEqual(['refused', expect.stringContaining('A clear place')])
  expect(rig.board.flight.count).toBe(0)
})
