import type { Settings, Sheet } from '@taraf/contract'
import { checks, isNeeded, type Check } from '@taraf/core'
import fc from 'fast-check'
import { actOn, faults, Rig, soundAirframe, soundSettings } from '@taraf/rig'
import { heardRig, mendsByWrites, takenOn, taughtRig, wrongIn } from '../tests/heardRig'
import { drawnAt } from './draw'
import { demoShop, sheetOf } from './rigs'

jest.setTimeout(300_000)

const failsafe = checks.filter(({ station }) => station === 'failsafe')
const byId = (id: string) => failsafe.find((check) => check.id === id) as Check
const caught = faults.filter((fault) => failsafe.some((check) => check.id === fault.caughtBy))
const response = byId('failsafe.response')

test('the faults of this station that these checks must catch', () => {
  expect(caught.map((f) => f.id)).toEqual([
    'failsafe.lateNotice',
    'failsafe.longWait',
    'failsafe.cuts',
    'failsafe.throttleHigh',
    'failsafe.throttleIdle',
    'failsafe.keepsTilt',
    'failsafe.lateBack',
    'failsafe.holdsSticks',
    'failsafe.motorCut',
    'failsafe.homeLow',
    'failsafe.fedByCable',
  ])
})

test.each(failsafe.map((check) => [check.id, check] as const))(
  '%s passes on sound airframes of every type',
  async (_id, check) => {
    for (const [type, seed] of [
      ['N4', 1],
      ['L4', 2],
      ['K4', 1],
      ['H6', 2],
      ['Y6', 1],
    ] as const) {
      if (!isNeeded(check, sheetOf(type))) continue
      const rig = await taughtRig(seed, type)
      const taken = await takenOn(rig, check, sheetOf(type))
      expect({ type, seed, wrong: wrongIn(taken) }).toEqual({ type, seed, wrong: [] })
      expect([rig.incidents, rig.board.arming.armed, rig.turning]).toEqual([[], false, false])
    }
  },
)

test.each(caught.filter(({ id }) => id !== 'failsafe.fedByCable').map(({ id, caughtBy }) => [id, byId(caughtBy)] as const))(
  '%s is caught by its check, and what that says mends it',
  mendsByWrites,
)

test('a receiver that the cable feeds: dark on the battery alone, fed from the regulator it passes', async () => {
  const rig = heardRig(1, { type: 'N4', faults: ['failsafe.fedByCable'] })
  const check = byId('failsafe.finalForm')
  expect(wrongIn(await takenOn(rig, check, sheetOf('N4')))).toMatchObject([
    { key: 'signal', remedy: { work: ['feed receiver'] } },
  ])
  for (const act of [{ act: 'battery', source: 'none' }, { act: 'feed receiver' }] as const) expect(actOn(rig, act)).toBeNull()
  expect(wrongIn(await takenOn(rig, check, sheetOf('N4')))).toEqual([])
})

describe('return home', () => {
  const onSwitchC = {
    'switch.sounder.channel': 0,
    'switch.returnHome.channel': 7,
    'switch.returnHome.low': 1700,
    'switch.returnHome.high': 2100,
  }
  const from = sheetOf('L4')
  const sheet: Sheet = {
    ...from,
    switchPlan: [
      ...(from.switchPlan ?? []).filter((row) => row.channel !== 7),
      { function: 'returnHome', channel: 7, from: 1700, to: 2100 },
    ],
    home: { obstaclesM: 22, below: 'saltmarsh, and one road' },
  }
  const taken = async (
    change: Settings = {},
    spoil: (rig: Rig) => void = () => {},
    own: Sheet = sheet,
    check = byId('failsafe.returnHome'),
  ) => {
    const airframe = soundAirframe(own, 'TB-1', 11, demoShop(drawnAt))
    airframe.fix.secondsToFix = 5
    const rig = new Rig({ seed: 5, airframe, settings: { ...soundSettings(own), ...onSwitchC, ...change } })
    rig.skip(3)
    for (const act of [
      { act: 'transmitter', on: true },
      { act: 'battery', source: 'pack' },
    ] as const)
      actOn(rig, act)
    rig.skip(8)
    spoil(rig)
    return await takenOn(rig, check, own)
  }
  const of = ({ findings }: Awaited<ReturnType<typeof taken>>, key: string) => findings.find((f) => f.key === key)

  test('without a fix it does not try, with one it does, over what stands there', async () => {
    const found = await taken()
    expect(wrongIn(found)).toEqual([])
    expect([of(found, 'home-covered')?.value, of(found, 'home-open')?.value, of(found, 'over')?.value]).toEqual([
      'self-level',
      'return home',
      8,
    ])
  })
  test('a height under what stands there, and one over what is allowed: what to set is said', async () => {
    expect(of(await taken({ 'home.height': 20 }), 'over')).toMatchObject({
      verdict: 'fail',
      remedy: { settings: { 'home.height': 27 } },
    })
    expect(of(await taken({ 'home.height': 200 }), 'height')?.verdict).toBe('fail')
  })
  test('at a loss it flies home with what holds it up, and a board that is told of another hover lets it fall, left alone', async () => {
    const own = { ...sheet, settings: { ...sheet.settings, 'loss.act': 2 } }
    const lost = async (hover: number) => await taken({ 'loss.act': 2, 'rotor.hover': hover }, undefined, own, response)
    const sound = await lost(0.39)
    expect(wrongIn(sound)).toEqual([])
    expect([of(sound, 'half-returnHome.mode')?.value, of(sound, 'half-returnHome.command')?.verdict]).toEqual([
      'return home',
      'shown',
    ])
    expect(wrongIn(await lost(0.05))).toMatchObject([{ key: 'idle.lift', remedy: { settings: { 'rotor.hover': 0.39 } } }])
  })
  test('asked home, a board that is told of another hover lets it fall', async () => {
    expect(wrongIn(await taken({ 'rotor.hover': 0.05 }))).toMatchObject([
      { key: 'lift', remedy: { settings: { 'rotor.hover': 0.39 } } },
    ])
  })
  test('a band of return home that is another one', async () => {
    expect(wrongIn(await taken({ 'switch.returnHome.low': 2050 }))[0]?.verdict).toBe('refused')
  })
})

