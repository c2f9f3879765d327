import type { Remedy } from '@taraf/contract'
import type { Check } from '@taraf/core'
import { radio } from '@taraf/core/radio'
import { actOn, faults, handsOf, type Rig } from '@taraf/rig'
import { atTransmitter } from './atTransmitter'
import { heardRig, takenOn, wrongIn } from '../tests/heardRig'
import { sheetOf, type RigOrder } from './rigs'

jest.setTimeout(300_000)
const sheet = sheetOf('L4')

const taken = async (check: Check, seed: number, order: Partial<RigOrder> = {}) =>
  await takenOn(heardRig(seed, order), check, sheet)
const byId = (id: string) => radio.find((check) => check.id === id) as Check
const caught = faults.filter((fault) => radio.some((check) => check.id === fault.caughtBy))

test('the faults of this station that these checks must catch', () => {
  expect(caught.map((f) => f.id)).toEqual([
    'radio.wrongKind',
    'radio.order',
    'radio.stickOrder',
    'radio.reversed',
    'radio.reversedBoard',
    'radio.offCentre',
    'radio.stickRest',
    'radio.shortTravel',
    'radio.wornStick',
    'radio.badContact',
    'radio.throttleHigh',
    'radio.mixLeft',
    'radio.unsteady',
    'radio.dropOuts',
    'radio.strengthChannel',
    'radio.telemetryWire',
    'radio.weakLink',
    'failsafe.lastValues',
    'failsafe.preset',
  ])
})

test.each(radio.map((check) => [check.id, check] as const))('%s passes on sound airframes', async (_id, check) => {
  for (const seed of [1, 2, 3, 4, 5]) {
    const { verdict, findings } = await taken(check, seed)
    expect({ seed, wrong: findings.filter((f) => f.verdict === 'fail' || f.verdict === 'refused') }).toEqual({ seed, wrong: [] })
    expect(verdict).toBe('pass')
  }
})

test.each(caught.map((fault) => [fault.id, fault] as const))(
  '%s is caught by its check, with what mends it',
  async (id, fault) => {
    for (const seed of [1, 2, 3]) {
      const { verdict, findings } = await taken(byId(fault.caughtBy), seed, { faults: [id] })
      expect({ id, seed, verdict }).toEqual({ id, seed, verdict: 'fail' })
      for (const { remedy } of findings.filter((f) => f.verdict === 'fail')) expect(remedy?.act.length).toBeGreaterThan(10)
    }
  },
)

const follow = (rig: Rig, remedy: Remedy): void => {
  if (remedy.by === 'settings') {
    expect(rig.board.settings.write(remedy.settings)).toBeNull()
    rig.board.settings.save()
  } else if (remedy.by === 'transmitter') {
    for (const one of remedy.transmitter) expect(actOn(rig, atTransmitter(handsOf(rig).transmitter, one))).toBeNull()
  } else throw new Error(`nothing to follow: ${remedy.act}`)
  rig.skip(1)
}

test.each([
  'radio.wrongKind',
  'radio.strengthChannel',
  'radio.order',
  'radio.stickOrder',
  'radio.reversed',
  'radio.reversedBoard',
  'radio.offCentre',
  'radio.stickRest',
  'radio.shortTravel',
  'radio.throttleHigh',
  'radio.mixLeft',
])('%s: what the check says mends it, and the same check says so', async (id) => {
  const check = byId(caught.find((f) => f.id === id)?.caughtBy ?? '')
  for (const seed of [1, 2, 3, 4]) {
    const rig = heardRig(seed, { faults: [id] })
    const done = new Set<string>()
    for (const { remedy } of (await takenOn(rig, check, sheet)).findings) {
      if (remedy === undefined || done.has(remedy.act)) continue
      done.add(remedy.act)
      follow(rig, remedy)
    }
    expect(done.size).toBeGreaterThan(0)
    const again = wrongIn(await takenOn(rig, check, sheet))
    expect({ id, seed, again }).toEqual({ id, seed, again: [] })
  }
})

test('a stick that is too worn for any travel is said to be one, with what else to do', async () => {
  const found = (await taken(byId('radio.ends'), 2, { faults: ['radio.wornStick'] })).findings.find(
    (f) => f.key === 'throttleHigh',
  )
  expect(found?.remedy?.act).toMatch(/calibrate its sticks first/)
})

describe('a receiver that is not heard: why is told by what is seen, with what to try in order', () => {
  const link = byId('radio.link')
  test.each([
    ['radio.notBound', 'no: the receiver is bound to no transmitter', ['bind receiver', 'replace receiver']],
    [
      'radio.otherModel',
      'no: the receiver does not hear the transmitter that it is bound to',
      ['choose model', 'bind receiver', 'replace receiver'],
    ],
    [
      'radio.leadOut',
      'no: the receiver hears, and its signal does not reach the board',
      ['plug receiver lead', 'reseat plug', 'move plug', 'replace receiver'],
    ],
  ])('%s', async (id, why, work) => {
    const { verdict, findings } = await taken(link, 3, { faults: [id] })
    expect(verdict).toBe('fail')
    const heard = findings.find((f) => f.key === 'heard')
    expect(heard).toMatchObject({ value: why, remedy: { by: 'work', work } })
  })

  test('another kind of signal is set on the board: that is what to set, and no lead to push', async () => {
    const { findings } = await taken(link, 3, { faults: ['radio.wrongKind'] })
    const failing = findings.filter((f) => f.verdict === 'fail')
    expect(failing.map((f) => f.key)).toEqual(['kind', 'heard'])
    for (const { remedy } of failing) expect(remedy).toMatchObject({ by: 'settings', settings: { 'radio.kind': 2 } })
  })

  test('bound in two steps where its part lists two: after the first it waits, and power goes off between', async () => {
    const rig = heardRig(4, { type: 'H6', faults: ['radio.notBound'] })
    const hexa = sheetOf('H6')
    const found = (await takenOn(rig, link, hexa)).findings.find((f) => f.key === 'heard')
    // The steps are the part's own: a screen lists them, once.
    expect(found?.remedy?.act).toBe('The receiver is bound to no transmitter. Bind it by its steps, listed beside the reading.')
    expect(hexa.parts?.find((p) => p.part === 'receiver')?.binding?.steps).toHaveLength(4)
    actOn(rig, { act: 'bind' })
    rig.skip(1)
    expect((await takenOn(rig, link, hexa)).findings.find((f) => f.key === 'heard')?.value).toBe(
      'no: the receiver waits to be bound',
    )
    for (const act of [{ act: 'cable', in: false }, { act: 'cable', in: true }, { act: 'bind' }] as const) actOn(rig, act)
    rig.skip(3)
    expect(wrongIn(await takenOn(rig, link, hexa))).toEqual([])
  })
})

test('a receiver that goes on sending once its transmitter is off is told, and so is one whose strength is on another channel', async () => {
  const link = byId('radio.link')
  const holds = await taken(link, 5, { spoil: ({ receiver }) => void (receiver.atLoss = 'last') })
  expect(holds.findings.find((f) => f.key === 'transmitterOff')).toMatchObject({
    verdict: 'fail',
    value: 'the receiver went on sending',
  })
  const other = (await taken(link, 5, { faults: ['radio.strengthChannel'] })).findings.find((f) => f.key === 'strengthChannel')
  expect(other?.value).toBe('channel 12, the 8th after the sticks')
  expect(other?.limit).toEqual({ equals: 'channel 8, the 4th after the sticks' })
})
