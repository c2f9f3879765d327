import type { TakeBody, TakeTell } from '@taraf/contract'
import { eventually, every, makeWorld, ofOrientation, pause, type Client, type World } from '../../tests/world'

jest.setTimeout(300_000)
let world: World
let ines: Client
let job: string
let feed: Awaited<ReturnType<Client['live']>>
const bench = () => world.benches.sound
const rig = () => world.rigs.sound
beforeAll(async () => {
  world = await makeWorld({ leavesOut: ofOrientation, type: 'K4', keeps: ['escs.range'] })
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
const now = () => feed.told.filter((t): t is TakeTell => t.tell === 'take').at(-1)
const step = (label: string, within = 15_000) => eventually(() => now()?.want?.label === label, within)
const stored = () => eventually(() => now()?.phase === 'stored', 8_000)
/** The last take: a knock that the board felt may be on the card after it. */
const last = async () =>
  (await ines.job(job)).entries.map(({ body }) => body).findLast((body): body is TakeBody => body.kind === 'take') as TakeBody
const high = () => rig().board.commands.every((command) => command === 1)
const ranges = () => rig().airframe.drives.flatMap((drive) => (drive === null ? [] : [drive.esc.range]))
const sayPropsOff = () => ines.post(`/jobs/${job}/takes/next`, {})

/** Starts it without a battery, up to the moment in which somebody is to say that props are off. */
const begin = async () => {
  await hands({ act: 'battery', source: 'none' })
  expect(await ines.post(`/jobs/${job}/takes`, { check: 'escs.range' })).toMatchObject({ status: 202 })
  await step('teach')
  await eventually(() => now()?.phase === 'waiting')
}
const teach = async () => {
  await begin()
  expect((await sayPropsOff()).status).toBe(202)
  await eventually(high)
}
/** Keeps turning under presses until the take is stored, whatever a busy machine lets lapse. */
const holdToTheEnd = async () => {
  for (let tries = 1; now()?.phase !== 'stored' && tries < 60; tries++) {
    const begun = feed.told.length
    const timer = every(50, () => feed.socket.send(JSON.stringify({ keep: { job, press: `press ${tries}` } })))
    const phases = () => feed.told.slice(begun).flatMap((t) => (t.tell === 'take' ? [t.phase] : []))
    await eventually(() => phases().includes('stored') || phases().slice(1).includes('waiting'), 60_000).catch(() => {})
    timer()
  }
}

describe('a take that teaches ESCs the range of the signal', () => {
  test('nothing is sent before somebody says that props are off, and nothing while the battery is in', async () => {
    await begin()
    expect(rig().board.permits.current).toBeNull()
    await hands({ act: 'battery', source: 'pack' })
    await pause(300)
    expect((await sayPropsOff()).status).toBe(202)
    await eventually(() => now()?.guide?.words === 'Take the battery out first.')
    expect(rig().board.drives).toBe(false)
    expect((await ines.remove(`/jobs/${job}/takes/running`)).status).toBe(200)
    await eventually(() => now()?.phase === 'aborted')
  })

  test('a battery that is pulled in the middle ends it: low everywhere, and nothing is proved', async () => {
    await teach()
    await hands({ act: 'battery', source: 'pack' })
    await eventually(() => now()?.guide?.words.startsWith('Still high') === true)
    await hands({ act: 'battery', source: 'none' })
    await stored()
    const { verdict, findings } = await last()
    // Which of the two is told first, the battery or the command, is chance.
    expect([verdict, findings[0]?.value]).toEqual([
      'refused',
      expect.stringMatching(/battery was (taken out in the middle|out for a moment)/),
    ])
    await eventually(() => !rig().board.drives && rig().board.permits.current === null, 1_000)
  })

  test('Stop all ends it while high is sent, and so does a take that is stopped', async () => {
    await teach()
    const piet = await world.signIn('piet')
    expect((await piet.post(`/benches/${bench()}/stop`)).status).toBe(200)
    await eventually(() => !rig().board.drives, 1_000)
    await stored()
    expect(await last()).toMatchObject({
      verdict: 'refused',
      findings: [{ value: 'the board sends high no longer, and no battery is in' }],
    })
    await teach()
    expect((await ines.remove(`/jobs/${job}/takes/running`)).status).toBe(200)
    await eventually(() => !rig().board.drives && rig().board.permits.current === null, 1_000)
    expect(ranges().every(({ low }) => low > 0)).toBe(true)
  })

  test('something that shakes the frame meanwhile ends it', async () => {
    await teach()
    await hands({ act: 'battery', source: 'pack' })
    await eventually(() => now()?.guide?.words.startsWith('Still high') === true)
    await pause(1_200)
    await hands({ act: 'knock' })
    await stored()
    expect((await last()).findings[0]?.value).toMatch(/shakes/)
    await eventually(() => !rig().board.drives, 1_000)
  })

  test('taught whole, it waits for props to be confirmed for this battery, and measures what came of it', async () => {
    await teach()
    const before = (await ines.job(job)).entries.length
    await hands({ act: 'battery', source: 'pack' })
    await eventually(() => now()?.guide?.words.startsWith('Low') === true, 8_000)
    await step('props')
    expect(ranges()).toEqual(ranges().map(() => ({ low: 0, high: 1 })))
    await pause(600)
    expect(now()?.want?.label).toBe('props')
    expect((await ines.post(`/jobs/${job}/confirmations`, { what: 'props off' })).status).toBe(201)
    await step('slow-1')
    await holdToTheEnd()
    const { entries } = await ines.job(job)
    expect(entries.slice(before).map(({ body }) => body.kind)).toEqual(['confirmed', 'take'])
    const { verdict, findings } = await last()
    expect({ verdict, wrong: findings.filter((f) => f.verdict !== 'pass' && f.verdict !== 'shown') }).toEqual({
      verdict: 'pass',
      wrong: [],
    })
    expect(rig().incidents).toEqual([])
  })
})
