import { randomUUID } from 'node:crypto'
import { makeWorld, type World } from '../../tests/world'
import { forgetOldRequests } from './once'

jest.setTimeout(60_000)
let world: World
beforeAll(async () => void (world = await makeWorld()))
afterAll(() => world.end())

describe('idempotency keys', () => {
  test('a repeated request has one effect and gets the first answer again', async () => {
    const ines = await world.signIn('ines')
    const key = { 'idempotency-key': randomUUID() }
    const first = await ines.post<{ id: string }>('/airframes/T-001/jobs', {}, key)
    const again = await ines.post<{ id: string }>('/airframes/T-001/jobs', {}, key)
    expect(first.status).toBe(201)
    expect(again).toMatchObject({ status: 201, body: first.body })
    expect(await world.db.jobs.count()).toBe(1)
  })

  test('sent many times at once it still has one effect', async () => {
    const ines = await world.signIn('ines')
    const { id } = (await ines.get<{ jobs: { id: string }[] }>('/airframes/T-001')).body.jobs[0] ?? { id: '' }
    const key = { 'idempotency-key': randomUUID() }
    const body = { change: { what: 'knock' }, cause: 'fell off the bench' }
    const replies = await Promise.all(Array.from({ length: 8 }, () => ines.post(`/jobs/${id}/changes`, body, key)))
    expect(replies.every((r) => r.status === 201 || r.body.type === '/problems/in-progress')).toBe(true)
    expect((await ines.job(id)).entries).toHaveLength(1)
  })

  test('a refusal is remembered too; the key of another request is refused; none at all is refused', async () => {
    const ines = await world.signIn('ines')
    const key = { 'idempotency-key': randomUUID() }
    const refused = await ines.post('/airframes/T-001/jobs', {}, key)
    expect(refused.body.type).toBe('/problems/job-open')
    expect((await ines.post('/airframes/T-001/jobs', {}, key)).body.type).toBe('/problems/job-open')
    expect((await ines.post('/airframes/T-002/jobs', {}, key)).body.type).toBe('/problems/key-reused')
    expect((await ines.post('/airframes/T-002/jobs', {}, { 'idempotency-key': 'short' })).body.type).toBe('/problems/key-needed')
  })

  test('keys are forgotten after two days, not before', async () => {
    const count = () => world.db.select<{ n: string }>('SELECT count(*) AS n FROM requests').then(([row]) => Number(row?.n))
    const before = await count()
    expect(before).toBeGreaterThan(1)
    await forgetOldRequests(world.db)
    expect(await count()).toBe(before)
    await world.db.sequelize.query(
      `UPDATE requests SET at = now() - interval '3 days' WHERE key = (SELECT min(key) FROM requests)`,
    )
    await forgetOldRequests(world.db)
    expect(await count()).toBe(before - 1)
  })

  test("another person's key is another key", async () => {
    const [ines, joren] = [await world.signIn('ines'), await world.signIn('joren')]
    const key = { 'idempotency-key': randomUUID() }
    expect((await ines.post('/airframes/T-001/jobs', {}, key)).status).toBe(409)
    expect((await joren.post('/airframes/T-002/jobs', {}, key)).status).toBe(201)
  })
})
