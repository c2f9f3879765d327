import type { TakeBody, TakeTell } from '@taraf/contract'
import { openItems } from '@taraf/core'
import { eventually, makeWorld, type Client, type World } from '../../tests/world'

jest.setTimeout(240_000)
let world: World
let ines: Client
let job: string
let feed: Awaited<ReturnType<Client['live']>>
const bench = () => world.benches.sound
const rig = () => world.rigs.sound
const others = ['orientation.board', 'orientation.follow', 'orientation.level']
beforeAll(async () => {
  world = await makeWorld(others, 'N4', false, false, ['arming.refuses', 'arming.arms', 'arming.disarms', 'arming.idle'])
  ines = await world.signIn('ines')
  job = await ines.begin('T-001', bench())
  feed = await ines.live({ job, bench: bench() })
})
afterAll(async () => {
  feed.socket.terminate()
  await world.end()
})

const hands = async (...acts: object[]) => {
  for (const act of acts) expect((await ines.post(`/hands/${bench()}`, act)).status).toBe(200)
}
const throttle = (to: number) => ({ act: 'stick', stick: 'throttle', to })
const arm = (to: number) => ({ act: 'switch', name: 'A', to })
const battery = (source: string) => ({ act: 'battery', source })
const level = { act: 'lay', way: 'forward' }
const tilt = (rollDeg: number, pitchDeg: number) => ({ act: 'tilt', rollDeg, pitchDeg, yawDeg: 0, dragged: true })
const now = () => feed.told.filter((t): t is TakeTell => t.tell === 'take').at(-1)
const step = (label: string) => eventually(() => now()?.want?.label === label && now()?.phase === 'capturing', 20_000)
const led = (words: RegExp) => eventually(() => words.test(now()?.guide?.words ?? ''), 15_000)
const last = async () => (await ines.job(job)).entries.at(-1)?.body as TakeBody
const stored = () => eventually(() => now()?.phase === 'stored', 20_000)
const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms))
const confirm = () => ines.post(`/jobs/${job}/confirmations`, { what: 'props off' })

/** Everything as a take of this station begins. */
const begin = async (check: string) => {
  await hands({ act: 'transmitter', on: true }, level, throttle(-1), arm(0), battery('none'), battery('pack'))
  await eventually(() => rig().state().radio === 'heard')
  await confirm()
  const { status, body } = await ines.post(`/jobs/${job}/takes`, { check })
  expect({ status, ...(status === 202 ? {} : { body }) }).toEqual({ status: 202 })
}
/** One small act after the other, until the take says that the board would refuse. */
const approach = async (acts: readonly object[], everyMs: number) => {
  for (const act of acts) {
    if (/would refuse/.test(now()?.guide?.words ?? '')) return
    await hands(act)
    await pause(everyMs)
  }
}
const range = (from: number, to: number, by: number) =>
  Array.from({ length: Math.round((to - from) / by) + 1 }, (_, i) => from + i * by)

