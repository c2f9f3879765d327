import type { TakeBody, TakeTell } from '@taraf/contract'
import { eventually, every, makeWorld, pause, type Client, type World } from '../../tests/world'

jest.setTimeout(300_000)
let world: World
let ines: Client
let job: string
let feed: Awaited<ReturnType<Client['live']>>
const bench = () => world.benches.sound
const rig = () => world.rigs.sound
/** A press that turned them once. */
let used = ''
const others = [
  'sensors.sixPoses',
  'sensors.compass',
  'sensors.barometer',
  'sensors.position',
  'orientation.board',
  'orientation.follow',
]
beforeAll(async () => {
  world = await makeWorld({ leavesOut: others, type: 'L4', keeps: ['motors.start'] })
  ines = await world.signIn('ines')
  job = await ines.begin('T-001', bench())
  feed = await ines.live({ job, bench: bench() })
})
afterAll(async () => {
  feed.socket.terminate()
  await world.end()
})

const hands = (act: object) => ines.post(`/hands/${bench()}`, act)
const start = () => ines.post(`/jobs/${job}/takes`, { check: 'sensors.compassShift' })
const confirm = () => ines.post(`/jobs/${job}/confirmations`, { what: 'props off' })
const now = () => feed.told.filter((t): t is TakeTell => t.tell === 'take').at(-1)
const waiting = () => eventually(() => now()?.done.length === 1 && now()?.phase === 'waiting')
/** A finger on the control of a screen, until it is lifted. */
const press = (name: string, on = feed) => {
  const timer = every(50, () => on.socket.send(JSON.stringify({ keep: { job, press: name } })))
  return timer
}

/** Starts a take and waits for its hand. */
const begin = async () => {
  expect(await start()).toMatchObject({ status: 202 })
  await waiting()
}
let presses = 0
/** A press under which they turn, with what it is called. */
const turnThem = async () => {
  const name = `press ${presses++}`
  const lift = press(name)
  await eventually(() => rig().turning, 3_000)
  return { lift, name }
}

/** Presses until the take is stored. */
const hold = async () => {
  const lift = press(`press ${presses++}`)
  await eventually(() => now()?.phase === 'stored', 30_000)
  lift()
  return (await ines.job(job)).entries.at(-1)?.body as TakeBody
}

describe('a take that turns motors', () => {
  test('wants the battery, and props confirmed off for this very connection of it', async () => {
    expect((await start()).body).toMatchObject({ type: '/problems/battery-first' })
    expect((await confirm()).body).toMatchObject({ type: '/problems/battery-first' })
    await hands({ act: 'battery', source: 'pack' })
    await pause(300)
    expect((await start()).body).toMatchObject({ type: '/problems/props-first' })
    expect((await confirm()).status).toBe(201)
    await hands({ act: 'battery', source: 'none' })
    await hands({ act: 'battery', source: 'pack' })
    await pause(300)
    expect((await start()).body).toMatchObject({ type: '/problems/props-first' })
    expect((await confirm()).status).toBe(201)
    expect((await ines.job(job)).entries.map((e) => e.body.kind)).toEqual(['confirmed', 'confirmed'])
  })

  test('turns them while one press is kept, and no longer', async () => {
    await begin()
    const { lift, name } = await turnThem()
    used = name
    lift()
    await eventually(() => !rig().board.drives)
    await waiting()
    expect(rig().board.permits.current).toBeNull()
  })

  test('a press that was let go of never turns them again, nor does that of somebody else', async () => {
    const joren = await world.signIn('joren')
    const theirs = await joren.live({ job, bench: bench() })
    const [again, foreign] = [press(used), press('other', theirs)]
    await pause(600)
    expect(rig().board.drives).toBe(false)
    again()
    foreign()
    theirs.socket.terminate()
  })

  test('Stop all by anybody ends it, whatever is held', async () => {
    const { lift } = await turnThem()
    const piet = await world.signIn('piet')
    expect((await piet.post(`/benches/${bench()}/stop`)).status).toBe(200)
    await eventually(() => !rig().board.drives)
    await pause(500)
    expect(rig().board.drives).toBe(false)
    lift()
    await waiting()
  })

  test('a take that is stopped while they run up stops them at once, whatever is held', async () => {
    const { lift } = await turnThem()
    expect((await ines.remove(`/jobs/${job}/takes/running`)).status).toBe(200)
    await eventually(() => !rig().board.drives)
    await eventually(() => now()?.phase === 'aborted')
    lift()
    await begin()
  })

  test('held to its end it measures the shift at what the hover draws; nothing that shook was taken for a knock', async () => {
    const take = await hold()
    await eventually(() => !rig().board.drives)
    const { entries } = await ines.job(job)
    expect([take.verdict, take.findings[0]?.value]).toEqual(['pass', expect.any(Number)])
    expect(take.findings.find((f) => f.key === 'atAmps')?.value).toBe(14)
    expect(Number(take.findings.find((f) => f.key === 'amps')?.value)).toBeGreaterThan(0.5)
    expect(entries.filter((e) => e.body.kind === 'change')).toEqual([])
    expect(rig().incidents).toEqual([])
  })

  test('let go of while the motors rise, the step begins anew with the next press, and none is taken for one that stands', async () => {
    expect(await ines.post(`/jobs/${job}/takes`, { check: 'motors.start' })).toMatchObject({ status: 202 })
    await eventually(() => now()?.want?.label === 'rise' && now()?.phase === 'waiting')
    const { lift } = await turnThem()
    // By now a motor that stands would be looked for.
    await eventually(() => rig().board.commands.some((command) => command > 0.105), 15_000)
    await pause(300)
    lift()
    await eventually(() => now()?.phase === 'waiting' && !rig().turning, 15_000)
    expect((await hold()).verdict).toBe('pass')
  })

  test('a motor that locks is driven no longer, whatever is held: the card names it', async () => {
    await begin()
    const drive = rig().airframe.drives[2]
    if (drive == null) throw new Error('there is no motor at output 3')
    const { rub } = drive.motor
    drive.motor.rub = 5
    const driven: number[] = []
    const look = every(20, () => rig().board.drives && driven.push(rig().clock))
    const take = await hold()
    look()
    expect([take.verdict, take.findings]).toEqual([
      'refused',
      [
        expect.objectContaining({
          value: 'told to turn, the motor stands at output 3',
          remedy: expect.objectContaining({ outputs: [3] }) as unknown,
        }),
      ],
    ])
    // After the run-up a moment of standing is enough, not the three seconds that it is to turn for.
    expect((driven.at(-1) ?? 0) - (driven[0] ?? 0)).toBeLessThan(4)
    drive.motor.rub = rub
  })

  test('wires close to the compass fail it', async () => {
    rig().airframe.compass.perAmp = [0.9, 0, 0]
    await begin()
    const take = await hold()
    expect(take.findings.find((f) => f.key === 'shift')).toMatchObject({
      verdict: 'fail',
      remedy: { work: ['replace compass'] },
    })
    // Means of 150 samples of 0.25 uT each way, over an ampere or so.
    expect(Math.abs(Number(take.findings.find((f) => f.key === 'perAmp')?.value) - 0.9)).toBeLessThan(0.12)
  })
})
