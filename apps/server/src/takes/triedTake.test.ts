import { seenAlone } from '@taraf/core'
import { ArmedBench, arm, battery, level, pause, throttle, transmitter } from '../../tests/armedBench'
import { eventually } from '../../tests/world'

jest.setTimeout(240_000)
let bench: ArmedBench
beforeAll(async () => {
  bench = await ArmedBench.make([
    'failsafe.levels',
    'failsafe.waits',
    'failsafe.bySwitch',
    'failsafe.motorCut',
    'failsafe.finalForm',
  ])
})
afterAll(() => bench.end())

const mode = (to: number) => ({ act: 'switch', name: 'B', to })
const cable = (isIn: boolean) => ({ act: 'cable', in: isIn })
const tilt = (rollDeg: number, pitchDeg: number) => ({ act: 'tilt', rollDeg, pitchDeg, yawDeg: 0 })
const failsafeSwitch = (to: number) => ({ act: 'switch', name: 'D', to })

const armed = async (label: string, position: number) => {
  await bench.step(label)
  await bench.hands(level, throttle(-1), arm(0), mode(position))
  await pause(600)
  await bench.hands(arm(1))
}
/** What ended well: everything off, and every finding as it must be. */
const passed = async () => {
  await eventually(() => bench.now()?.want?.label === 'failsafe-done', 30_000)
  await bench.hands(level, throttle(-1), arm(0), mode(0), battery('none'))
  await bench.stored()
  const { verdict, findings } = await bench.last()
  expect(findings.filter((f) => f.verdict !== 'pass' && f.verdict !== 'shown')).toEqual([])
  expect(verdict).toBe('pass')
  await eventually(() => bench.rig.state().motors === 'still', 5_000)
  expect(bench.rig.incidents).toEqual([])
  return findings
}

test('held tilted while it acts: moved in between it is asked for again, with why; held still it passes', async () => {
  await bench.begin('failsafe.levels')
  await armed('arm-held', 2)
  const held = async (label: string, roll: number, pitch: number, late = false) => {
    await bench.step(label)
    await bench.hands(throttle(-1), ...(late ? [] : [tilt(roll, pitch)]))
    await pause(1_600)
    await bench.hands(throttle(0.05))
    await pause(500)
    if (late) {
      await bench.hands(tilt(roll, pitch))
      await pause(1_400)
    }
    await bench.hands(transmitter(false))
    await bench.led(/It acts/)
    await pause(1_200)
    await bench.hands(transmitter(true))
  }
  await held('held-right-down', 20, 0, true)
  await eventually(() => /It was moved by \d+ deg meanwhile/.test(bench.now()?.want?.ask ?? ''), 10_000)
  await bench.hands(throttle(-1), level)
  await pause(1_400)
  await held('held-right-down', 20, 0)
  await held('held-nose-up', 0, 20)
  const findings = await passed()
  expect(findings.find((f) => f.key === 'held-nose-up.harder')?.value).toEqual(['rear right', 'rear left'])
})

test('by its switch, from both modes', async () => {
  await bench.begin('failsafe.bySwitch')
  await armed('arm-switch-on', 0)
  for (const [label, position] of [
    ['by-selfLevel', 0],
    ['by-rate', 2],
  ] as const) {
    await bench.step(label)
    await bench.hands(mode(position), throttle(0.05))
    await pause(600)
    await bench.hands(failsafeSwitch(1))
    await bench.led(/It acts/)
    await pause(900)
    await bench.hands(failsafeSwitch(0))
  }
  await passed()
})

test('throttle fully down after a flight', async () => {
  await bench.begin('failsafe.motorCut')
  await armed('arm-cut', 2)
  await bench.step('down')
  await bench.hands(throttle(0.05))
  await pause(1_500)
  await bench.hands(throttle(-1))
  await passed()
})

describe('on its battery alone', () => {
  const alone = async () => {
    await bench.begin('failsafe.finalForm')
    await bench.step('alone')
    await bench.hands(level, throttle(-1), arm(0))
    await pause(500)
    await bench.hands(cable(false))
    await bench.led(/The cable is out/)
  }
  const acts: readonly (readonly [act: object, afterMs: number])[] = [
    [throttle(0.05), 500],
    [arm(1), 700],
    [arm(0), 400],
    [throttle(-1), 500],
    [arm(1), 1_200],
    [arm(0), 700],
    [arm(1), 700],
    [throttle(0.05), 500],
    [transmitter(false), 11_000],
    [transmitter(true), 2_500],
    [throttle(-1), 300],
    [arm(0), 300],
  ]

  test('what was done without the cable is read from the log of the board, and judged with what was seen', async () => {
    await alone()
    for (const [act, afterMs] of acts) {
      await bench.hands(act)
      await pause(afterMs)
    }
    await bench.hands(cable(true))
    await eventually(() => bench.now()?.want?.label === 'seen', 20_000)
    const seen = { refused: 'stood', armed: 'turned', off: 'atOnce', lost: 'later', back: 'stood' } as const
    const observations = (Object.keys(seen) as (keyof typeof seen)[]).map((name) => ({
      segment: 'seen',
      item: seenAlone[name],
      answer: seenAlone[seen[name]],
    }))
    expect((await bench.ines.post(`/jobs/${bench.job}/takes/next`, { observations })).status).toBe(202)
    const findings = await passed()
    expect(findings.find((f) => f.key === 'ends')?.value).toBe('disarmed by failsafe')
    // Nobody is told that it armed by itself: it was asked to.
    expect(JSON.stringify((await bench.ines.job(bench.job)).entries)).not.toMatch(/armed by itself|arms by itself/)
  })

  test('the battery pulled while nobody hears it: refused with words, and nothing turns', async () => {
    await alone()
    await bench.hands(arm(1))
    await pause(800)
    await bench.hands(battery('none'))
    await pause(500)
    await bench.hands(arm(0), cable(true))
    await eventually(() => bench.now()?.phase === 'stored' || bench.now()?.phase === 'aborted', 30_000)
    expect((await bench.last()).verdict).toBe('refused')
    await eventually(() => bench.rig.state().motors === 'still', 5_000)
  })
})
