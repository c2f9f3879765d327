import { webcrypto } from 'node:crypto'
import canonicalize from 'canonicalize'
import type { Request, RequestHandler, Response } from 'express'
import { makeProblem, type ShopBody } from '@taraf/contract'
import { isDuplicate, type Database } from '../database/database'
import { livesSql } from '../database/lives'
import { personOf } from './guard'
import { problemFrom } from './problem'
import { ProblemError } from '@taraf/contract'

export interface Done {
  readonly status?: number
  readonly body: unknown
}
/** Runs the work of a route that changes something. */
export type Once = (
  work: (request: Request, key: string) => Promise<Done>,
  recorded?: (found: Recorded) => Done,
) => RequestHandler

/** What the record holds of a request whose server died before it had answered. */
export interface Recorded {
  readonly seq?: number
  readonly shop?: ShopBody
}

/**
 * Runs a write at most once for each idempotency key of a person: a repetition gets the first answer again. Where the server died in between,
 * the record decides: what it holds under the key is the answer, and where it holds nothing the work is done now.
 */
export const onceOf =
  (db: Database, serverId: string): Once =>
  (work, recorded = answerOf) =>
  async (request, response) => {
    const person = personOf(request)
    const key = request.get('idempotency-key')
    if (key === undefined || !/^[\w-]{8,100}$/.test(key))
      throw new ProblemError('key-needed', 'The header Idempotency-Key is missing, or not 8 to 100 letters, digits, - or _.')
    const asked = Buffer.from(`${request.method} ${request.originalUrl}\n`)
    const sent = Buffer.isBuffer(request.body) ? request.body : Buffer.from(canonicalize(request.body) ?? '')
    // A photo is hashed beside, and not copied: a dozen at once would hold up whoever stops motors.
    const fingerprint = await sha256(Buffer.concat([asked, await sha256(sent)]))
    const [earlier] = await db.select<{
      fingerprint: Buffer
      status: number | null
      body: unknown
      isNew: boolean
      isMine: boolean
    }>(
      `INSERT INTO requests (person_id, key, fingerprint, server_id) VALUES ($person, $key, $fingerprint, $server)
       ON CONFLICT (person_id, key) DO UPDATE SET
         at = CASE WHEN ${abandoned} THEN now() ELSE requests.at END,
         server_id = CASE WHEN ${abandoned} THEN $server ELSE requests.server_id END
       RETURNING fingerprint, status, body, xmax = 0 AS "isNew", at = now() AS "isMine"`,
      { person: person.id, key, fingerprint, server: serverId },
    )
    if (earlier === undefined) throw new Error('the key was neither stored nor found')
    if (!earlier.fingerprint.equals(fingerprint))
      throw new ProblemError('key-reused', 'The same key came before with another request.')
    if (earlier.status !== null) return answer(response, earlier.status, earlier.body)
    if (!earlier.isMine) throw new ProblemError('in-progress', 'The first one of them has not ended yet.')
    const forget = () =>
      db.sequelize
        .query('DELETE FROM requests WHERE person_id = $person AND key = $key', { bind: { person: person.id, key } })
        .catch(() => {})
    try {
      const found = earlier.isNew ? null : await inRecord(db, person.id, key)
      const { status = 200, body } = found === null ? await work(request, key) : recorded(found)
      await remember(db, person.id, key, status, body)
      answer(response, status, body)
    } catch (error) {
      const problem = isDuplicate(error)
        ? new ProblemError('in-progress', 'This was recorded before; reload the page.')
        : problemFrom(error)
      const document = makeProblem(problem.type, problem.detail, request.originalUrl)
      // What waiting or another try can repair is not remembered: the same key may come again.
      if (document.status >= 500 || document.status === 429) {
        await forget()
        throw error
      }
      await remember(db, person.id, key, document.status, document)
      answer(response, document.status, document)
    }
  }

const sha256 = async (bytes: Buffer): Promise<Buffer> => Buffer.from(await webcrypto.subtle.digest('SHA-256', bytes))

/** The request never ended, and the server that worked on it is gone. */
const abandoned = `(requests.status IS NULL AND NOT ${livesSql('requests.server_id')})`

const inRecord = async (db: Database, person: string, key: string): Promise<Recorded | null> => {
  const [entry] = await db.select<{ seq: number }>(
    `SELECT seq FROM job_entries WHERE request_key = $key AND body->>'by' = $person LIMIT 1`,
    { key, person },
  )
  if (entry !== undefined) return entry
  const [shop] = await db.select<{ shop: ShopBody }>(
    `SELECT body AS shop FROM shop_entries WHERE request_key = $key AND canonical::jsonb->>'by' = $person LIMIT 1`,
    { key, person },
  )
  return shop ?? null
}

/** What a route answers of itself, where it answers with what it recorded. */
const answerOf = ({ seq, shop }: Recorded): Done => {
  if (seq !== undefined) return { status: 201, body: { seq } }
  switch (shop?.kind) {
    case 'opened':
      return { status: 201, body: { id: shop.job } }
    case 'airframes':
      return { status: 201, body: { tags: shop.airframes.map((a) => a.tag) } }
    case 'sheet':
      return { status: 201, body: { type: shop.type, version: shop.version } }
    default:
      return { body: null }
  }
}

/** Forgets keys that nobody can be repeating any more. */
export const forgetOldRequests = async (db: Database): Promise<void> => {
  await db.sequelize.query(`DELETE FROM requests WHERE at < now() - interval '2 days'`)
}

const remember = (db: Database, person: string, key: string, status: number, body: unknown) =>
  db.sequelize.query('UPDATE requests SET status = $status, body = $body::jsonb WHERE person_id = $person AND key = $key', {
    bind: { person, key, status, body: JSON.stringify(body ?? null) },
  })

const answer = (response: Response, status: number, body: unknown): void =>
  void response
    .status(status)
    .type(status >= 400 ? 'application/problem+json' : 'application/json')
    .send(JSON.stringify(body ?? null))
