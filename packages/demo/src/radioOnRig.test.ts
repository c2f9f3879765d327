import type { HandAct, Remedy } from '@taraf/contract'
import type { Check } from '@taraf/core'
import { radio } from '@taraf/core/radio'
import { actOn, faults, type Rig } from '@taraf/rig'
import { heardRig, takenOn, wrongIn } from '../tests/heardRig'
import { sheetOf, type RigOrder } from './rigs'

jest.setTimeout(300_000)
const sheet = sheetOf('L4')

const taken = (check: Check, seed: number, order: Partial<RigOrder> = {}) => takenOn(heardRig(seed, order), check, sheet)
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

type ChannelSet = Extract<HandAct, { act: 'channel' }>['set']
/** What a technician does at the transmitter for a remedy, as its words say. */
const atTransmitter = ({ transmitter: { build } }: Rig, { channel, ...wanted }: Record<string, unknown>): HandAct => {
  const now = build.channels[Number(channel) - 1]
  const { invert, subTrimByUs, ...set } = wanted as ChannelSet & { invert?: boolean; subTrimByUs?: number }
  return {
    act: 'channel',
    channel: Number(channel),
    set: {
      ...set,
      ...(invert === true ? { inverted: now?.inverted !== true } : {}),
      ...(subTrimByUs === undefined ? {} : { subTrimUs: Math.round((now?.subTrimUs ?? 0) + subTrimByUs) }),
    },
  }
}
const follow = (rig: Rig, remedy: Remedy): void => {
  if (remedy.by === 'settings') {
    expect(rig.board.settings.write(remedy.settings)).toBeNull()
    rig.board.settings.save()
  } else if (remedy.by === 'transmitter') {
    for (const one of remedy.transmitter) expect(actOn(rig, atTransmitter(rig, one))).toBeNull()
  } else throw new Error(`nothing to follow: ${remedy.act}`)
  rig.skip(1)
}

test.each([
  'radio.order',
  'radio.stickOrder',
  'radio.reversed',
  'radio.reversedBoard',
  'radio.offCentre',
  'radio.stickRest',
  'radio.shortTravel',
  'radio.throttleHigh',
  'radio.mixLeft',
])('%s: what the check says mends it, and the same check says so', (id) => {
  const check = byId(caught.find((f) => f.id === id)?.caughtBy ?? '')
  for (const seed of [1, 2, 3, 4]) {
    const rig = heardRig(seed, { faults: [id] })
    const done = new Set<string>()
    for (const { remedy } of takenOn(rig, check, sheet).findings) {
      if (remedy === undefined || done.has(remedy.act)) continue
      done.add(remedy.act)
      follow(rig, remedy)
    }
    expect(done.size).toBeGreaterThan(0)
    const again = wrongIn(takenOn(rig, check, sheet))
    expect({ id, seed, again }).toEqual({ id, seed, again: [] })
  }
})

test('a stick that is too worn for any travel is said to be one, with what else to do', () => {
  const found = taken(byId('radio.ends'), 2, { faults: ['radio.wornStick'] }).findings.find((f) => f.key === 'throttleHigh')
  expect(found?.remedy?.act).toMatch(/calibrate its sticks first/)
})
