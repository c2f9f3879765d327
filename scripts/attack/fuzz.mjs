// npm run -s fuzz -- --count N --seed S: requests that nobody would send, at a running shop. Exit 1 where one is answered with a fault of ours.
import { spawnSync } from 'node:child_process'
import { randomUUID } from 'node:crypto'
import { connect } from 'node:net'
import { join } from 'node:path'
import { parseArgs } from 'node:util'
import { gzipSync } from 'node:zlib'
import pg from 'pg'
import { WebSocket } from 'ws'
import { erase, keysFolder } from '../lib/cluster.mjs'
import { root, run, say } from '../lib/say.mjs'
import { bringUp } from '../lib/supervise.mjs'
import { drawsOf } from './draws.mjs'

const atOnce = 24

const paths = [
  '/airframes', '/airframes/~', '/airframes/~/jobs', '/airframes/~/parts', '/airframes/~/sheet', '/airframes/preview', '/airframes/import',
  '/airframes?search=~&sort=~&offset=~&limit=~', '/sheets', '/sheets/~/~', '/images', '/images?file=~', '/batch-notes', '/benches', '/benches/~/hold',
  '/benches/~/stop', '/hands/~', '/people/~', '/session', '/health', '/jobs/~', '/jobs/~/takes', '/jobs/~/takes/next', '/jobs/~/takes/running',
  '/jobs/~/remedies', '/jobs/~/changes', '/jobs/~/confirmations', '/jobs/~/asides', '/jobs/~/signatures', '/jobs/~/items', '/jobs/~/items/~/close',
  '/jobs/~/park', '/jobs/~/resume', '/jobs/~/board', '/jobs/~/photos', '/jobs/~/photos/~', '/jobs/~/settings', '/jobs/~/settings.csv',
  '/jobs/~/settings/read', '/jobs/~/settings/clear', '/jobs/~/image', '/jobs/~/takes/~/evidence', '/jobs/~/takes/~/settings',
  '/jobs/~/takes/~/evidence?stream=~', '/jobs/~/checks/~/earlier', '/nowhere/~',
] // prettier-ignore
const outside = ['/%', '/assets/~', '/_expo/~', '/live', '/~', '/../~', '/sign-in?to=~', '//~', '/api', '/api/', '/index.html']
const methods = ['GET', 'POST', 'POST', 'POST', 'DELETE', 'PUT', 'PATCH', 'HEAD', 'OPTIONS']
const types = [
  'application/json', 'application/json', 'application/json', 'application/octet-stream', 'application/octet-stream', 'text/plain',
  'application/json; charset=klingon', 'multipart/form-data; boundary=x', '', 'application/x-www-form-urlencoded', 'application/json; charset=utf-16',
] // prettier-ignore
const words = [
  '', ' ', '~', '%00', '%', '%zz', '..', '../../etc/passwd', 'null', 'undefined', '-1', '0', '1', '2147483648', '9007199254740993', '1e999', 'NaN',
  "'; DROP TABLE people; --", '<script>alert(1)</script>', '\u0000', '\ud800', '\u202e', '\ufeff', '\\', '"', '=1+1', 'N4', 'N4-001', 'n4-001', 'T4-003',
  'sensors.gyroRest', '__proto__', 'constructor', 'toString', '{{7*7}}', 'a'.repeat(5_000), '😀', '%c0%af', '../'.repeat(40), 'zzzzzzzz-zzzz-4zzz-8zzz-zzzzzzzzzzzz',
] // prettier-ignore

const encode = (text) => {
  try {
    return encodeURIComponent(text)
  } catch {
    return '%ED%A0%80'
  }
}

