import { openItems } from '@taraf/core'
import { ArmedBench, arm, battery, level, pause, throttle, transmitter } from '../../tests/armedBench'
import { eventually } from '../../tests/world'

jest.setTimeout(240_000)
let at: ArmedBench
beforeAll(async () => {
  at = await ArmedBench.make(['arming.refuses', 'arming.arms', 'arming.disarms', 'arming.idle'])
})
afterAll(() => at.end())
const rig = () => at.rig

const tilt = (rollDeg: number, pitchDeg: number) => ({ act: 'tilt', rollDeg, pitchDeg, yawDeg: 0, dragged: true })
/** One small act after the other, until the take says that the board would refuse. */
const approach = async (acts: readonly object[], everyMs: number) => {
  for (const act of acts) {
    if (/would refuse/.test(at.now()?.guide?.words ?? '')) return
    await at.hands(act)
    await pause(everyMs)
  }
}
const range = (from: number, to: number, by: number) =>
  Array.from({ length: Math.round((to - from) / by) + 1 }, (_, i) => from + i * by)

describe('takes in which a board is asked to arm', () => {
  test('it refuses everything that the sheet wants refused, each tried by itself, over a power-up and a supply', async () => {
    await at.begin('arming.refuses')
    await at.step('throttle')
    await approach(range(-1, -0.7, 0.01).map(throttle), 60)
    await at.led(/would refuse/)
    await at.hands(throttle(-0.5), arm(1))
    await at.step('throttle-down')
    await at.hands(throttle(-1))
    for (const [label, roll, pitch] of [
      ['tilt-right', 1, 0],
      ['tilt-left', -1, 0],
      ['tilt-nose-up', 0, 1],
      ['tilt-nose-down', 0, -1],
    ] as const) {
      await at.step(label)
      await at.hands(arm(0), throttle(-1), tilt(4 * roll, 4 * pitch))
      await pause(1300)
      await approach(
        range(6, 40, 2).map((deg) => tilt(deg * roll, deg * pitch)),
        300,
      )
      await at.hands(tilt(30 * roll, 30 * pitch))
      await pause(700)
      await at.hands(arm(1))
    }
    await at.step('calibration')
    expect(rig().board.settings.get('gyro.biasX')).toBe(0)
    await at.hands(arm(0), level)
    await pause(1500)
    await at.hands(arm(1))
    await at.step('radio')
    // What was put in force for one step is as it is saved again.
    const biases = rig()
      .board.settings.list()
      .filter(({ name }) => /^(gyro|accel)\.bias/.test(name))
    expect(biases.every(({ value, saved }) => value === saved)).toBe(true)
    await at.hands(arm(0))
    await pause(300)
    await at.hands(transmitter(false))
    await at.led(/would refuse/)
    await at.hands(arm(1))
    await pause(600)
    await at.hands(transmitter(true))
    await at.step('powered-anew')
    await at.hands(battery('none'), { act: 'cable', in: false }, arm(1))
    await pause(600)
    await at.hands(battery('pack'), { act: 'cable', in: true })
    await eventually(() => at.now()?.want?.label === 'anew', 20_000)
    await at.confirm()
    await eventually(() => at.now()?.want?.label === 'pack-out', 20_000)
    await at.hands(arm(0), battery('none'))
    await eventually(() => at.now()?.want?.label === 'supply-in')
    await at.hands({ act: 'supply', volts: 16.4 }, battery('supply'))
    await pause(300)
    await at.confirm()
    await at.step('battery')
    await approach(
      range(0, 40, 1).map((i) => ({ act: 'supply', volts: 16.2 - 0.1 * i })),
      150,
    )
    await at.led(/would refuse/)
    await at.hands(arm(1))
    await eventually(() => at.now()?.want?.label === 'arming-done')
    await at.hands(arm(0), battery('none'))
    await at.stored()
    const { verdict, findings } = await at.last()
    expect({ verdict, wrong: findings.filter((f) => f.verdict !== 'pass') }).toEqual({ verdict: 'pass', wrong: [] })
    expect(rig().incidents).toEqual([])
    expect(rig().board.arming.armed).toBe(false)
  })

  test('it arms by its switch, and what its light showed is said', async () => {
    await at.begin('arming.arms')
    await at.step('arm')
    await pause(400)
    await at.hands(arm(1))
    await eventually(() => at.now()?.want?.label === 'said')
    expect(rig().board.arming.armed).toBe(false)
    const observations = [{ segment: 'said', item: 'armedLight', answer: 'steady' }]
    expect((await at.ines.post(`/jobs/${at.job}/takes/next`, { observations })).status).toBe(202)
    await at.stored()
    expect(await at.last()).toMatchObject({ verdict: 'pass' })
  })

  test('it disarms by its switch, its sticks, Stop all, and by itself', async () => {
    await at.begin('arming.disarms')
    const stick = (name: string, to: number) => ({ act: 'stick', stick: name, to })
    const inFlight = async () => {
      await at.hands(stick('throttle', 0.05), stick('yaw', -1))
      await pause(2000)
      await at.hands(stick('yaw', 0), arm(0))
    }
    const ways: readonly [string, () => Promise<unknown>][] = [
      ['switch', inFlight],
      ['sticks', () => at.hands({ act: 'stick', stick: 'yaw', to: -1 })],
      ['stop', () => at.ines.post(`/benches/${at.world.benches.sound}/stop`)],
      ['idle', () => pause(0)],
    ]
    for (const [label, disarm] of ways) {
      await at.step(`arm-${label}`)
      await at.hands(stick('throttle', -1), stick('yaw', 0), arm(0))
      await pause(400)
      await at.hands(arm(1))
      await at.step(label === 'switch' ? 'off-flight' : `off-${label}`)
      await pause(300)
      await disarm()
    }
    await eventually(() => at.now()?.phase === 'stored', 30_000)
    const { verdict, findings } = await at.last()
    expect({ verdict, wrong: findings.filter((f) => f.verdict !== 'pass') }).toEqual({ verdict: 'pass', wrong: [] })
    expect(rig().board.permits.current).toBeNull()
  })

  test('the battery out while it is armed: everything stands, and nothing is proved', async () => {
    await at.begin('arming.idle')
    await at.step('arm')
    await at.hands(arm(1))
    await at.step('idle')
    await at.hands(battery('none'))
    await at.stored()
    expect(await at.last()).toMatchObject({ verdict: 'refused' })
    expect([rig().board.arming.armed, rig().board.permits.current, rig().board.drives]).toEqual([false, null, false])
  })

  test('armed while nobody is asked to arm it: it is on the card until somebody has said why, and blocks', async () => {
    await at.hands(battery('pack'))
    await eventually(() => at.state()?.power === 'both')
    rig().board.events.push({ t: rig().clock, what: 'armed' })
    const open = async () =>
      openItems((await at.ines.job(at.job)).entries).filter(({ words }) => /armed by itself, on battery and cable/.test(words))
    await eventually(async () => (await open()).length === 1)
    const [item] = await open()
    expect(item?.blocks).toBe(true)
    expect(
      (await at.ines.post(`/jobs/${at.job}/items/${item?.seq}/close`, { words: 'a jumper of the bench, taken out' })).status,
    ).toBe(201)
    expect(await open()).toEqual([])
  })

  test('stopped in the middle: nothing is armed, and nothing is in force that is not saved', async () => {
    await at.begin('arming.refuses')
    await at.step('throttle')
    await at.hands(throttle(-0.8))
    await pause(300)
    await at.hands(arm(1))
    expect((await at.ines.remove(`/jobs/${at.job}/takes/running`)).status).toBe(200)
    await eventually(() => rig().state().motors === 'still', 3_000)
    expect(
      rig()
        .board.settings.list()
        .every(({ value, saved }) => value === saved),
    ).toBe(true)
  })
})
