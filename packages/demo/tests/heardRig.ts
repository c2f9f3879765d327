import type { Sheet } from '@taraf/contract'
import { armedUnder, checkById, planOf, type Check } from '@taraf/core'
import { choicesOf, valuesOf } from '@taraf/core/atLink'
import type { Taken } from '@taraf/core/runTake'
import { actOn, faultById, handsOf, type Rig } from '@taraf/rig'
import { drawnAt } from '../src/draw'
import { lookAt } from '../src/look'
import { demoShop, rigOf, sheetOf, type RigOrder } from '../src/rigs'
import { takeOnRig } from '../src/takes/onRig'
import type { AtTheRig } from '../src/takes/person'
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

/** A take of a check by somebody who says what is to be seen, on a rig whose board has this label. */
export const lookedAt = (rig: Rig, check: Check, sheet: Sheet, person: AtTheRig = {}, board = 'FB-1'): Taken => {
  const list = rig.board.settings.list()
  const given = { at: drawnAt, place: demoPlace, sheet, settings: valuesOf(list), choices: choicesOf(list) }
  const airframe = { tag: 'L4-001', board, parts: [] }
  return takeOnRig(rig, check, given, {
    answer: ({ questions }, felt) => lookAt(questions, handsOf(rig), airframe, felt),
    ...person,
  })
}

/** The same, during which nothing may arm that the check does not want, and nothing may go wrong. */
export const takenOn = (rig: Rig, check: Check, sheet: Sheet, person: AtTheRig = {}): Taken => {
  const before = timesArmed(rig)
  const found = lookedAt(rig, check, sheet, person)
  expect(rig.incidents).toEqual([])
  expect(rig.state().motors).toBe('still')
  const mayArm = planOf(check, sheet).some((w) => armedUnder(w) !== null)
  expect(mayArm ? before : timesArmed(rig)).toBe(before)
  return found
}

/** What of a take neither passed nor is only shown. */
export const wrongIn = ({ findings }: Taken) => findings.filter((f) => f.verdict !== 'pass' && f.verdict !== 'shown')

/** The same, whose ESCs have learned their range, where they must. */
export const taughtRig = (seed: number, type: string): Rig => {
  const rig = heardRig(seed, { type })
  if (type === 'K4') takenOn(rig, checkById('escs.range') as Check, sheetOf('K4'))
  return rig
}

/** A fault fails its check, what that writes mends it, and the check passes: on a small airframe and on a large one, where they have it. */
export const mendsByWrites = (id: string, check: Check): void => {
  const types = ['N4', 'H6'].filter((type) => check.appliesTo(sheetOf(type)))
  expect(types).not.toEqual([])
  types.forEach((type, i) => mendedOn(id, check, type, i + 1))
}
const mendedOn = (id: string, check: Check, type: string, seed: number): void => {
  const rig = heardRig(seed, { type, faults: [id] })
  const first = takenOn(rig, check, sheetOf(type))
  expect({ id, type, seed, verdict: first.verdict }).toEqual({ id, type, seed, verdict: 'fail' })
  const writes = wrongIn(first).flatMap(({ remedy }) => (remedy?.by === 'settings' ? [remedy.settings] : []))
  expect(rig.board.settings.write(Object.assign({}, ...writes) as Record<string, number>)).toBeNull()
  rig.board.settings.save()
  expect({ id, type, seed, wrong: wrongIn(takenOn(rig, check, sheetOf(type))) }).toEqual({ id, type, seed, wrong: [] })
  expect(faultById(id)?.isIn(rig)).toBe(false)
}
