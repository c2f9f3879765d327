import type { Sheet } from '@taraf/contract'
import { choicesOf, planOf, valuesOf, type Check } from '@taraf/core'
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

const timesArmed = (rig: Rig): number => rig.board.log.read(0, 400).filter((e) => e.what === 'armed').length

/** A take of a check on it, during which nothing may arm that the check does not want, and nothing may go wrong. */
export const takenOn = (rig: Rig, check: Check, sheet: Sheet, person: AtTheRig = {}): Taken => {
  const before = timesArmed(rig)
  const list = rig.board.settings.list()
  const given = { at: drawnAt, place: demoPlace, sheet, settings: valuesOf(list), choices: choicesOf(list) }
  const airframe = { tag: 'L4-001', board: 'FB-1', parts: [] }
  const found = takeOnRig(rig, check, given, {
    answer: ({ questions }, felt) => lookAt(questions, handsOf(rig), airframe, felt),
    ...person,
  })
  expect(rig.incidents).toEqual([])
  expect(rig.state().motors).toBe('still')
  const mayArm = planOf(check, sheet).some((w) => 'permit' in w && w.permit === 'armed-bench')
  expect(mayArm ? before : timesArmed(rig)).toBe(before)
  return found
}

/** What of a take neither passed nor is only shown. */
export const wrongIn = ({ findings }: Taken) => findings.filter((f) => f.verdict !== 'pass' && f.verdict !== 'shown')
