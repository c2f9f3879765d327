import type { Settings, SettingsView } from '@taraf/contract'
import { parse } from 'csv-parse/sync'
import { eventually, makeWorld, type Client, type World } from '../../tests/world'

jest.setTimeout(120_000)
let world: World
let ines: Client
let job: string
beforeAll(async () => {
  world = await makeWorld({ leavesOut: [], withBoard: true })
  ines = await world.signIn('ines')
  job = await ines.begin('T-001', world.benches.sound)
})
afterAll(() => world.end())

const view = async () => (await ines.get<SettingsView>(`/jobs/${job}/settings`)).body
const value = async (name: string) => (await view()).settings.find((s) => s.name === name)?.saved
const write = (values: Settings, cause = 'a try') =>
  ines.post<{ seq: number; type: string; detail: string }>(`/jobs/${job}/settings`, { values, cause })

test('all are shown as the board has them, with range and unit', async () => {
  const { live, settings } = await view()
  expect(live).toBe(true)
  expect(settings.length).toBeGreaterThan(100)
  expect(settings.find((s) => s.name === 'filter.gyro')).toMatchObject({ unit: 'Hz', saved: 120 })
})

test('a single one is written as one act, and who changed it and why is known', async () => {
  expect((await write({ 'filter.gyro': 140 }, 'quieter props')).status).toBe(200)
  await ines.untilLinked(job)
  expect(await value('filter.gyro')).toBe(140)
  expect((await view()).changed['filter.gyro']).toMatchObject({ by: 'Ines', cause: 'quieter props', from: 120 })
})

test('a write of what is there already is no change and spoils nothing', async () => {
  await ines.take(job, 'board.asReceived')
  await ines.take(job, 'board.identity')
  await ines.take(job, 'board.firmware')
  await write({ 'filter.gyro': 120 })
  await ines.untilLinked(job)
  expect((await ines.take(job, 'board.baseline')).body).toMatchObject({ verdict: 'pass' })
  await ines.take(job, 'board.rules')
  const before = await ines.job(job)
  expect(before.standings['board.rules']?.state).toBe('pass')
  expect((await write({ 'filter.gyro': 120, 'esc.signal': (await value('esc.signal')) ?? 0 })).body.seq).toBeNull()
  await ines.untilLinked(job)
  const after = await ines.job(job)
  expect(after.standings).toEqual(before.standings)
  expect(after.entries.length).toBe(before.entries.length)
})

test('an unknown one and one out of range are refused whole', async () => {
  expect((await write({ 'filter.gyro': 150, 'wing.flap': 1 })).body).toMatchObject({
    type: '/problems/board-refused',
    detail: 'This board has no setting wing.flap. Nothing was written.',
  })
  expect((await write({ 'filter.gyro': 1e9 })).body.detail).toMatch(/outside/)
  expect(await value('filter.gyro')).toBe(120)
})

test('clearing writes the sheet and leaves what is the airframe’s own', async () => {
  await write({ 'level.roll': 0.3, 'board.yaw': -90, 'video.channel': 5 })
  await ines.untilLinked(job)
  expect((await ines.post(`/jobs/${job}/settings/clear`, { cause: 'left-overs of another build' })).status).toBe(200)
  await ines.untilLinked(job)
  const { settings } = await view()
  const saved = (name: string) => settings.find((s) => s.name === name)
  expect(saved('level.roll')?.saved).toBe(0.3)
  expect(saved('board.yaw')?.saved).toBe(-90)
  expect(saved('filter.gyro')?.saved).toBe(120)
  expect(saved('video.channel')?.saved).toBe(saved('video.channel')?.factory)
})

test('the table is CSV as RFC 4180 has it, and reads back the same', async () => {
  const response = await fetch(`http://127.0.0.1:${world.port}/api/jobs/${job}/settings.csv`, {
    headers: { cookie: ines.cookie },
  })
  expect(response.headers.get('content-type')).toMatch(/text\/csv/)
  const text = await response.text()
  expect(text.endsWith('\r\n')).toBe(true)
  const rows: string[][] = parse(text)
  const { settings } = await view()
  expect(rows.slice(1).map(([name, saved]) => [name, Number(saved)])).toEqual(settings.map((s) => [s.name, s.saved]))
})

test('the settings of an earlier take can be read, to go back to them', async () => {
  const { entries } = await ines.job(job)
  const take = entries.find(({ body }) => body.kind === 'take' && body.check === 'board.asReceived')
  const { body } = await ines.get<Settings>(`/jobs/${job}/takes/${take?.seq}/settings`)
  expect(body['filter.gyro']).toBe(140)
})

