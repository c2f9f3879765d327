// People who work in a shop that is being attacked: every one sends what they do again until it is answered, and remembers what was promised.
import { randomUUID } from 'node:crypto'

const pause = (ms) => new Promise((resolve) => setTimeout(resolve, ms))

/** Somebody who is signed in, and signs in again whenever that is lost. */
export class Worker {
  cookie = ''
  constructor(url, login, password) {
    Object.assign(this, { url, login, password })
  }

  /** One request, once. Null where there was no answer at all. */
  async once(method, path, body, key = randomUUID(), signal = AbortSignal.timeout(15_000)) {
    try {
      const response = await fetch(`${this.url}/api${path}`, {
        method,
        signal,
        headers: {
          cookie: this.cookie,
          ...(method === 'GET' ? {} : { 'content-type': 'application/json', 'idempotency-key': key }),
        },
        ...(method === 'GET' ? {} : { body: JSON.stringify(body ?? {}) }),
      })
      const cookie = response.headers.get('set-cookie')?.split(';')[0]
      if (cookie !== undefined) this.cookie = cookie
      return { status: response.status, body: await response.json() }
    } catch {
      return null
    }
  }

  /** The same request, with the same key, until it is answered for good. Null where `isOver` says so first. */
  async until(method, path, body, isOver) {
    const key = randomUUID()
    for (;;) {
      if (isOver()) return null
      const reply = await this.once(method, path, body, key)
      const later = reply === null || reply.status >= 500 || reply.status === 429 || reply.body?.type === '/problems/in-progress'
      if (reply !== null && reply.status === 500) throw new Error(`${method} ${path}: ${JSON.stringify(reply.body)}`)
      if (reply?.status === 401) await this.once('POST', '/session', { login: this.login, password: this.password })
      else if (!later) return reply
      await pause(150)
    }
  }
}

/** What was promised to a worker: it must be in the record, once. */
export class Promises {
  entries = []
  airframes = []
  opened = []
}

/** Registers an airframe, opens its card, and appends to it, again and again. Returns when `isOver`. */
export const workAway = async (worker, name, promises, isOver) => {
  for (let n = 0; !isOver(); n++) {
    const tag = `${name}-${n}`
    const airframe = { tag, type: 'N4', board: `KB-${tag}` }
    const registered = await worker.until('POST', '/airframes', { airframes: [airframe] }, isOver)
    if (registered?.status !== 201) continue
    promises.airframes.push(tag)
    const opened = await worker.until('POST', `/airframes/${tag}/jobs`, {}, isOver)
    if (opened?.status !== 201) continue
    promises.opened.push({ job: opened.body.id, tag })
    for (let k = 0; k < 12; k++) {
      const cause = `${tag} change ${k}`
      const change = { change: { what: 'knock' }, cause }
      const done = await worker.until('POST', `/jobs/${opened.body.id}/changes`, change, isOver)
      if (done?.status === 201) promises.entries.push({ job: opened.body.id, cause, seq: done.body.seq })
    }
    await worker.until(
      'POST',
      `/jobs/${opened.body.id}/signatures`,
      { role: 'technician', login: worker.login, password: worker.password },
      isOver,
    )
  }
}

/** Holds a bench for a card and takes a check again and again, whatever ends it. */
export const takeAway = async (worker, tag, bench, isOver) => {
  const opened = await worker.until('POST', `/airframes/${tag}/jobs`, {}, isOver)
  const job = opened?.body.id ?? (await worker.until('GET', `/airframes/${tag}`, undefined, isOver))?.body.jobs?.[0]?.id
  if (job === undefined) return
  while (!isOver()) {
    await worker.until('POST', `/benches/${bench}/hold`, { job }, isOver)
    await worker.until('POST', `/jobs/${job}/takes`, { check: 'sensors.gyroRest' }, isOver)
    await pause(900)
  }
}

/** What differs between the promises and the record: lost, doubled, or there though nobody asked. */
export const heldAgainst = async (db, promises) => {
  const wrong = []
  const entries = await db.query(
    `SELECT job_id AS job, seq, body->'body'->>'cause' AS cause FROM job_entries WHERE body->'body'->>'cause' LIKE 'K%change%'`,
  )
  const found = new Map()
  for (const row of entries.rows) found.set(row.cause, [...(found.get(row.cause) ?? []), row])
  for (const [cause, rows] of found) if (rows.length > 1) wrong.push(`doubled: ${cause}`)
  for (const { job, cause, seq } of promises.entries) {
    const [row] = found.get(cause) ?? []
    if (row === undefined) wrong.push(`lost: ${cause}`)
    else if (row.job !== job || row.seq !== seq) wrong.push(`elsewhere: ${cause}`)
  }
  const tags = new Set((await db.query('SELECT tag FROM airframes')).rows.map((r) => r.tag))
  for (const tag of promises.airframes) if (!tags.has(tag)) wrong.push(`lost: airframe ${tag}`)
  const jobs = new Map((await db.query('SELECT id, airframe_id FROM jobs')).rows.map((r) => [r.id, r]))
  for (const { job, tag } of promises.opened) if (!jobs.has(job)) wrong.push(`lost: the card of ${tag}`)
  const half = await db.query(
    `SELECT j.id FROM jobs j WHERE j.length <> (SELECT count(*) FROM job_entries e WHERE e.job_id = j.id)
     UNION ALL SELECT job_id FROM evidence v WHERE NOT EXISTS (SELECT 1 FROM job_entries e WHERE e.job_id = v.job_id AND e.seq = v.seq)`,
  )
  for (const { id } of half.rows) wrong.push(`half: ${id}`)
  return wrong
}
