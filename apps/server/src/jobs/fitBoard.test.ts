import type { SettingsView } from '@taraf/contract'
import { eventually, makeWorld, type Client, type World } from '../../tests/world'

jest.setTimeout(120_000)
let world: World
let ines: Client
let job: string
const bench = () => world.benches.sound
beforeAll(async () => {
  world = await makeWorld({ withBoard: true })
  ines = await world.signIn('ines')
  job = await ines.begin('T-001', bench())
})
afterAll(() => world.end())
const card = () => ines.job(job)
const hands = (act: object) => ines.post(`/hands/${bench()}`, act)
const fit = (board: string) =>
  ines.post<{ seq: number; type: string }>(`/jobs/${job}/board`, { board, cause: 'its gyro was dead' })

test('a list that somebody began before a part was replaced does not prove the new part', async () => {
  const began = (await card()).entries.length
  const observations = [{ segment: 'list', item: 'nothingElse', answer: true }]
  const take = (from?: number) =>
    ines.post(`/jobs/${job}/takes`, { check: 'intake.pastBoard', observations, ...(from === undefined ? {} : { began: from }) })
  const change = { what: 'part', part: 'receiver', act: 'replaced' }
  expect((await ines.post(`/jobs/${job}/changes`, { change, cause: 'it was deaf' })).status).toBe(201)
  expect((await take(began)).status).toBe(202)
  expect((await card()).standings['intake.pastBoard']).toMatchObject({ state: 'stale', by: began + 1 })
  // What a device says can only make it worth less: a card cannot have begun later than it is long.
  expect((await take(9_999)).status).toBe(202)
  expect((await card()).standings['intake.pastBoard']?.state).toBe('pass')
})

test('another board in the airframe is told by an act of its own, spoils what depends on it, and work goes on', async () => {
  expect((await ines.take(job, 'board.identity')).body).toMatchObject({ verdict: 'pass' })
  expect((await ines.take(job, 'board.asReceived')).body).toMatchObject({ verdict: 'pass' })
  expect((await ines.take(job, 'sensors.gyroRest')).body).toMatchObject({ verdict: 'pass' })
  expect((await fit('TB-1')).body.type).toBe('/problems/malformed')
  await hands({ act: 'replace', part: 'board' })
  await eventually(
    async () => (await ines.post(`/jobs/${job}/takes`, { check: 'board.identity' })).body.type === '/problems/wrong-board',
  )
  // The serial that the board says itself decides, not one that is typed.
  expect((await fit('TB-77')).body.type).toBe('/problems/wrong-board')
  expect((await fit('TB-1/2')).status).toBe(201)
  const { board, standings, entries } = await card()
  expect(board).toBe('TB-1/2')
  expect(entries.at(-1)).toMatchObject({
    body: { kind: 'change', change: { what: 'board', from: 'TB-1', to: 'TB-1/2' }, cause: 'its gyro was dead' },
  })
  for (const check of ['board.identity', 'board.asReceived', 'sensors.gyroRest']) expect(standings[check]?.state).toBe('stale')
  expect(standings['intake.pastBoard']?.state).toBe('pass')
  await ines.untilLinked(job)
  expect((await ines.take(job, 'board.identity')).body).toMatchObject({ verdict: 'pass', board: 'TB-1/2' })
  expect(await world.audit()).toEqual([])
})

test('a board that is another airframe’s is not taken for this one’s', async () => {
  await hands({ act: 'replace', part: 'board' })
  const there = () => world.rigs.sound.board.serial
  await world.db.airframes.update({ board: there() }, { where: { tag: 'T-002' } })
  await eventually(async () => (await fit(there())).body.type === '/problems/wrong-board')
  expect((await card()).board).toBe('TB-1/2')
  await world.db.airframes.update({ board: 'TB-2' }, { where: { tag: 'T-002' } })
})

test('settings of a board that is not linked are those that were seen, as the image that ran then means them', async () => {
  const faulty = world.benches.faulty
  const other = await ines.begin('T-002', faulty).catch(() => null)
  expect(other).not.toBeNull()
  const view = () => ines.get<SettingsView & { type: string; detail: string }>(`/jobs/${other}/settings`)
  await eventually(async () => (await view()).body.live)
  await ines.remove(`/benches/${faulty}/hold`)
  // Another board of the target, with a later image that means something else, was seen since.
  await world.db.sequelize.query(
    `INSERT INTO board_settings (target, version, settings) SELECT target, '9.9.9', '[]'::jsonb FROM board_settings LIMIT 1`,
  )
  await world.db.sequelize.query(`UPDATE airframes SET board_settings = board_settings - 'filter.gyro' WHERE tag = 'T-002'`)
  const { body } = await view()
  expect(body).toMatchObject({ live: false, firmware: expect.stringMatching(/^shoreline 3\.2/) as unknown })
  expect(body.settings.find((s) => s.name === 'gain.level')?.saved).toBeGreaterThan(0)
  // What was never seen is not made up.
  expect(body.settings.some((s) => s.name === 'filter.gyro')).toBe(false)
  await world.db.sequelize.query(`DELETE FROM board_settings WHERE version <> '9.9.9'`)
  expect((await view()).body).toMatchObject({
    type: '/problems/not-linked',
    detail: expect.stringMatching(/not known here/) as unknown,
  })
})
