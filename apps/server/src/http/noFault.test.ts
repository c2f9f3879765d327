import { randomUUID } from 'node:crypto'
import { gzipSync } from 'node:zlib'
import { makeWorld, type Client, type World } from '../../tests/world'

jest.setTimeout(240_000)
let world: World
let maud: Client
beforeAll(async () => {
  world = await makeWorld()
  maud = await world.signIn('maud')
})
afterAll(() => world.end())

const ids = [
  '%00',
  'a%00b',
  '%F0%9F%98%80',
  '../../etc',
  'none',
  '0',
  '-1',
  '2147483648',
  '1e999',
  '9'.repeat(40),
  randomUUID(),
  'x'.repeat(3000),
]
const gets = (id: string) => [
  `/airframes/${id}`,
  `/airframes?limit=${id}`,
  `/airframes?search=${id}`,
  `/airframes?sort=${id}&after=${id}`,
  `/jobs/${id}`,
  `/jobs/${id}/checks/${id}/earlier`,
  `/jobs/${id}/takes/${id}/evidence`,
  `/jobs/${id}/takes/1/settings`,
  `/jobs/${id}/settings`,
  `/jobs/${id}/settings.csv`,
  `/jobs/${id}/photos/${id}`,
  `/sheets/${id}/${id}`,
  `/sheets/N4/${id}`,
  `/hands/${id}`,
  `/${id}`,
]
const posts = (id: string) => [
  `/airframes`,
  `/airframes/read`,
  `/airframes/${id}/jobs`,
  `/airframes/${id}/sheet`,
  `/airframes/T-001/sheet`,
  `/benches/${id}/hold`,
  `/benches/${id}/stop`,
  `/jobs/${id}/takes`,
  `/jobs/${id}/takes/next`,
  `/jobs/${id}/remedies`,
  `/jobs/${id}/settings`,
  `/jobs/${id}/settings/read`,
  `/jobs/${id}/signatures`,
  `/jobs/${id}/items`,
  `/jobs/${id}/parts`,
  `/jobs/${id}/image`,
  `/sheets`,
  `/images`,
  `/batch-notes`,
  `/hands/${world.benches.sound}`,
  `/session`,
]
const deep = (levels: number): string => '['.repeat(levels) + ']'.repeat(levels)
const nul = 'a\u0000b'
const lone = '{"tag":"\\ud800","login":"\\udfff","password":"\\ud800","type":"\\ud800","words":"\\ud800 \\udc00"}'
const bodies: readonly string[] = [
  '',
  'null',
  '[]',
  '"x"',
  '1e999',
  '{"seq":1e999,"version":1e999}',
  '{"seq":2147483648,"version":2147483648,"key":"x"}',
  '{"__proto__":{"x":1},"constructor":1}',
  JSON.stringify({
    tag: nul,
    type: nul,
    login: nul,
    password: nul,
    words: nul,
    cause: nul,
    key: nul,
    check: nul,
    job: nul,
    part: nul,
  }),
  JSON.stringify({ tag: 'T-9', type: 'N4', board: nul }),
  JSON.stringify({ check: 'sensors.gyroRest', observations: [{ item: nul, answer: nul, segment: nul }] }),
  lone,
  deep(4000),
  `{"a":${deep(3000)}}`,
  JSON.stringify({ part: nul, lotFrom: nul, lotTo: nul, defect: 'abc', inspection: 'abc' }),
]

/** Every answer that is a fault of ours. */
const faults: string[] = []
const ask = async (method: string, path: string, init: RequestInit) => {
  const response = await fetch(`http://127.0.0.1:${world.port}${path}`, { method, redirect: 'manual', ...init }).catch(
    (error: unknown) => error,
  )
  if (!(response instanceof Response)) return void faults.push(`${method} ${path.slice(0, 80)}: ${String(response)}`)
  const text = await response.text()
  if (response.status >= 500 && response.status !== 502 && response.status !== 503)
    faults.push(
      `${method} ${path.slice(0, 80)} ${String(init.body ?? '').slice(0, 60)}: ${response.status} ${text.slice(0, 120)}`,
    )
}

test('no request is answered with a fault of ours, whatever stands in its path, its query or its body', async () => {
  const headers = { cookie: maud.cookie, 'content-type': 'application/json' }
  for (const id of ids) {
    for (const path of gets(id)) await ask('GET', `/api${path}`, { headers })
    for (const path of posts(id))
      for (const body of bodies)
        await ask('POST', `/api${path}`, { headers: { ...headers, 'idempotency-key': randomUUID() }, body })
    for (const path of [`/benches/${id}/hold`, `/jobs/${id}/takes`, '/session/x']) await ask('DELETE', `/api${path}`, { headers })
  }
  expect(faults).toEqual([])
})

test('nor is one with an encoding, a charset or a key that nobody knows, or a file that is not there', async () => {
  const key = () => randomUUID()
  for (const [type, encoding, body] of [
    ['application/json; charset=klingon', undefined, '{}'],
    ['application/json', 'zzip', '{}'],
    ['application/json', 'gzip', 'not gzip at all'],
    ['application/json', 'gzip', gzipSync('{"a":').subarray(0, 12)],
    ['application/json', 'br', '\u0001\u0002'],
    ['text/plain', undefined, 'x'],
    ['', undefined, 'x'],
  ] as const)
    for (const path of ['/api/airframes', '/api/session', '/api/images', '/api/jobs/none/takes'])
      await ask('POST', path, {
        headers: {
          cookie: maud.cookie,
          'content-type': type,
          'idempotency-key': key(),
          ...(encoding === undefined ? {} : { 'content-encoding': encoding }),
        },
        body: body as BodyInit,
      })
  for (const idempotency of ['', 'x'.repeat(5000), '\u00ff', 'a b'])
    await ask('POST', '/api/airframes', {
      headers: { cookie: maud.cookie, 'content-type': 'application/json', 'idempotency-key': idempotency },
      body: '{}',
    })
  for (const path of ['/assets/none.png', '/_expo/none.js', '/assets/%00', '/_expo/%c0%af', '/%', '/assets/../../x', '/live'])
    await ask('GET', path, { headers: { cookie: maud.cookie } })
  expect(faults).toEqual([])
})
