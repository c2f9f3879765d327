import type { AirframePage } from '@taraf/contract'
import { makeWorld, type Client, type World } from '../../tests/world'

jest.setTimeout(60_000)
let world: World
let piet: Client
let ines: Client
let job: string
beforeAll(async () => {
  world = await makeWorld()
  await world.db.sequelize.query(
    `INSERT INTO airframes (id, tag, sheet_id, board) SELECT gen_random_uuid(), 'M-' || lpad(i::text, 5, '0'), (SELECT id FROM sheets LIMIT 1), 'MB-' || i FROM generate_series(1, 10000) i`,
  )
  piet = await world.signIn('piet')
  ines = await world.signIn('ines')
  job = (await ines.post<{ id: string }>('/airframes/M-00500/jobs')).body.id
  await ines.post(`/jobs/${job}/changes`, { change: { what: 'knock' }, cause: 'touched last' })
})
afterAll(() => world.end())

const page = async (query: string) => (await piet.get<AirframePage>(`/airframes?${query}`)).body

describe('ten thousand airframes', () => {
  test('come a page at a time, in order, with the total', async () => {
    const first = await page('limit=100')
    expect(first.total).toBe(10_002)
    expect(first.rows.map((r) => r.tag)).toEqual(Array.from({ length: 100 }, (_, i) => `M-${String(i + 1).padStart(5, '0')}`))
    expect((await page('limit=100&offset=10000')).rows.map((r) => r.tag)).toEqual(['T-001', 'T-002'])
    expect((await page('sort=tag&down=true&limit=1')).rows[0]?.tag).toBe('T-002')
  })

  test('are found by part of tag, type, title or board, in either case; what stands for itself is no pattern', async () => {
    expect((await page('search=m-0050')).total).toBe(10)
    expect((await page('search=TB-2')).rows[0]?.tag).toBe('T-002')
    expect((await page('search=NEST')).total).toBe(10_002)
    expect((await page('search=%25')).total).toBe(0)
    expect((await page(`search=${encodeURIComponent("' OR 1=1 --")}`)).total).toBe(0)
  })

  test('are left by standing, and sorted by it and by when they were touched', async () => {
    expect(await page('standing=open')).toMatchObject({ total: 1, rows: [{ tag: 'M-00500', overall: 'open' }] })
    expect((await page('standing=none&limit=1')).total).toBe(10_001)
    expect((await page('sort=standing&limit=1')).rows[0]?.tag).toBe('M-00500')
    expect((await page('sort=touched&down=true&limit=1')).rows[0]?.tag).toBe('M-00500')
  })

  test('one whose newest job card is parked says why, until it is taken up', async () => {
    const parked = async () => (await page('search=m-0050')).rows.map((r) => r.parked).filter((reason) => reason !== null)
    expect(await parked()).toEqual([])
    await ines.post(`/jobs/${job}/park`, { reason: 'a motor is on its way' })
    expect(await parked()).toEqual(['a motor is on its way'])
    await ines.post(`/jobs/${job}/resume`)
    expect(await parked()).toEqual([])
  })

  test('an unknown one is not found', async () => {
    expect((await piet.get('/airframes/Z-1')).body).toMatchObject({
      type: '/problems/not-found',
      detail: 'No airframe has the tag Z-1.',
    })
  })
})
