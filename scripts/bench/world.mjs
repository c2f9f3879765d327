// Airframes on many sound simulated benches, each linked to its job card, and a screen's feed for each.
import { randomUUID } from 'node:crypto'
import pg from 'pg'
import { WebSocket } from 'ws'

export const caller = (url) => {
  let cookie = ''
  return async (method, path, body) => {
    const response = await fetch(`${url}/api${path}`, {
      method,
      headers: {
        cookie,
        'content-type': Buffer.isBuffer(body) ? 'application/octet-stream' : 'application/json',
        'idempotency-key': randomUUID(),
      },
      ...(method === 'GET' ? {} : { body: Buffer.isBuffer(body) ? body : JSON.stringify(body ?? {}) }),
    })
    cookie = response.headers.get('set-cookie')?.split(';')[0] ?? cookie
    if (!response.ok) throw new Error(`${method} ${path}: ${await response.text()}`)
    return { body: await response.json(), cookie }
  }
}

/** A screen that watches a bench: its socket, and what it was told. */
export const screenOn = (url, cookie, { job, bench }) =>
  new Promise((resolve, reject) => {
    const socket = new WebSocket(`${url.replace('http', 'ws')}/live`, { headers: { cookie } })
    const seen = { socket, frames: [], told: [] }
    socket.on('message', (data, binary) => (binary ? seen.frames.push(data) : seen.told.push(JSON.parse(data))))
    socket.on('error', reject)
    socket.on('open', () => {
      socket.send(JSON.stringify({ watch: { job, bench } }))
      resolve(seen)
    })
  })

export const addBenches = async (up, count) => {
  const db = new pg.Client({ connectionString: up.urls.owner })
  await db.connect()
  const call = caller(up.url)
  const { cookie } = await call('POST', '/session', { login: 'ines', password: 'saltmarsh' })
  const linked = []
  for (let i = 0; i < count; i++) {
    const [tag, bench] = [`BN-${String(i + 1).padStart(3, '0')}`, randomUUID()]
    await db.query('INSERT INTO airframes (id, tag, sheet_id, board) SELECT gen_random_uuid(), $1, id, $2 FROM sheets LIMIT 1', [
      tag,
      `FB-${9000 + i}`,
    ])
    await db.query('INSERT INTO benches (id, name, address) VALUES ($1, $2, $3)', [bench, `Row ${i + 1}`, `rig:row-${i + 1}`])
    const { body } = await call('POST', `/airframes/${tag}/jobs`)
    linked.push({ tag, bench, job: body.id })
  }
  await db.end()
  return {
    call,
    linked,
    hold: (one) => call('POST', `/benches/${one.bench}/hold`, { job: one.job }),
    release: (one) => call('DELETE', `/benches/${one.bench}/hold`),
    watch: (one) => screenOn(up.url, cookie, one),
  }
}

/** Airframes without a job card, many. */
export const addMany = async (up, count, letter = 'M') => {
  const db = new pg.Client({ connectionString: up.urls.owner })
  await db.connect()
  await db.query(
    `INSERT INTO airframes (id, tag, sheet_id, board)
     SELECT gen_random_uuid(), $2 || '-' || lpad(i::text, 6, '0'), (SELECT id FROM sheets LIMIT 1), $2 || 'B-' || i FROM generate_series(1, $1::int) i`,
    [count, letter],
  )
  // As the database does by itself a minute after so many came.
  await db.query('ANALYZE airframes')
  await db.end()
}
