import { pino } from 'pino'
import { Client, makeWorld, passwords, type World } from '../../tests/world'

jest.setTimeout(60_000)
let world: World
beforeAll(async () => void (world = await makeWorld()))
afterAll(() => world.end())

describe('signing in', () => {
  test('sets a cookie that scripts cannot read and other sites do not send', async () => {
    const reply = await world.visitor().post<{ name: string }>('/session', { login: 'Ines', password: passwords.ines })
    expect(reply).toMatchObject({ status: 200, body: { name: 'Ines', role: 'technician' } })
    expect(reply.headers.get('set-cookie')).toMatch(/HttpOnly/)
    expect(reply.headers.get('set-cookie')).toMatch(/SameSite=Strict/)
  })

  test('a wrong password and an unknown name get the same answer', async () => {
    const wrong = await world.visitor().post('/session', { login: 'joren', password: 'no' })
    const unknown = await world.visitor().post('/session', { login: 'nobody', password: 'no' })
    expect(wrong.status).toBe(401)
    expect(wrong.headers.get('content-type')).toContain('application/problem+json')
    expect(wrong.body).toMatchObject({ type: '/problems/sign-in-wrong', todo: expect.any(String) as string })
    expect(unknown.body.type).toBe(wrong.body.type)
  })

  test('after eight tries a name waits, even with the right password', async () => {
    const visitor = world.visitor()
    for (let i = 0; i < 8; i++) await visitor.post('/session', { login: 'piet', password: `wrong ${i}` })
    const reply = await visitor.post('/session', { login: 'piet', password: passwords.piet })
    expect(reply.status).toBe(429)
    expect(Number(reply.headers.get('retry-after'))).toBeGreaterThan(0)
    expect(reply.body.type).toBe('/problems/too-many-tries')
  })

  test('an expired or made-up cookie is told to sign in', async () => {
    const client = await world.signIn('joren')
    await world.db.sequelize.query(`UPDATE sessions SET expire = now() - interval '1 minute'`)
    expect((await client.get('/airframes')).body.type).toBe('/problems/sign-in-needed')
    const forged = new Client(world.port)
    forged.cookie = 'taraf=s%3Aabc.def'
    expect((await forged.get('/airframes')).status).toBe(401)
  })

  test('signing out ends it, and the same cookie is worth nothing after', async () => {
    const client = await world.signIn('joren')
    const { cookie } = client
    expect((await client.get('/session')).status).toBe(200)
    await client.remove('/session')
    client.cookie = cookie
    expect((await client.get('/session')).status).toBe(401)
  })

  test('nothing but the health is told to who is not signed in', async () => {
    const visitor = world.visitor()
    for (const path of ['/airframes', '/airframes/T-001', '/benches', '/jobs/x', '/hands/x'])
      expect((await visitor.get(path)).status).toBe(401)
    expect((await visitor.get('/health')).status).toBe(200)
    await expect(visitor.live({})).rejects.toThrow('401')
  })

  test('passwords are kept as Argon2id hashes alone', async () => {
    const rows = await world.db.people.findAll()
    for (const row of rows) expect(row.get('passwordHash')).toMatch(/^\$argon2id\$/)
  })
})

describe('protection', () => {
  test('a request from another site is refused, by either header', async () => {
    const client = await world.signIn('ines')
    for (const headers of [{ 'sec-fetch-site': 'cross-site' }, { origin: 'http://elsewhere.example' }] as Record<
      string,
      string
    >[])
      expect((await client.call('POST', '/airframes/T-001/jobs', {}, headers)).body.type).toBe('/problems/cross-site')
    expect(
      (await client.call('POST', '/airframes/T-001/jobs', 'a=b', { 'content-type': 'application/x-www-form-urlencoded' })).body
        .type,
    ).toBe('/problems/malformed')
    expect((await client.get<{ jobs: unknown[] }>('/airframes/T-001')).body.jobs).toHaveLength(0)
  })

  test('a reader can look and change nothing', async () => {
    await world.db.sequelize.query('DELETE FROM sign_in_tries')
    const reader = await world.signIn('piet')
    expect((await reader.get('/airframes')).status).toBe(200)
    for (const [path, body] of [
      ['/airframes/T-001/jobs', {}],
      [`/benches/${world.benches.sound}/hold`, { job: world.benches.sound }],
      [`/jobs/${world.benches.sound}/takes`, { check: 'sensors.gyroRest' }],
    ] as const)
      expect((await reader.post(path, body)).body.type).toBe('/problems/not-allowed')
  })

  test('security headers are set, the server says nothing of what it runs on, and answers are not kept', async () => {
    const { headers } = await world.visitor().get('/health')
    expect(headers.get('content-security-policy')).toContain("default-src 'self'")
    expect(headers.get('x-content-type-options')).toBe('nosniff')
    expect(headers.get('x-powered-by')).toBeNull()
    expect(headers.get('cache-control')).toBe('no-store')
  })

  test('the log is structured, tells of each request, and holds no secret', async () => {
    const lines: string[] = []
    const logged = await world.another(pino({ level: 'debug' }, { write: (line: string) => void lines.push(line) }))
    const ines = await logged.signIn('ines')
    await logged.visitor().post('/session', { login: 'ines', password: 'wrong guess' })
    await ines.post('/airframes/T-001/jobs')
    const log = lines.join('')
    expect(lines.map((line) => JSON.parse(line) as { req?: { url?: string } }).some((l) => l.req?.url === '/api/session')).toBe(
      true,
    )
    for (const secret of [
      passwords.ines,
      'wrong guess',
      ines.cookie.split('=')[1] ?? 'cookie',
      'idempotency-key',
      'a secret of the tests only',
    ])
      expect(log).not.toContain(secret)
  })

  test('unknown addresses, bodies that are no JSON and bodies that are too large are problem documents', async () => {
    const client = await world.signIn('ines')
    expect((await client.get('/nowhere')).body).toMatchObject({ type: '/problems/not-found', status: 404 })
    expect((await client.post('/airframes/T-001/jobs', '{"a":')).body.type).toBe('/problems/malformed')
    expect((await client.post('/airframes/T-001/jobs', { a: 'x'.repeat(200_000) })).body.type).toBe('/problems/too-large')
    expect((await client.get('/airframes?limit=9999')).body).toMatchObject({
      type: '/problems/malformed',
      detail: expect.stringContaining('limit') as string,
    })
  })
})