test('whatever a board is set to, each phase is found within a frame of it', async () => {
  const ms = (min: number, max: number) => fc.integer({ min, max })
  await fc.assert(
    fc.asyncProperty(
      ms(150, 950),
      ms(0, 1900),
      ms(100, 900),
      fc.integer({ min: 32, max: 36 }),
      async (notice, wait, back, percent) => {
        const rig = heardRig(4, { type: 'N4' })
        const set = { 'loss.notice': notice, 'loss.wait': wait, 'loss.back': back, 'loss.throttle': percent / 100 }
        expect(rig.board.settings.write(set)).toBeNull()
        rig.board.settings.save()
        const { findings } = await takenOn(rig, response, sheetOf('N4'))
        const of = (key: string) => Number(findings.find((f) => f.key === `half-selfLevel.${key}`)?.value)
        const frameS = rig.airframe.receiver.frameMs / 1000
        for (const [key, wanted] of [
          ['notice', notice],
          ['wait', wait],
          ['back', back],
        ] as const)
          expect(Math.abs(of(key) - wanted / 1000)).toBeLessThan(frameS + 0.006)
        expect(of('command')).toBeCloseTo(percent - 39, 4)
        expect(findings.filter(({ verdict }) => verdict === 'fail' || verdict === 'refused')).toEqual([])
      },
    ),
    { numRuns: 8 },
  )
})

describe('a loss that is another one than was asked for proves nothing', () => {
  /** What is said where the hands do something else in one step. */
  const refusedFor = async (label: string, handled: (asked: { before: readonly unknown[] }) => object) => {
    const rig = heardRig(3, { type: 'N4' })
    const taken = await takenOn(rig, response, sheetOf('N4'), {
      meddler: {
        handled: (want, asked) => (want.label === label ? ({ ...asked, ...handled(asked) } as typeof asked) : asked),
      },
    })
    expect([rig.incidents, rig.board.arming.armed, rig.turning]).toEqual([[], false, false])
    return taken.findings.filter(({ verdict }) => verdict === 'refused').map(({ value }) => value as string)
  }
  test('throttle left down', async () => {
    expect(await refusedFor('half-selfLevel', () => ({ before: [] }))).toEqual([
      expect.stringMatching(/throttle was at 10\d\d us/),
    ])
  })
  test('the signal back before the board acts: the step comes again, and says why', async () => {
    const rig = heardRig(3, { type: 'N4' })
    const asks: string[] = []
    const taken = await takenOn(rig, response, sheetOf('N4'), {
      meddler: {
        handled: (want, asked) => {
          if (want.label !== 'half-rate') return asked
          asks.push(want.ask)
          return asks.length === 1 ? { before: asked.before, then: [{ act: 'block signal', seconds: 0.7 }] } : asked
        },
      },
    })
    expect(asks).toEqual([expect.stringMatching(/^Throttle just over/), expect.stringMatching(/^The signal came back before/)])
    expect(wrongIn(taken)).toEqual([])
  })
  test('the other mode', async () => {
    const rig = heardRig(3, { type: 'N4' })
    const taken = await takenOn(rig, response, sheetOf('N4'), {
      meddler: {
        row: (now, want, row) => {
          if (want.label === 'half-rate' && row === 10) actOn(now, { act: 'switch', name: 'B', to: 0 })
          return 'keep'
        },
      },
    })
    expect(taken.findings).toMatchObject([{ verdict: 'refused', value: expect.stringMatching(/in mode self-level/) as unknown }])
  })
  test('a board that starts its motors when the signal comes back is found', async () => {
    const rig = heardRig(3, { type: 'N4' })
    const taken = await takenOn(rig, response, sheetOf('N4'), {
      meddler: {
        row: ({ board }, want) => {
          // The board forgets that a switch must be seen off.
          if (want.label === 'idle') board.settings.write({ 'arm.offFirst': 0 })
          return 'keep'
        },
      },
    })
    expect(taken.verdict).not.toBe('pass')
  })
})
