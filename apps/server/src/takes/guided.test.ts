import type { Evidence, TakeBody, TakeTell } from '@taraf/contract'
import { eventually, makeWorld, pause, type Client, type World } from '../../tests/world'

jest.setTimeout(120_000)
let world: World
let ines: Client
let job: string
let feed: Awaited<ReturnType<Client['live']>>
const bench = () => world.benches.sound
beforeAll(async () => {
  world = await makeWorld({ leavesOut: [] })
  ines = await world.signIn('ines')
  world.rigs.sound.airframe.board.mounting = { roll: 0, pitch: 0, yaw: -Math.PI / 2 }
  job = await ines.begin('T-001', bench())
  expect((await ines.take(job, 'sensors.gyroRest')).body).toMatchObject({ verdict: 'pass' })
  feed = await ines.live({ job, bench: bench() })
})
afterAll(async () => {
  feed.socket.terminate()
  await world.end()
})

const told = () => feed.told.filter((t): t is TakeTell => t.tell === 'take')
const now = () => told().at(-1)
const at = (segment: number, phase = 'capturing') =>
  eventually(async () => now()?.done.length === segment && now()?.phase === phase, 15_000)
const hands = (act: object) => ines.post(`/hands/${bench()}`, act)
const tilt = (rollDeg: number, pitchDeg: number) => hands({ act: 'tilt', rollDeg, pitchDeg })
const mark = (up: string) => ines.post(`/jobs/${job}/takes/next`, { up })
const begin = async () => {
  await hands({ act: 'lay', way: 'forward' })
  await pause(1_900)
  feed.told.length = 0
  expect((await ines.post(`/jobs/${job}/takes`, { check: 'orientation.board' })).status).toBe(202)
}
const stored = async () => {
  await eventually(async () => now()?.phase === 'stored', 15_000)
  return (await ines.job(job)).entries.at(-1)
}
/** Takes it from its first pose to its last as it is asked. */
const takeRight = async () => {
  await begin()
  await at(1)
  await tilt(0, 75)
  await mark('front')
  await at(2)
  await tilt(75, 0)
  await mark('left')
}

describe('a guided take', () => {
  test('goes from pose to pose by itself, says what is missing, waits for the mark alone, and names the turn', async () => {
    await begin()
    await at(1)
    expect((await mark('top')).status).toBe(400)
    await tilt(0, 25)
    await eventually(async () => now()?.guide?.words.startsWith('Tilt it further') === true)
    await tilt(0, 75)
    await eventually(async () => now()?.guide?.words === 'Hold it so.')
    await at(1, 'waiting')
    expect((await ines.post(`/jobs/${job}/takes/next`)).body).toMatchObject({
      detail: expect.stringContaining('side that points up') as string,
    })
    expect((await mark('front')).status).toBe(202)
    await at(2)
    expect((await mark('left')).status).toBe(202)
    await tilt(75, 0)
    const entry = await stored()
    const body = entry?.body as TakeBody
    expect(body).toMatchObject({ verdict: 'fail' })
    expect(body.findings.find((f) => f.key === 'mounting')).toMatchObject({
      value: { roll: 0, pitch: 0, yaw: -90 },
      remedy: { settings: { 'board.yaw': -90 } },
    })
    const evidence = (await ines.get<Evidence>(`/jobs/${job}/takes/${entry?.seq}/evidence`)).body
    expect(evidence.observations).toEqual([
      { segment: 'nose-up', up: 'front' },
      { segment: 'right-down', up: 'left' },
    ])
    expect(evidence.segments.map((s) => s.label)).toEqual(['level', 'nose-up', 'right-down'])
  })

  test('a pose held twice is named while it is held, and a move begins the hold anew', async () => {
    await begin()
    await at(1)
    await tilt(0, 75)
    await mark('front')
    await at(2)
    await eventually(async () => now()?.guide?.words === 'This side was done already.')
    await tilt(75, 0)
    await eventually(async () => now()?.guide?.words === 'Hold it so.' && (now()?.share ?? 0) > 0.2)
    // It is said for a moment only: what was told counts, not what is told when one looks.
    const before = feed.told.length
    await hands({ act: 'knock' })
    await eventually(() => feed.told.slice(before).some((t) => t.tell === 'take' && t.guide?.words === 'Hold it still.'))
    await mark('rear')
    await mark('left')
    const entry = await stored()
    expect(entry?.body).toMatchObject({ verdict: 'fail' })
    // The board felt the knock and it went on the card before the take did: what it meets is worth nothing now.
    const { entries, standings } = await ines.job(job)
    const knock = entries.findLast((e) => e.body.kind === 'change' && e.body.change.what === 'knock')?.seq ?? 0
    expect(knock).toBe((entry?.seq ?? 0) - 1)
    expect(standings['orientation.board']).toEqual({ state: 'stale', take: entry?.seq, by: knock })
    expect((await ines.post(`/jobs/${job}/remedies`, { seq: entry?.seq, key: 'mounting' })).body.type).toBe(
      '/problems/no-such-remedy',
    )
  })

  test('the remedy writes the turn, and the take again proves it', async () => {
    // The knock has spoiled the gyro's take too.
    await hands({ act: 'lay', way: 'forward' })
    await pause(1_900)
    expect((await ines.take(job, 'sensors.gyroRest')).body).toMatchObject({ verdict: 'pass' })
    await takeRight()
    expect((await stored())?.body).toMatchObject({ verdict: 'fail' })
    const { entries } = await ines.job(job)
    const seq = entries.findLast((e) => e.body.kind === 'take' && e.body.check === 'orientation.board')?.seq ?? 0
    expect((await ines.post(`/jobs/${job}/remedies`, { seq, key: 'mounting' })).status).toBe(200)
    await ines.untilLinked(job)
    await takeRight()
    expect((await stored())?.body).toMatchObject({ verdict: 'pass' })
  })

  test('it can be stopped in the middle, and nothing is kept', async () => {
    const { length } = (await ines.job(job)).entries
    await begin()
    await at(1)
    expect((await ines.remove(`/jobs/${job}/takes/running`)).status).toBe(200)
    await eventually(async () => now()?.phase === 'aborted')
    expect((await ines.job(job)).entries).toHaveLength(length)
    expect((await mark('front')).body).toMatchObject({ type: '/problems/no-take' })
  })
})
