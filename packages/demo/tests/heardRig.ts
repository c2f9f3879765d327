import type { Sheet } from '@taraf/contract'
import { choicesOf, valuesOf, type Check } from '@taraf/core'
import type { Taken } from '@taraf/core/runTake'
import { actOn, handsOf, type Rig } from '@taraf/rig'
import { drawnAt } from '../src/draw'
import { lookAt } from '../src/look'
import { demoShop, rigOf, type RigOrder } from '../src/rigs'
import { takeOnRig, type AtTheRig } from '../src/takes/onRig'
import { demoPlace } from '../src/world'

/** An L4 whose receiver hears its transmitter. */
export const heardRig = (seed: number, order: Partial<RigOrder> = {}): Rig => {
  const rig = rigOf({ type: 'L4', board: 'FB-1', seed, ...order }, demoShop(drawnAt))
  rig.skip(3)
  actOn(rig, { act: 'transmitter', on: true })
  rig.skip(3)
  return rig
}

/** A take of a check on it, during which nothing may arm and nothing may go wrong. */
export const takenOn = (rig: Rig, check: Check, sheet: Sheet, person: AtTheRig = {}): Taken => {
  const list = rig.board.settings.list()
  const given = { at: drawnAt, place: demoPlace, sheet, settings: valuesOf(list), choices: choicesOf(list) }
  const airframe = { tag: 'L4-001', board: 'FB-1', parts: [] }
  const found = takeOnRig(rig, check, given, {
    answer: ({ questions }) => lookAt(questions, handsOf(rig), airframe),
    ...person,
  })
  expect(rig.incidents).toEqual([])
  expect(rig.state().motors).toBe('still')
  expect(rig.board.log.read(0, 400).filter((e) => e.what === 'armed')).toEqual([])
  return found
}

/** What of a take neither passed nor is only shown. */
export const wrongIn = ({ findings }: Taken) => findings.filter((f) => f.verdict !== 'pass' && f.verdict !== 'shown')
