import { createHash } from 'node:crypto'
import { openDatabase, type Database } from '../database/database'
import { makeWorld, passwords, type Client, type World } from '../../tests/world'
import { openKeys } from './keys'
import { canonicalText, linkHash, noHash } from './chain'

jest.setTimeout(90_000)
let world: World
let ines: Client
let server: Database
let job: string
beforeAll(async () => {
  world = await makeWorld()
  server = openDatabase(world.serverUrl)
  ines = await world.signIn('ines')
  job = (await ines.post<{ id: string }>('/airframes/T-001/jobs')).body.id
  for (const cause of ['first knock', 'second knock'])
    await ines.post(`/jobs/${job}/changes`, { change: { what: 'knock' }, cause })
})
afterAll(async () => {
  await server.close()
  await world.end()
})

describe('the record', () => {
  test.each([
    'UPDATE job_entries SET canonical = canonical',
    'DELETE FROM job_entries',
    'TRUNCATE job_entries CASCADE',
    'UPDATE evidence SET data = data',
    'DELETE FROM evidence',
    'TRUNCATE evidence',
  ])('refuses %s, from the server and from the owner alike', async (sql) => {
    await expect(server.sequelize.query(sql)).rejects.toThrow(/permission denied|append-only/)
    await expect(world.db.sequelize.query(sql)).rejects.toThrow('append-only')
  })

  test('the server owns none of its tables and cannot lift its guards', async () => {
    for (const sql of [
      'ALTER TABLE job_entries DISABLE TRIGGER ALL',
      'DROP TABLE evidence',
      'DROP TRIGGER append_only ON job_entries',
      'DELETE FROM jobs',
    ])
      await expect(server.sequelize.query(sql)).rejects.toThrow(/must be owner|permission denied/)
  })

  const insert = (db: Database, row: { seq: number; canonical: string; prevHash: Buffer; hash: Buffer }) =>
    db.jobEntries.create(
      { jobId: job, requestKey: null, ...openKeys(world.keysFolder).seal('card', row.hash), ...row },
      { returning: false },
    )
  const text = (seq: number, of = job) =>
    canonicalText({
      format: 2,
      job: of,
      seq,
      at: '2026-11-25T08:00:00Z',
      by: world.ids.ines,
      body: { kind: 'change', change: { what: 'knock' }, cause: 'forged' },
    })

  test('takes no entry that does not follow the head, has a wrong hash, or tells of another place', async () => {
    const head = Buffer.from((await ines.job(job)).entries.at(-1)?.hash ?? '', 'hex')
    const wrong = (row: Parameters<typeof insert>[1]) => expect(insert(server, row)).rejects.toThrow()
    await wrong({ seq: 4, canonical: text(4), prevHash: head, hash: linkHash(head, text(4)) })
    await wrong({ seq: 3, canonical: text(3), prevHash: noHash, hash: linkHash(noHash, text(3)) })
    await wrong({ seq: 3, canonical: text(3), prevHash: head, hash: linkHash(head, 'something else') })
    await wrong({ seq: 3, canonical: text(2), prevHash: head, hash: linkHash(head, text(2)) })
    expect((await ines.job(job)).entries).toHaveLength(2)
  })

  test('appends from many at once make one unbroken chain', async () => {
    const clients = await Promise.all([world.signIn('ines'), world.signIn('joren'), world.signIn('maud')])
    await Promise.all(
      Array.from({ length: 12 }, (_, i) =>
        clients[i % 3]?.post(`/jobs/${job}/changes`, { change: { what: 'knock' }, cause: `at once ${i}` }),
      ),
    )
    const { entries } = await ines.job(job)
    expect(entries.map((e) => e.seq)).toEqual(entries.map((_, i) => i + 1))
    expect(entries).toHaveLength(14)
    expect(await world.audit()).toEqual([])
  })

  test('a used build sheet never changes', async () => {
    await expect(world.db.sequelize.query(`UPDATE sheets SET body = body || '{"title":"other"}'`)).rejects.toThrow(
      'make a new version',
    )
  })

  test('the chain starts from 32 zero bytes and hashes text after hash (SHA-256)', () => {
    expect(linkHash(noHash, 'abc').toString('hex')).toBe(
      createHash('sha256')
        .update(Buffer.concat([Buffer.alloc(32), Buffer.from('abc')]))
        .digest('hex'),
    )
  })
})

describe('signatures', () => {
  const sign = (role: string, login: keyof typeof passwords, password: string = passwords[login]) =>
    ines.post(`/jobs/${job2}/signatures`, { role, login, password })
  let job2: string
  beforeAll(async () => {
    job2 = (await ines.post<{ id: string }>('/airframes/T-002/jobs')).body.id
  })

  test('nothing can be signed before anything was taken, nor by a lead first, nor with a wrong password', async () => {
    expect((await sign('technician', 'ines')).body.detail).toContain('Nothing has been taken')
    await ines.post(`/jobs/${job2}/changes`, { change: { what: 'knock' }, cause: 'so that there is something' })
    expect((await sign('lead', 'maud')).body.detail).toContain('technician signs first')
    expect((await sign('technician', 'ines', 'guess')).body.type).toBe('/problems/sign-in-wrong')
    expect((await sign('technician', 'piet')).body.detail).toContain('reader')
    expect((await sign('lead', 'joren')).body.detail).toContain('no lead')
  })

  test('whatever comes between the two voids the first', async () => {
    expect((await sign('technician', 'ines')).status).toBe(201)
    await ines.post(`/jobs/${job2}/changes`, { change: { what: 'knock' }, cause: 'in between' })
    expect((await sign('lead', 'maud')).body.detail).toContain('technician signs first')
  })

  test('nobody signs twice as both', async () => {
    expect((await sign('technician', 'maud')).status).toBe(201)
    expect((await sign('lead', 'maud')).body.detail).toContain('somebody other')
  })

  test('two people hand over; open checks make it a fail; nothing can be added after', async () => {
    await ines.post(`/jobs/${job2}/changes`, { change: { what: 'knock' }, cause: 'voids it once more' })
    expect((await sign('technician', 'joren')).status).toBe(201)
    expect((await sign('lead', 'maud')).status).toBe(201)
    const view = await ines.job(job2)
    expect(view.overall).toBe('failed')
    expect(view.entries.at(-1)?.body).toMatchObject({
      kind: 'handover',
      outcome: 'fail',
      signatures: [
        { role: 'technician', by: world.ids.joren },
        { role: 'lead', by: world.ids.maud },
      ],
    })
    expect((await ines.post(`/jobs/${job2}/changes`, { change: { what: 'knock' }, cause: 'too late' })).body.type).toBe(
      '/problems/job-closed',
    )
    expect((await ines.post<{ id: string }>('/airframes/T-002/jobs')).status).toBe(201)
  })

  test('a verdict, a firmware or a settings change cannot be typed in', async () => {
    const refused = await ines.post(`/jobs/${job}/changes`, {
      change: { what: 'settings', settings: [{ name: 'gyro.biasX', from: 1, to: 0 }] },
      cause: 'typed in',
    })
    expect(refused.body.type).toBe('/problems/malformed')
    expect((await ines.post(`/jobs/${job}/takes`, { check: 'sensors.gyroRest', verdict: 'pass' })).body.type).not.toBeUndefined()
    expect((await ines.post(`/jobs/${job}/asides`, { check: 'sensors.gyroRest', reason: 'because' })).body.type).toBe(
      '/problems/not-allowed',
    )
  })
})
