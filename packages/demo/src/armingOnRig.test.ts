import { checks, type Check } from '@taraf/core'
import { actOn, faults, type Rig } from '@taraf/rig'
import { heardRig, mendsByWrites, takenOn, taughtRig, wrongIn } from '../tests/heardRig'
import { sheetOf } from './rigs'

jest.setTimeout(300_000)

const arming = checks.filter(({ station }) => station === 'arming')
const byId = (id: string) => arming.find((check) => check.id === id) as Check
const caught = faults.filter((fault) => arming.some((check) => check.id === fault.caughtBy))
const types = ['N4', 'L4', 'K4', 'H6', 'Y6'] as const

test('the faults of this station that these checks must catch', () => {
  expect(caught.map((f) => f.id)).toEqual([
    'arming.armsLater',
    'arming.deafInFlight',
    'arming.obeysLate',
    'arming.yawDisarms',
    'arming.throttleGate',
    'arming.tiltGate',
    'arming.lowBattery',
    'arming.uncalibrated',
    'arming.onAtPower',
    'arming.neverIdles',
    'arming.sticks',
    'arming.idleStands',
  ])
})

test.each(arming.map((check) => [check.id, check] as const))('%s passes on sound airframes of every type', async (_id, check) => {
  for (const type of types)
    for (const seed of [1, 2]) {
      const rig = await taughtRig(seed, type)
      const taken = await takenOn(rig, check, sheetOf(type))
      expect({ type, seed, wrong: wrongIn(taken) }).toEqual({ type, seed, wrong: [] })
      expect([rig.incidents, rig.board.arming.armed, rig.turning]).toEqual([[], false, false])
    }
})

test.each(caught.map(({ id, caughtBy }) => [id, byId(caughtBy)] as const))(
  '%s is caught by its check, and what that says mends it',
  mendsByWrites,
)

test('an idle that turns no motor is seen here too, and raised', async () => {
  const rig = heardRig(2, { type: 'N4', faults: ['arming.idleLow'] })
  const found = wrongIn(await takenOn(rig, byId('arming.idle'), sheetOf('N4')))
  expect(found.map(({ key, value }) => [key, value])).toEqual([1, 2, 3, 4].map((output) => [`idle${output}`, 'stands']))
  expect(found[0]?.remedy).toMatchObject({ by: 'settings', settings: { 'motors.idle': 0.06 } })
})

describe('what a board says for another reason proves nothing', () => {
  /** The take with one thing done at the beginning of a step, by its label. */
  const meddled = async (label: string, meddle: (rig: Rig) => void, check = 'arming.refuses') => {
    const rig = heardRig(3, { type: 'N4' })
    let done = false
    const taken = await takenOn(rig, byId(check), sheetOf('N4'), {
      meddler: {
        row: (now, want) => {
          if (want.label === label && !done) {
            done = true
            meddle(now)
          }
          return 'keep'
        },
      },
    })
    expect(done).toBe(true)
    expect([rig.incidents, rig.board.arming.armed, rig.turning]).toEqual([[], false, false])
    return taken
  }
  const refusedFor = (taken: Awaited<ReturnType<typeof meddled>>) =>
    taken.findings.filter(({ verdict }) => verdict === 'refused').map(({ value }) => value as string)

  test('throttle left up at a tilt: both are said, and the step comes again until one alone is left', async () => {
    const taken = await meddled('tilt-left', (rig) => void actOn(rig, { act: 'stick', stick: 'throttle', to: 0.5 }))
    expect(wrongIn(taken)).toEqual([])
  })
  test('the transmitter never switched off', async () => {
    const rig = heardRig(3, { type: 'N4' })
    const taken = await takenOn(rig, byId('arming.refuses'), sheetOf('N4'), {
      meddler: {
        handled: (want, handled) =>
          want.label === 'radio' ? { before: handled.before, then: [{ act: 'switch', name: 'A', to: 1 }] } : handled,
      },
    })
    expect(refusedFor(taken).join()).toMatch(/Without radio/)
  })
  test('armed level instead of tilted: it is said, and no fault is made of it', async () => {
    const rig = heardRig(3, { type: 'N4' })
    const taken = await takenOn(rig, byId('arming.refuses'), sheetOf('N4'), {
      meddler: {
        handled: (want, handled) =>
          want.label === 'tilt-right' ? { before: handled.before, approach: [{ act: 'switch', name: 'A', to: 1 }] } : handled,
      },
    })
    expect(refusedFor(taken)).toEqual([expect.stringMatching(/its right side down: it armed, but it was tilted by [45] deg/)])
    expect([rig.board.arming.armed, rig.turning]).toEqual([false, false])
  })
  test('the battery taken out and put back in place of both battery and cable: the board did not start again', async () => {
    const rig = heardRig(3, { type: 'N4' })
    const taken = await takenOn(rig, byId('arming.refuses'), sheetOf('N4'), {
      meddler: {
        handled: (want, handled) =>
          want.label === 'powered-anew' ? { before: handled.before, unlinked: [{ act: 'switch', name: 'A', to: 1 }] } : handled,
      },
    })
    expect(refusedFor(taken).join()).toMatch(/Switch on at power-up/)
  })
})
