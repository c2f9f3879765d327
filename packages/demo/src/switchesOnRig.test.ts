import type { Sheet } from '@taraf/contract'
import type { Check } from '@taraf/core'
import { switches } from '@taraf/core/switches'
import { faults } from '@taraf/rig'
import { heardRig, takenOn, wrongIn } from '../tests/heardRig'
import { sheetOf } from './rigs'

jest.setTimeout(300_000)
const of = (name: string, channel: number, positions = 2) => ({ name, channel, positions, atPowerUp: 1 })
const sheet: Sheet = {
  ...sheetOf('L4'),
  switches: [of('A', 5), { ...of('B', 6, 3), alike: 'two modes are enough for survey work' }, of('C', 7), of('D', 8)],
}

test.each(switches.map((check) => [check.id, check] as const))('%s passes on sound airframes', async (_id, check) => {
  for (const seed of [1, 2, 3, 4]) expect(wrongIn(await takenOn(heardRig(seed), check, sheet))).toEqual([])
})

const caught = faults.filter((fault) => fault.station === 'switches')
test.each(caught.map((fault) => [fault.id, fault] as const))('%s is caught, and what is said mends it', async (id, fault) => {
  const check = switches.find((c) => c.id === fault.caughtBy) as Check
  for (const seed of [1, 2, 3]) {
    const rig = heardRig(seed, { faults: [id] })
    const wrong = wrongIn(await takenOn(rig, check, sheet))
    expect(wrong.map((f) => f.verdict)).toContain('fail')
    for (const { remedy } of wrong) {
      if (remedy?.by !== 'settings') throw new Error(`${id}: ${remedy?.act}`)
      expect(rig.board.settings.write(remedy.settings)).toBeNull()
    }
    rig.board.settings.save()
    expect(fault.isIn(rig)).toBe(false)
    expect(wrongIn(await takenOn(rig, check, sheet))).toEqual([])
  }
})
