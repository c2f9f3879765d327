import type { Sheet } from '@taraf/contract'
import { sha256 } from '@noble/hashes/sha2.js'
import { bytesToHex } from '@noble/hashes/utils.js'
import { armedUnder, checkById, isNeeded, planOf, writeImage, type Check } from '@taraf/core'
import { actOn, answererOf, faultById, handsOf, type Rig } from '@taraf/rig'
import type { Captured } from '@taraf/takes'
import type { AtTheRig } from '../src/bench/person'
import { SimulatedBench } from '../src/bench/simulatedBench'
import { takeAtBench } from '../src/bench/takeAtBench'
import { drawnAt } from '../src/draw'
import { goodFirmware, imageBytes } from '../src/images'
import { lookAt } from '../src/look'
import { demoShop, rigOf, sheetOf, type RigOrder } from '../src/rigs'
import { demoPlace } from '../src/world'

const benches = new WeakMap<Rig, SimulatedBench>()

/** The bench that a rig is on: the same one for each of its takes. */
export const benchOf = (rig: Rig): SimulatedBench => {
  const bench = benches.get(rig) ?? new SimulatedBench(rig, drawnAt)
  benches.set(rig, bench)
  return bench
}

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
export const lookedAt = async (
  rig: Rig,
  check: Check,
  sheet: Sheet,
  person: AtTheRig = {},
  board = 'FB-1',
): Promise<Captured> => {
  const airframe = { tag: 'L4-001', board, parts: [] }
  return takeAtBench(
    benchOf(rig),
    check,
    { place: demoPlace, sheet, airframe },
    {
      answer: ({ questions }, felt) => lookAt(questions, handsOf(rig), airframe, felt),
      ...person,
    },
  )
}

/** The same, during which nothing may arm that the check does not want, and nothing may go wrong. */
export const takenOn = async (rig: Rig, check: Check, sheet: Sheet, person: AtTheRig = {}): Promise<Captured> => {
  const before = timesArmed(rig)
  const found = await lookedAt(rig, check, sheet, person)
  expect(rig.incidents).toEqual([])
  expect(rig.state().motors).toBe('still')
  const mayArm = planOf(check, sheet).some((w) => armedUnder(w) !== null)
  expect(mayArm ? before : timesArmed(rig)).toBe(before)
  return found
}

/** What of a take neither passed nor is only shown. */
export const wrongIn = ({ findings }: Captured) => findings.filter((f) => f.verdict !== 'pass' && f.verdict !== 'shown')

/** The same, whose ESCs have learned their range, where they must. */
export const taughtRig = async (seed: number, type: string): Promise<Rig> => {
  const rig = heardRig(seed, { type })
  if (type === 'K4') await takenOn(rig, checkById('escs.range') as Check, sheetOf('K4'))
  return rig
}

/** A fault fails its check, what that writes repairs it, and the check passes: on a small airframe and on a large one, where they have it. */
export const mendsByWrites = async (id: string, check: Check): Promise<void> => {
  const types = ['N4', 'H6'].filter((type) => isNeeded(check, sheetOf(type)))
  expect(types).not.toEqual([])
  for (const [i, type] of types.entries()) await mendedOn(id, check, type, i + 1)
}
/** Writes the approved image as the server does, and has the board start again. */
const writeApproved = (rig: Rig): void => {
  const image = imageBytes(rig.airframe.board.target, goodFirmware, 4096)
  const ask = answererOf(rig)
  const steps = writeImage(image, bytesToHex(sha256(image)))
  for (let step = steps.next(); step.done !== true;) step = steps.next(ask(step.value.ask) as never)
  rig.restart()
  rig.skip(3)
}
const mendedOn = async (id: string, check: Check, type: string, seed: number): Promise<void> => {
  const rig = heardRig(seed, { type, faults: [id] })
  const first = await takenOn(rig, check, sheetOf(type))
  expect({ id, type, seed, verdict: first.verdict }).toEqual({ id, type, seed, verdict: 'fail' })
  const writes = wrongIn(first).flatMap(({ remedy }) => (remedy?.by === 'settings' ? [remedy.settings] : []))
  expect(rig.board.settings.write(Object.assign({}, ...writes) as Record<string, number>)).toBeNull()
  rig.board.settings.save()
  if (wrongIn(first).some(({ remedy }) => remedy?.by === 'image')) writeApproved(rig)
  expect({ id, type, seed, wrong: wrongIn(await takenOn(rig, check, sheetOf(type))) }).toEqual({ id, type, seed, wrong: [] })
  expect(faultById(id)?.isIn(rig)).toBe(false)
}
