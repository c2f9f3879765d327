import type { Change, Observation } from '@taraf/contract'
import { motors } from '@taraf/core/motors'
import { checkById, type Check } from '@taraf/core'
import { actOn, faultById, faults, type DriveBuild, type Rig } from '@taraf/rig'
import { heardRig, takenOn, wrongIn } from '../tests/heardRig'
import { sheetOf } from './rigs'

jest.setTimeout(300_000)

const byId = (id: string) => motors.find((check) => check.id === id) as Check
const caught = faults.filter((fault) => motors.some((check) => check.id === fault.caughtBy))
const ofOrder = caught.filter((fault) => fault.caughtBy === 'motors.order')
const types = ['N4', 'L4', 'H6', 'Y6'] as const

test('the faults of this station that these checks must catch', () => {
  expect(caught.map((f) => f.id)).toEqual([
    'motors.swapped',
    'motors.reversed',
    'motors.mirrored',
    'motors.doubly',
    'motors.startsLate',
    'motors.otherKv',
    'motors.unbalanced',
    'motors.rough',
    'motors.hot',
    'motors.wrongProp',
    'motors.damagedProp',
    'arming.idleLow',
  ])
})

test.each(motors.map((check) => [check.id, check] as const))('%s passes on sound airframes of every type', async (_id, check) => {
  for (const type of types)
    for (const seed of [1, 2]) {
      const taken = await takenOn(heardRig(seed, { type }), check, sheetOf(type))
      expect({ type, seed, wrong: wrongIn(taken) }).toEqual({ type, seed, wrong: [] })
    }
})

/** Answers how what turns the wrong way is to be reversed. */
const choosing = (answer: string) => ({
  answer: (): Observation[] => [{ segment: 'how', item: 'reverseBy', answer }],
})
const actOf = {
  'swap motor leads': 'swap leads',
  'replace ESC': 'replace esc',
  'replace motor': 'replace motor',
  'put right prop': 'lay prop',
  'replace prop': 'lay prop',
} as const
const follow = (rig: Rig, taken: Awaited<ReturnType<typeof takenOn>>): void => {
  actOn(rig, { act: 'battery', source: 'none' })
  const done = new Set<string>()
  for (const { remedy } of wrongIn(taken)) {
    if (remedy === undefined || done.has(remedy.act)) continue
    done.add(remedy.act)
    if (remedy.by === 'settings') {
      expect(rig.board.settings.write(remedy.settings)).toBeNull()
      rig.board.settings.save()
    }
    if (remedy.by === 'work')
      for (const output of remedy.outputs ?? [])
        expect(actOn(rig, { act: actOf[remedy.work[0] as keyof typeof actOf], output })).toBeNull()
  }
  rig.skip(1)
}

test.each(['in the ESC', 'two leads swapped by hand'])('every fault is caught and mended: reversed %s', async (way) => {
  for (const { id, caughtBy } of ofOrder)
    for (const type of types)
      for (const seed of [1, 2]) {
        const rig = heardRig(seed, { type, faults: [id] })
        const changes: Change[] = []
        const first = await takenOn(rig, byId(caughtBy), sheetOf(type), {
          ...choosing(way),
          wroteEscs: (change) => void changes.push(change),
        })
        expect({ id, type, seed, verdict: first.verdict }).toEqual({ id, type, seed, verdict: 'fail' })
        // One way, never both.
        if (way !== 'in the ESC') expect(changes).toEqual([])
        else expect(wrongIn(first).every(({ remedy }) => remedy?.by !== 'work')).toBe(true)
        follow(rig, first)
        const again = await takenOn(rig, byId(caughtBy), sheetOf(type), choosing('not now'))
        expect({ id, type, seed, wrong: wrongIn(again) }).toEqual({ id, type, seed, wrong: [] })
        expect(faultById(id)?.isIn(rig)).toBe(false)
      }
})

test('an airframe that is mirrored throughout may follow that convention: the board is told, and says so', async () => {
  const rig = heardRig(3, { type: 'H6', faults: ['motors.mirrored'] })
  const first = await takenOn(rig, byId('motors.order'), sheetOf('H6'), choosing('the board is set to mirror all'))
  expect(wrongIn(first)[0]?.remedy).toMatchObject({ by: 'settings', settings: { 'motors.mirrored': 1 } })
  follow(rig, first)
  expect((await takenOn(rig, byId('motors.order'), sheetOf('H6'), choosing('not now'))).verdict).toBe('pass')
})

test.each(caught.filter((fault) => !ofOrder.includes(fault)).map(({ id, caughtBy }) => [id, byId(caughtBy)] as const))(
  '%s is caught by its check, and what that says mends it',
  async (id, check) => {
    for (const type of ['N4', 'Y6'])
      for (const seed of [1, 2]) {
        const rig = heardRig(seed, { type, faults: [id] })
        const first = await takenOn(rig, check, sheetOf(type))
        expect({ id, type, seed, verdict: first.verdict }).toEqual({ id, type, seed, verdict: 'fail' })
        follow(rig, first)
        const again = await takenOn(rig, check, sheetOf(type))
        expect({ id, type, seed, wrong: wrongIn(again) }).toEqual({ id, type, seed, wrong: [] })
        expect(faultById(id)?.isIn(rig)).toBe(false)
      }
  },
)

