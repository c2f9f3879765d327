import type { Sheet } from '@taraf/contract'
import { valuesOf, type Check } from '@taraf/core'
import { switches } from '@taraf/core/switches'
import { actOn, faults, type Rig } from '@taraf/rig'
import { drawnAt } from './draw'
import { demoShop, rigOf, sheetOf, type RigOrder } from './rigs'
import { takeOnRig } from './takes/onRig'
import { demoPlace } from './world'

jest.setTimeout(300_000)
const of = (name: string, channel: number, positions = 2) => ({ name, channel, positions, atPowerUp: 1 })
const sheet: Sheet = {
  ...sheetOf('L4'),
  switches: [of('A', 5), { ...of('B', 6, 3), alike: 'two modes are enough for survey work' }, of('C', 7), of('D', 8)],
}

const made = (seed: number, order: Partial<RigOrder> = {}): Rig => {
  const rig = rigOf({ type: 'L4', board: 'FB-1', seed, ...order }, demoShop(drawnAt))
  rig.skip(3)
  actOn(rig, { act: 'transmitter', on: true })
  rig.skip(3)
  return rig
}
const takenOn = (rig: Rig, check: Check) => {
  const given = { at: drawnAt, place: demoPlace, sheet, settings: valuesOf(rig.board.settings.list()) }
  const found = takeOnRig(rig, check, given)
  expect(rig.incidents).toEqual([])
  expect(rig.state().motors).toBe('still')
  expect(rig.board.log.read(0, 400).filter((e) => e.what === 'armed')).toEqual([])
  return found
}
const wrongIn = ({ findings }: ReturnType<typeof takenOn>) =>
  findings.filter((f) => f.verdict !== 'pass' && f.verdict !== 'shown')

test.each(switches.map((check) => [check.id, check] as const))('%s passes on sound airframes', (_id, check) => {
  for (const seed of [1, 2, 3, 4]) expect(wrongIn(takenOn(made(seed), check))).toEqual([])
})

const caught = faults.filter((fault) => fault.station === 'switches')
test.each(caught.map((fault) => [fault.id, fault] as const))('%s is caught, and what is said mends it', (id, fault) => {
  const check = switches.find((c) => c.id === fault.caughtBy) as Check
  for (const seed of [1, 2, 3]) {
    const rig = made(seed, { faults: [id] })
    const wrong = wrongIn(takenOn(rig, check))
    expect(wrong.map((f) => f.verdict)).toContain('fail')
    for (const { remedy } of wrong) {
      if (remedy?.by !== 'settings') throw new Error(`${id}: ${remedy?.act}`)
      expect(rig.board.settings.write(remedy.settings)).toBeNull()
    }
    rig.board.settings.save()
    expect(fault.isIn(rig)).toBe(false)
    expect(wrongIn(takenOn(rig, check))).toEqual([])
  }
})
