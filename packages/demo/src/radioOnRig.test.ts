import { valuesOf, type Check } from '@taraf/core'
import { radio } from '@taraf/core/radio'
import { actOn, faults } from '@taraf/rig'
import { drawnAt } from './draw'
import { demoShop, rigOf, sheetOf, type RigOrder } from './rigs'
import { takeOnRig } from './takes/onRig'
import { demoPlace } from './world'

jest.setTimeout(300_000)
const sheet = sheetOf('L4')

const taken = (check: Check, seed: number, order: Partial<RigOrder> = {}) => {
  const rig = rigOf({ type: 'L4', board: 'FB-1', seed, ...order }, demoShop(drawnAt))
  rig.skip(3)
  actOn(rig, { act: 'transmitter', on: true })
  rig.skip(3)
  const given = { at: drawnAt, place: demoPlace, sheet, settings: valuesOf(rig.board.settings.list()) }
  const found = takeOnRig(rig, check, given)
  expect(rig.incidents).toEqual([])
  return found
}
const byId = (id: string) => radio.find((check) => check.id === id) as Check
const caught = faults.filter((fault) => radio.some((check) => check.id === fault.caughtBy))

test('the faults of this station that these checks must catch', () => {
  expect(caught.map((f) => f.id)).toEqual([
    'radio.order',
    'radio.stickOrder',
    'radio.reversed',
    'radio.reversedBoard',
    'radio.offCentre',
    'radio.stickRest',
    'radio.shortTravel',
    'radio.wornStick',
    'radio.throttleHigh',
    'radio.mixLeft',
    'radio.unsteady',
    'radio.dropOuts',
  ])
})

test.each(radio.map((check) => [check.id, check] as const))('%s passes on sound airframes', (_id, check) => {
  for (const seed of [1, 2, 3, 4, 5]) {
    const { verdict, findings } = taken(check, seed)
    expect({ seed, wrong: findings.filter((f) => f.verdict === 'fail' || f.verdict === 'refused') }).toEqual({ seed, wrong: [] })
    expect(verdict).toBe('pass')
  }
})

test.each(caught.map((fault) => [fault.id, fault] as const))('%s is caught by its check, with what mends it', (id, fault) => {
  for (const seed of [1, 2, 3]) {
    const { verdict, findings } = taken(byId(fault.caughtBy), seed, { faults: [id] })
    expect({ id, seed, verdict }).toEqual({ id, seed, verdict: 'fail' })
    for (const { remedy } of findings.filter((f) => f.verdict === 'fail')) expect(remedy?.act.length).toBeGreaterThan(10)
  }
})