test('two motors that turn alike, in each other’s output and tapped in exchange: the order passes, the response does not', async () => {
  const rig = heardRig(5, {
    type: 'L4',
    spoil: ({ drives: [first, , third] }) => {
      if (first != null && third != null) [first.position, third.position] = [third.position, first.position]
    },
  })
  const pair = ['front right', 'rear left']
  const taps = await takenOn(rig, byId('motors.order'), sheetOf('L4'), {
    meddler: {
      said: (_rig, _want, observations) =>
        observations.map((one) => {
          const at = pair.indexOf(one.position ?? '')
          return at < 0 ? one : { ...one, position: pair[1 - at] ?? '' }
        }),
    },
  })
  expect(taps.verdict).toBe('pass')
  const felt = wrongIn(await takenOn(rig, byId('motors.response'), sheetOf('L4')))
  expect(felt.map(({ key }) => key)).toEqual(['faster right-down', 'faster left-down', 'faster nose-up', 'faster nose-down'])
  expect(felt.every(({ remedy }) => remedy?.by === 'work' && remedy.work[0] === 'look at motor leads')).toBe(true)
  // Tapped as they turn, the map is found.
  expect((await takenOn(rig, byId('motors.order'), sheetOf('L4'))).verdict).toBe('fail')
})

const turning = ['sensors.compassShift', 'escs.data', 'motors.order', 'motors.smooth', 'motors.start', 'motors.heat']
const broken: readonly [how: string, spoil: (drive: DriveBuild) => void, work: string][] = [
  ['stands', ({ motor }) => void (motor.rub = 5), 'replace motor'],
  ['stutters', ({ esc }) => void (esc.startAt = 2), 'replace ESC'],
  ['silent', ({ esc }) => void (esc.plug = 'silent'), 'reseat ESC plug'],
]
test.each(turning.flatMap((id) => broken.map(([how, spoil, work]) => [id, how, spoil, work] as const)))(
  '%s: a motor that %s in the middle is driven no longer, and named',
  async (id, how, spoil, work) => {
    const rig = heardRig(4, { type: 'L4' })
    let [since, driven] = [0, 0]
    const taken = await takenOn(rig, checkById(id) as Check, sheetOf('L4'), {
      meddler: {
        row: ({ airframe, board }, want, row) => {
          const turns = want.kind === 'turn' && want.outputs.some(({ output, share }) => output === 2 && share >= 0.2)
          const slowly = id === 'motors.order' && want.kind === 'turn' && want.label === 'output-2'
          if ((turns || slowly) && row === (how === 'stutters' ? 100 : 1) && since === 0) {
            since = rig.clock
            const drive = airframe.drives[1]
            if (drive != null) spoil(drive)
          }
          if (since > 0 && (board.commands[1] ?? 0) > 0) driven = rig.clock - since
          return 'keep'
        },
      },
    })
    expect(since).toBeGreaterThan(0)
    const proves = checkById(id)?.provesTurning === true
    expect(wrongIn(taken)).toMatchObject([proves ? { key: 'turns2', verdict: 'fail' } : { key: 'refused', verdict: 'refused' }])
    expect(taken.findings[0]?.remedy).toMatchObject({ by: 'work', outputs: [2] })
    // It is silent once half of its replies are missing, is told so for 1.2 s, and replies come in blocks; one that turned until then coasts first.
    expect(driven).toBeLessThan(how === 'silent' ? 2.5 : 5)
    expect(rig.state().motors).toBe('still')
    if (how === 'silent') expect(taken.findings[0]?.remedy).toMatchObject({ work: [work, 'replace ESC'] })
  },
)

test('a bell that something locks while the board is armed ends the take, and the board is disarmed', async () => {
  const rig = heardRig(4, { type: 'L4' })
  let [since, driven] = [0, 0]
  const taken = await takenOn(rig, byId('motors.response'), sheetOf('L4'), {
    meddler: {
      row: ({ airframe, board }, want) => {
        const motor = airframe.drives[1]?.motor
        if (want.label === 'right-down' && since === 0 && motor !== undefined) {
          since = rig.clock
          motor.rub = 5
        }
        if (since > 0 && (board.commands[1] ?? 0) > 0) driven = rig.clock - since
        return 'keep'
      },
    },
  })
  expect(wrongIn(taken)).toMatchObject([{ key: 'refused', value: expect.stringMatching(/stands at output 2/) as unknown }])
  expect(taken.findings[0]?.remedy).toMatchObject({ work: ['replace motor', 'replace ESC'], outputs: [2] })
  expect(since).toBeGreaterThan(0)
  // From there the frame is tilted and throttle raised; one that only idles is not looked at.
  expect(driven).toBeLessThan(13)
  expect(rig.state().motors).toBe('still')
})
