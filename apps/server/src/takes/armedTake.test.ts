import type { TakeBody, TakeTell } from '@taraf/contract'
import { eventually, makeWorld, pause, type Client, type World } from '../../tests/world'

jest.setTimeout(180_000)
let world: World
let ines: Client
let job: string
let feed: Awaited<ReturnType<Client['live']>>
const bench = () => world.benches.sound
const rig = () => world.rigs.sound
const others = ['orientation.board', 'orientation.follow', 'orientation.level']
beforeAll(async () => {
  world = await makeWorld({ leavesOut: others, keeps: ['motors.response'] })
  ines = await world.signIn('ines')
  job = await ines.begin('T-001', bench())
  feed = await ines.live({ job, bench: bench() })
  await hands({ act: 'transmitter', on: true }, { act: 'battery', source: 'pack' }, throttle(-1))
  await eventually(() => rig().state().radio === 'heard')
  await ines.post(`/jobs/${job}/confirmations`, { what: 'props off' })
})
afterAll(async () => {
  feed.socket.terminate()
  await world.end()
})

const hands = async (...acts: object[]) => {
  for (const act of acts) expect((await ines.post(`/hands/${bench()}`, act)).status).toBe(200)
}
const throttle = (to: number) => ({ act: 'stick', stick: 'throttle', to })
const arming = (to: number) => ({ act: 'switch', name: 'A', to })
const tilt = (rollDeg: number, pitchDeg: number, yawDeg = 0) => ({ act: 'tilt', rollDeg, pitchDeg, yawDeg })
const now = () => feed.told.filter((t): t is TakeTell => t.tell === 'take').at(-1)
const step = (label: string) => eventually(() => now()?.want?.label === label, 15_000)
const last = async () => (await ines.job(job)).entries.at(-1)?.body as TakeBody

/** Starts it, and arms the board as soon as it may. */
const begin = async () => {
  await hands(throttle(-1), arming(0))
  expect(await ines.post(`/jobs/${job}/takes`, { check: 'motors.response' })).toMatchObject({ status: 202 })
  await step('arm')
  await eventually(() => rig().board.permits.current?.kind === 'armed-bench', 4_000)
  await hands(arming(1))
  await step('level')
  expect(rig().state().motors).toBe('armed')
}

describe('a take under which a board is armed by its transmitter', () => {
  test('sees what pushes harder at every tilt and turn, and ends disarmed with the permit dropped', async () => {
    await begin()
    await hands(throttle(-0.5))
    for (const [label, roll, pitch] of [
      ['right-down', 20, 0],
      ['left-down', -20, 0],
      ['nose-up', 0, 20],
      ['nose-down', 0, -20],
    ] as const) {
      await step(label)
      await hands(throttle(-1), tilt(roll, pitch))
      await eventually(() => !rig().motion.pose.moving)
      await hands(throttle(-0.5))
    }
    for (const [label, yaw] of [
      ['turn-right', 80],
      ['turn-left', 0],
    ] as const) {
      await step(label)
      await hands(throttle(-1), tilt(0, 0, 80 - yaw))
      await eventually(() => !rig().motion.pose.moving)
      await hands(throttle(-0.5), tilt(0, 0, yaw))
    }
    await step('disarm')
    await hands(throttle(-1), arming(0))
    await step('felt')
    expect(rig().board.permits.current).toBeNull()
    expect((await ines.post(`/jobs/${job}/takes/next`, { observations: [] })).status).toBe(202)
    await eventually(() => now()?.phase === 'stored')
    const { verdict, findings } = await last()
    expect({ verdict, wrong: findings.filter((f) => f.verdict !== 'pass') }).toEqual({ verdict: 'pass', wrong: [] })
    expect(findings.find((f) => f.key === 'right-down.harder')?.value).toEqual(['front right', 'rear right'])
    expect(rig().incidents).toEqual([])
  })

  test('Stop all disarms it, and the take proves nothing', async () => {
    await begin()
    const piet = await world.signIn('piet')
    expect((await piet.post(`/benches/${bench()}/stop`)).status).toBe(200)
    await eventually(() => rig().state().motors !== 'armed' && !rig().board.drives, 1_000)
    await eventually(() => now()?.phase === 'stored')
    expect(await last()).toMatchObject({ verdict: 'refused', findings: [{ value: 'the board disarmed' }] })
    expect(rig().board.permits.current).toBeNull()
  })

  test('a bell that something locks ends it: the board is disarmed, and the motor named', async () => {
    await begin()
    const motor = rig().airframe.drives[1]?.motor
    if (motor === undefined) throw new Error('no motor at output 2')
    const sound = motor.rub
    motor.rub = 5
    await hands(throttle(-0.5))
    await eventually(() => now()?.phase === 'stored')
    expect(await last()).toMatchObject({ verdict: 'refused', findings: [{ remedy: { by: 'work', outputs: [2] } }] })
    expect([rig().board.arming.armed, rig().board.permits.current]).toEqual([false, null])
    motor.rub = sound
  })

  test('a take that is stopped disarms it, and a switch that is left on arms nothing', async () => {
    await begin()
    expect((await ines.remove(`/jobs/${job}/takes/running`)).status).toBe(200)
    await eventually(() => rig().state().motors !== 'armed' && !rig().board.drives, 1_000)
    await pause(500)
    expect([rig().board.arming.armed, rig().board.permits.current]).toEqual([false, null])
  })

  test('without a permit the switch arms nothing, and the board says why', async () => {
    await hands(arming(0), arming(1))
    await eventually(() => rig().state().refusing.includes('permit'))
    expect(rig().board.arming.armed).toBe(false)
  })
})