describe('takes in which a board is asked to arm', () => {
  test('it refuses everything that the sheet wants refused, each tried by itself, over a power-up and a supply', async () => {
    await begin('arming.refuses')
    await step('throttle')
    await approach(range(-1, -0.7, 0.01).map(throttle), 60)
    await led(/would refuse/)
    await hands(throttle(-0.5), arm(1))
    for (const [label, roll, pitch] of [
      ['tilt-right', 1, 0],
      ['tilt-left', -1, 0],
      ['tilt-nose-up', 0, 1],
      ['tilt-nose-down', 0, -1],
    ] as const) {
      await step(label)
      await hands(arm(0), throttle(-1), tilt(4 * roll, 4 * pitch))
      await pause(1300)
      await approach(
        range(6, 40, 2).map((deg) => tilt(deg * roll, deg * pitch)),
        300,
      )
      await hands(tilt(30 * roll, 30 * pitch))
      await pause(700)
      await hands(arm(1))
    }
    await step('calibration')
    expect(rig().board.settings.get('gyro.biasX')).toBe(0)
    await hands(arm(0), level)
    await pause(1500)
    await hands(arm(1))
    await step('radio')
    // What was put in force for one step is as it is saved again.
    const biases = rig()
      .board.settings.list()
      .filter(({ name }) => /^(gyro|accel)\.bias/.test(name))
    expect(biases.every(({ value, saved }) => value === saved)).toBe(true)
    await hands(arm(0))
    await pause(300)
    await hands({ act: 'transmitter', on: false })
    await led(/would refuse/)
    await hands(arm(1))
    await pause(600)
    await hands({ act: 'transmitter', on: true })
    await step('powered-anew')
    await hands(battery('none'), { act: 'cable', in: false }, arm(1))
    await pause(600)
    await hands(battery('pack'), { act: 'cable', in: true })
    await eventually(() => now()?.want?.label === 'anew', 20_000)
    await confirm()
    await eventually(() => now()?.want?.label === 'pack-out', 20_000)
    await hands(arm(0), battery('none'))
    await eventually(() => now()?.want?.label === 'supply-in')
    await hands({ act: 'supply', volts: 16.4 }, battery('supply'))
    await pause(300)
    await confirm()
    await step('battery')
    await approach(
      range(0, 40, 1).map((i) => ({ act: 'supply', volts: 16.2 - 0.1 * i })),
      150,
    )
    await led(/would refuse/)
    await hands(arm(1))
    await eventually(() => now()?.want?.label === 'arming-done')
    await hands(arm(0), battery('none'))
    await stored()
    const { verdict, findings } = await last()
    expect({ verdict, wrong: findings.filter((f) => f.verdict !== 'pass') }).toEqual({ verdict: 'pass', wrong: [] })
    expect(rig().incidents).toEqual([])
    expect(rig().board.arming.armed).toBe(false)
  })

  test('it arms by its switch, and what its light showed is said', async () => {
    await begin('arming.arms')
    await step('arm')
    await pause(400)
    await hands(arm(1))
    await eventually(() => now()?.want?.label === 'said')
    expect(rig().board.arming.armed).toBe(false)
    const observations = [{ segment: 'said', item: 'armedLight', answer: 'steady' }]
    expect((await ines.post(`/jobs/${job}/takes/next`, { observations })).status).toBe(202)
    await stored()
    expect(await last()).toMatchObject({ verdict: 'pass' })
  })

  test('it disarms by its switch, its sticks, Stop all, and by itself', async () => {
    await begin('arming.disarms')
    const ways: readonly [string, () => Promise<unknown>][] = [
      ['switch', () => hands(arm(0))],
      ['sticks', () => hands({ act: 'stick', stick: 'yaw', to: -1 })],
      ['stop', () => ines.post(`/benches/${bench()}/stop`)],
      ['idle', () => pause(0)],
    ]
    for (const [label, disarm] of ways) {
      await step(`arm-${label}`)
      await hands({ act: 'stick', stick: 'yaw', to: 0 }, arm(0))
      await pause(400)
      await hands(arm(1))
      await step(`off-${label}`)
      await pause(300)
      await disarm()
    }
    await eventually(() => now()?.phase === 'stored', 30_000)
    const { verdict, findings } = await last()
    expect({ verdict, wrong: findings.filter((f) => f.verdict !== 'pass') }).toEqual({ verdict: 'pass', wrong: [] })
    expect(rig().board.permits.current).toBeNull()
  })

  test('the battery out while it is armed: everything stands, and nothing is proved', async () => {
    await begin('arming.idle')
    await step('arm')
    await hands(arm(1))
    await step('idle')
    await hands(battery('none'))
    await stored()
    expect(await last()).toMatchObject({ verdict: 'refused' })
    expect([rig().board.arming.armed, rig().board.permits.current, rig().board.drives]).toEqual([false, null, false])
  })

  test('armed while nobody is asked to arm it: it is on the card until somebody has said why, and blocks', async () => {
    await hands(battery('pack'))
    rig().board.events.push({ t: rig().clock, what: 'armed' })
    const open = async () =>
      openItems((await ines.job(job)).entries).filter(({ words }) => /armed by itself, on battery and cable/.test(words))
    await eventually(async () => (await open()).length === 1)
    const [item] = await open()
    expect(item?.blocks).toBe(true)
    expect((await ines.post(`/jobs/${job}/items/${item?.seq}/close`, { words: 'a jumper of the bench, taken out' })).status).toBe(
      201,
    )
    expect(await open()).toEqual([])
  })

  test('stopped in the middle: nothing is armed, and nothing is in force that is not saved', async () => {
    await begin('arming.refuses')
    await step('throttle')
    await hands(throttle(-0.8))
    await pause(300)
    await hands(arm(1))
    expect((await ines.remove(`/jobs/${job}/takes/running`)).status).toBe(200)
    await eventually(() => rig().state().motors === 'still', 3_000)
    expect(
      rig()
        .board.settings.list()
        .every(({ value, saved }) => value === saved),
    ).toBe(true)
  })
})