test('what a lost link left in force without being saved is put back when the board is there again', async () => {
  const hands = async (act: object) => expect((await ines.post(`/hands/${world.benches.sound}`, act)).status).toBe(200)
  const live = async () => (await view()).settings.find((s) => s.name === 'compass.bus')
  const { board } = world.rigs.sound
  const was = await live()
  // On its battery the board runs on while the cable is out.
  await hands({ act: 'battery', source: 'pack' })
  await hands({ act: 'cable', in: false })
  expect(board.settings.write({ 'compass.bus': 1 - (was?.saved ?? 0) })).toBeNull()
  const [before, boots] = [(await ines.job(job)).entries.length, board.boots]
  await hands({ act: 'cable', in: true })
  await ines.untilLinked(job)
  await eventually(async () => (await live())?.value === was?.saved)
  expect(board.boots).toBe(boots)
  expect((await ines.job(job)).entries.length).toBe(before)
  await hands({ act: 'battery', source: 'none' })
})

test('a value that the board keeps otherwise is told, and leaves its trace on the card whatever was kept', async () => {
  const { settings } = world.rigs.sound.board
  const honest = settings.write.bind(settings)
  for (const kept of [90, 77]) {
    const before = await value('filter.gyro')
    Object.assign(settings, { write: () => honest({ 'filter.gyro': kept === 90 ? (before ?? 0) : kept }) })
    const { status, body } = await write({ 'filter.gyro': 90 }, 'a try that fails')
    Object.assign(settings, { write: honest })
    expect([status, body.type]).toEqual([502, '/problems/write-differs'])
    const last = (await ines.job(job)).entries.at(-1)?.body
    expect(last).toMatchObject({
      kind: 'change',
      cause: 'a try that fails',
      change: { settings: [{ name: 'filter.gyro', from: before, to: kept === 90 ? before : kept, asked: 90 }] },
    })
    await ines.untilLinked(job)
  }
})

test('off the bench they are as they were seen last', async () => {
  await ines.remove(`/benches/${world.benches.sound}/hold`)
  const seen = await view()
  expect(seen.live).toBe(false)
  expect(seen.settings.find((s) => s.name === 'board.yaw')?.saved).toBe(-90)
})

describe('a file of settings', () => {
  const read = (text: string | Buffer) =>
    ines.upload<{ firmware: string | null; values: Settings; detail: string }>(`/jobs/${job}/settings/read`, Buffer.from(text))
  test('is JSON or CSV, and is only read', async () => {
    expect((await read('{"filter.gyro": 90}')).body).toEqual({ firmware: null, values: { 'filter.gyro': 90 } })
    expect((await read('name,value,unit\r\nfilter.gyro,90,Hz\r\n"loss.act","1",\r\n')).body).toMatchObject({
      values: { 'filter.gyro': 90, 'loss.act': 1 },
    })
    expect((await read('\ufefffilter.gyro,90\n')).body).toMatchObject({ values: { 'filter.gyro': 90 } })
  })
  test('that this application wrote says for what firmware it is, as JSON and as CSV', async () => {
    const file = {
      format: 'taraf-settings/1',
      target: 'TIDEBOARD-4',
      firmware: 'shoreline 3.1.2',
      settings: { 'filter.gyro': 90 },
    }
    expect((await read(JSON.stringify(file))).body).toEqual({ firmware: 'shoreline 3.1.2', values: { 'filter.gyro': 90 } })
    expect((await read(JSON.stringify({ ...file, firmware: 3 }))).body.detail).toMatch(/^firmware: /)
    const csv = await fetch(`http://127.0.0.1:${world.port}/api/jobs/${job}/settings.csv`, { headers: { cookie: ines.cookie } })
    const { body } = await read(Buffer.from(await csv.arrayBuffer()))
    expect(body).toMatchObject({ firmware: 'shoreline 3.2.0' })
  })
  test.each<[string, string | Buffer, RegExp]>([
    ['half a JSON document', '{"filter.gyro": 90', /whole JSON/],
    ['a text where a number must be', '{"filter.gyro": "fast"}', /"filter\.gyro": expected .* found "fast"/],
    ['a name that is none', 'filter.gyro,90\nFilter Gyro,90\n', /Row 2: expected the name/],
    ['a setting twice', 'filter.gyro,90\nfilter.gyro,91\n', /Row 2: "filter\.gyro" is there twice/],
    ['wrong quoting', 'filter.gyro,"90\n', /quoting is wrong/],
    ['another encoding', Buffer.from([0x66, 0xe9, 0x2c, 0x31]), /not in UTF-8/],
    ['nothing', '{}', /no settings/],
  ])('%s is refused with the place', async (_what, text, why) => {
    const { status, body } = await read(text)
    expect(status).toBe(422)
    expect(body.detail).toMatch(why)
  })
})
