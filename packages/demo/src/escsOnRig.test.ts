import type { Change, Finding } from '@taraf/contract'
import { isNeeded, type Check } from '@taraf/core'
import { escs } from '@taraf/core/escs'
import { actOn, faultById, faults, type Rig } from '@taraf/rig'
import { heardRig, takenOn, wrongIn } from '../tests/heardRig'
import { sheetOf, type RigOrder } from './rigs'

jest.setTimeout(300_000)

const byId = (id: string) => escs.find((check) => check.id === id) as Check
const caught = faults.filter((fault) => escs.some((check) => check.id === fault.caughtBy))
const types = ['N4', 'L4', 'H6', 'Y6', 'K4'] as const
/** The types that a check is for. */
const typesOf = (check: Check) => types.filter((type) => isNeeded(check, sheetOf(type)))
const rigOf = (seed: number, type: string, order: Partial<RigOrder> = {}) => heardRig(seed, { type, ...order })

test('the faults of this station that these checks must catch', () => {
  expect(caught.map((f) => f.id)).toEqual([
    'escs.missing',
    'escs.brake',
    'escs.lowVoltageCut',
    'escs.timing',
    'escs.noLockedRotor',
    'escs.switching',
    'escs.signalType',
    'escs.oldEsc',
    'escs.wontLearn',
    'escs.replyErrors',
    'escs.forgets',
    'escs.poles',
  ])
})

test.each(escs.map((check) => [check.id, check] as const))('%s passes on sound airframes of every type', async (_id, check) => {
  for (const type of typesOf(check))
    for (const seed of [1, 2, 3]) {
      const taken = await takenOn(rigOf(seed, type), check, sheetOf(type))
      expect({ type, seed, wrong: wrongIn(taken) }).toEqual({ type, seed, wrong: [] })
      expect(taken.verdict).toBe('pass')
    }
})

/** Does what the remedies of a take name at the ESCs and the board. */
const follow = (rig: Rig, findings: readonly Finding[]): void => {
  for (const { remedy, verdict } of findings) {
    if (verdict !== 'fail' || remedy === undefined) continue
    if (remedy.by === 'settings') {
      expect(rig.board.settings.write(remedy.settings)).toBeNull()
      rig.board.settings.save()
    } else if (remedy.by === 'work') {
      actOn(rig, { act: 'battery', source: 'none' })
      for (const output of remedy.outputs ?? []) {
        const act =
          remedy.work[0] === 'reseat ESC plug' ? 'reseat esc' : remedy.work[0] === 'replace ESC' ? 'replace esc' : 'replace motor'
        expect(actOn(rig, { act, output })).toBeNull()
      }
    } else if (remedy.by !== 'technician') throw new Error(`nothing to follow: ${remedy.act}`)
  }
  rig.skip(1)
}

test.each(caught.map(({ id, caughtBy }) => [id, byId(caughtBy)] as const))(
  '%s is caught by its check, and what that says or writes mends it',
  async (id, check) => {
    for (const type of typesOf(check))
      for (const seed of [1, 2]) {
        if (faultById(id)?.fits?.(rigOf(seed, type).airframe) === false) continue
        const rig = rigOf(seed, type, { faults: [id] })
        const changes: Change[] = []
        const first = await takenOn(rig, check, sheetOf(type), { wroteEscs: (change) => void changes.push(change) })
        expect({ id, type, seed, found: first.verdict === 'fail' || changes.length > 0 }).toEqual({ id, type, seed, found: true })
        follow(rig, first.findings)
        const again = await takenOn(rig, check, sheetOf(type))
        expect({ id, type, seed, wrong: wrongIn(again) }).toEqual({ id, type, seed, wrong: [] })
        expect(faultById(id)?.isIn(rig)).toBe(false)
      }
  },
)

test('what a take wrote to ESCs is told at once, by output with what was there before', async () => {
  const rig = rigOf(4, 'L4', { faults: ['escs.lowVoltageCut'] })
  const changes: Change[] = []
  await takenOn(rig, byId('escs.settings'), sheetOf('L4'), { wroteEscs: (change) => void changes.push(change) })
  expect(changes).toEqual([
    { what: 'escs', settings: [1, 2, 3, 4].map((output) => ({ output, name: 'cutCellV', from: 3.2, to: 0 })) },
  ])
})

test('an ESC that forgets what was set just now is replaced, though it reads right when it is asked first', async () => {
  const rig = rigOf(5, 'N4')
  const esc = rig.airframe.drives[1]?.esc
  if (esc === undefined) throw new Error('no ESC')
  Object.assign(esc, { keepsSettings: false, saved: { ...esc.saved, timingDeg: 22 } })
  actOn(rig, { act: 'battery', source: 'pack' })
  esc.settings = { ...esc.settings, timingDeg: 16 }
  const found = wrongIn(await takenOn(rig, byId('escs.settings'), sheetOf('N4')))
  expect(found.map((f) => f.key)).toEqual(['timingDeg', 'kept'])
  expect(found[0]?.remedy).toMatchObject({ by: 'work', work: ['replace ESC'], outputs: [2] })
})

test('replies that are all bad at once lead to the pair of versions that is known for it, not to the ESCs', async () => {
  const rig = rigOf(6, 'H6')
  rig.airframe.board.firmware = { ...rig.airframe.board.firmware, version: '3.3.0' }
  rig.restart()
  rig.skip(3)
  const found = wrongIn(await takenOn(rig, byId('escs.data'), sheetOf('H6')))
  expect(found).toHaveLength(6)
  expect(found[0]?.remedy).toMatchObject({ by: 'image', image: '3.2.0' })
})

test('one motor of another make has another count of poles than the others: it is named, and the board is left alone', async () => {
  const rig = rigOf(7, 'L4')
  Object.assign(rig.airframe.drives[2]?.motor ?? {}, { poles: 12 })
  const found = wrongIn(await takenOn(rig, byId('escs.data'), sheetOf('L4')))
  expect(found.map(({ key, value }) => [key, value])).toEqual([['poles3', 12]])
  expect(found[0]?.remedy).toMatchObject({ by: 'work', work: ['replace motor'], outputs: [3] })
})