await run(async () => {
  const { values } = parseArgs({
    options: { count: { type: 'string', default: '2000' }, seed: { type: 'string', default: '1' } },
  })
  const count = Number(values.count)
  const draw = drawsOf(Number(values.seed))
  const pick = (list) => list[Math.floor(draw() * list.length)]
  const name = 'fuzz'
  erase(name)
  const up = await bringUp({ name, quiet: true })
  const db = new pg.Client({ connectionString: up.urls.owner })
  await db.connect()
  const ids = (
    await db.query(
      `(SELECT id::text FROM jobs LIMIT 6) UNION ALL (SELECT id::text FROM benches) UNION ALL (SELECT id::text FROM people WHERE role = 'reader')`,
    )
  ).rows.map((r) => r.id)
  await db.end()
  const cookies = ['', 'taraf=s%3Aabc.def', 'taraf=%00', 'x'.repeat(900)]
  const people = [
    ['ines', 'saltmarsh'],
    ['maud', 'springtide'],
    ['piet', 'oystercatcher'],
  ]
  const strangers = cookies.length
  /** Each signs in a few times; whoever is signed out by what was sent signs in again. */
  const signIn = async (i) => {
    const [login, password] = people[i % people.length]
    const body = JSON.stringify({ login, password })
    const reply = await fetch(`${up.url}/api/session`, { method: 'POST', headers: { 'content-type': 'application/json' }, body })
    cookies[strangers + i] = reply.headers.get('set-cookie')?.split(';')[0] ?? ''
  }
  for (let i = 0; i < 15; i++) await signIn(i)
  const word = () => (draw() < 0.4 ? pick(ids) : pick(words))
  const value = (depth = 0) => {
    const kind = draw()
    if (kind < 0.35 || depth > 5) return word()
    if (kind < 0.5) return pick([0, -1, 1, 2 ** 31, 2 ** 53, -0.5, 1e308, 123456789])
    if (kind < 0.6) return pick([null, true, false])
    if (kind < 0.75) return Array.from({ length: Math.floor(draw() * 4) }, () => value(depth + 1))
    return object(depth + 1)
  }
  const names = [
    'job', 'check', 'observations', 'change', 'cause', 'what', 'role', 'login', 'password', 'reason', 'words', 'blocks', 'parts', 'part', 'model', 'serial',
    'lot', 'tag', 'type', 'version', 'board', 'airframes', 'settings', 'seq', 'key', 'sha256', 'act', 'way', 'withdrawn', 'began', 'item', 'answer', 'photo',
    'segment', 'up', 'antenna', 'title', 'variantOf', 'motors', 'limits', '__proto__', 'constructor', 'lotFrom', 'lotTo', 'defect', 'inspection', 'name', 'file',
  ] // prettier-ignore
  const object = (depth) => Object.fromEntries(Array.from({ length: Math.floor(draw() * 6) }, () => [pick(names), value(depth)]))
  const knock = () => ({ change: { what: 'knock' }, cause: `fuzz ${value()}`.slice(0, 300) })
  const body = () => {
    const kind = draw()
    if (kind < 0.55) return JSON.stringify(object(0))
    if (kind < 0.65)
      return JSON.stringify(
        pick([knock(), { job: pick(ids) }, { check: 'sensors.gyroRest' }, { reason: 'lunch', words: 'done so' }]),
      )
    if (kind < 0.7) return '['.repeat(4_000) + ']'.repeat(4_000)
    if (kind < 0.75)
      return pick([
        '{"a":1e999}',
        '{"a":"\\u0000"}',
        '{"a":"\\ud800"}',
        '{"a":',
        '',
        'null',
        '"x"',
        '[]',
        '{"__proto__":{"a":1}}',
        '\ufeff{}',
      ])
    if (kind < 0.85) return Buffer.from(Array.from({ length: Math.floor(draw() * 300) }, () => Math.floor(draw() * 256)))
    if (kind < 0.92)
      return pick([
        ':020000040800F2\n:00000001FF\n',
        'tag,type,board\nA,N4,B\n',
        'name,value\nrate.roll,1\n',
        '"a',
        'a\n'.repeat(300),
      ])
    return gzipSync(JSON.stringify(object(0))).subarray(0, Math.floor(draw() * 60))
  }
  const faults = []
  const statuses = {}
  const send = async (n) => {
    const method = pick(methods)
    const path = (draw() < 0.9 ? `/api${pick(paths)}` : pick(outside)).replaceAll('~', () =>
      draw() < 0.5 ? encode(word()) : word(),
    )
    const asker = Math.floor(draw() * cookies.length)
    const headers = {
      cookie: cookies[asker],
      'content-type': pick(types),
      ...(draw() < 0.85 ? { 'idempotency-key': draw() < 0.95 ? randomUUID() : pick(['', 'x', 'a'.repeat(300)]) } : {}),
      ...(draw() < 0.06 ? { 'content-encoding': pick(['gzip', 'br', 'deflate', 'zzip', 'gzip, gzip']) } : {}),
      ...(draw() < 0.04 ? { origin: pick(['http://elsewhere.example', 'null', up.url]) } : {}),
      ...(draw() < 0.04 ? { range: 'bytes=5-1', 'if-none-match': '*' } : {}),
    }
    const content = ['GET', 'HEAD'].includes(method) ? undefined : body()
    try {
      const reply = await fetch(`${up.url}${path}`, {
        method,
        headers,
        body: content,
        redirect: 'manual',
        signal: AbortSignal.timeout(25_000),
      })
      const text = await reply.text()
      statuses[reply.status] = (statuses[reply.status] ?? 0) + 1
      if (reply.status === 401 && asker >= strangers && draw() < 0.2) await signIn(asker - strangers)
      if (reply.status === 500)
        faults.push({ n, method, path: path.slice(0, 200), body: String(content).slice(0, 200), text: text.slice(0, 300) })
    } catch (error) {
      // What fetch itself does not send is none of the server's.
      const why = error.cause?.code ?? error.cause?.message ?? error.message
      statuses[why] = (statuses[why] ?? 0) + 1
      if (/ECONNREFUSED|timeout|aborted/i.test(String(why)))
        faults.push({ n, method, path: path.slice(0, 200), why: String(why) })
    }
  }
  /** Raw bytes at the port, and frames at the feed: what no client library would send. */
  const raw = () =>
    new Promise((resolve) => {
      const socket = connect(Number(new URL(up.url).port), '127.0.0.1')
      socket.on('error', () => {})
      socket.on('close', resolve)
      socket.setTimeout(3_000, () => socket.destroy())
      socket.write(pick(['GET /% HTTP/1.1\r\nhost: x\r\n\r\n', 'GET / HTTP/1.1\r\n\r\n', '\0\0\0', 'POST /api/session HTTP/1.1\r\nhost: x\r\ncontent-length: 99\r\n\r\n{', 'GET /live HTTP/1.1\r\nhost: x\r\nconnection: upgrade\r\nupgrade: websocket\r\n\r\n'])) // prettier-ignore
      setTimeout(() => (draw() < 0.5 ? socket.resetAndDestroy() : socket.destroy()), draw() * 60)
    })
  const frames = () =>
    new Promise((resolve) => {
      const socket = new WebSocket(`${up.url.replace('http', 'ws')}/live`, { headers: { cookie: pick(cookies.slice(4)) } })
      socket.on('error', () => resolve())
      socket.on('close', () => resolve())
      socket.on('open', () => {
        for (let i = 0; i < 3; i++) socket.send(pick([JSON.stringify(object(0)), Buffer.alloc(9), '{"watch":{"bench":"x"}}', JSON.stringify({ watch: { job: pick(ids), bench: pick(ids) } }), JSON.stringify({ keep: { job: pick(ids), press: 'p' } }), '{"ping":-1}'])) // prettier-ignore
        setTimeout(() => socket.terminate(), 40)
      })
    })
  let sent = 0
  const hand = async () => {
    while (sent < count) {
      const n = ++sent
      if (n % 10_000 === 0) say(`${n} of ${count}: ${faults.length} faults`)
      await (draw() < 0.01 ? raw() : draw() < 0.01 ? frames() : send(n))
    }
  }
  await Promise.all(Array.from({ length: atOnce }, hand))
  const health = await fetch(`${up.url}/api/health`).then((r) => r.status)
  const pids = up.pids()
  const audit = spawnSync(process.execPath, ['--import', 'tsx', join(root, 'apps/server/src/commands/audit.ts')], {
    cwd: root,
    encoding: 'utf8',
    env: { ...process.env, TARAF_DATABASE_URL: up.urls.server, TARAF_KEYS: keysFolder(name) },
  })
  await up.stop()
  console.log(JSON.stringify({ format: 'taraf-fuzz/1', seed: Number(values.seed), count, statuses, health, pids, faults: faults.slice(0, 20), audit: audit.stdout.trim().split('\n').slice(-3) }, null, 1)) // prettier-ignore
  return faults.length === 0 && health === 200 && audit.status === 0 ? 0 : 1
})
