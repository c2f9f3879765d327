import { createHash } from 'node:crypto'
import canonicalize from 'canonicalize'
import type { Request, RequestHandler, Response } from 'express'
import { makeProblem } from '@taraf/contract'
import { isDuplicate, type Database } from '../database/database'
import { personOf } from './guard'
import { ProblemError, problemFrom } from './problem'

/** After this a request that never ended is taken for one whose server died, and may be worked on again. */
const abandonedMs = 90_000

/**
 * Runs a write at most once for each idempotency key of a person: a repetition gets the first answer again. A server
 * that dies in between leaves the key behind; entries carry the key too, so that even then nothing is appended twice.
 */
export const once =
  (db: Database, work: (request: Request, key: string) => Promise<{ status?: number; body: unknown }>): RequestHandler =>
  async (request, response) => {
    const person = personOf(request)
    const key = request.get('idempotency-key')
    if (key === undefined || !/^[\w-]{8,100}$/.test(key))
      throw new ProblemError('key-needed', 'The header Idempotency-Key is missing, or not 8 to 100 letters, digits, - or _.')
    const fingerprint = createHash('sha256')
      .update(`${request.method} ${request.originalUrl}\n`)
      .update(Buffer.isBuffer(request.body) ? request.body : (canonicalize(request.body) ?? ''))
      .digest()
    const [earlier] = await db.select<{ fingerprint: Buffer; status: number | null; body: unknown; ageMs: number }>(
      `INSERT INTO requests (person_id, key, fingerprint) VALUES ($person, $key, $fingerprint)
       ON CONFLICT (person_id, key) DO UPDATE SET at = CASE WHEN requests.status IS NULL AND requests.at < now() - interval '${abandonedMs} ms'
         THEN now() ELSE requests.at END
       RETURNING fingerprint, status, body, extract(epoch FROM now() - at) * 1000 AS "ageMs"`,
      { person: person.id, key, fingerprint },
    )
    if (earlier === undefined) throw new Error('the key was neither stored nor found')
    if (!earlier.fingerprint.equals(fingerprint))
      throw new ProblemError('key-reused', 'The same key came before with another request.')
    if (earlier.status !== null) return answer(response, earlier.status, earlier.body)
    if (earlier.ageMs > 0) throw new ProblemError('in-progress', 'The first one of them has not ended yet.')
    const forget = () =>
      db.sequelize
        .query('DELETE FROM requests WHERE person_id = $person AND key = $key', { bind: { person: person.id, key } })
        .catch(() => {})
    try {
      const { status = 200, body } = await work(request, key)
      await remember(db, person.id, key, status, body)
      answer(response, status, body)
    } catch (error) {
      const problem = isDuplicate(error)
        ? new ProblemError('in-progress', 'This was recorded before; load the page anew.')
        : problemFrom(error)
      const document = makeProblem(problem.type, problem.detail, request.originalUrl)
      // What waiting or another try can mend is not remembered: the same key may come again.
      if (document.status >= 500 || document.status === 429) {
        await forget()
        throw error
      }
      await remember(db, person.id, key, document.status, document)
      answer(response, document.status, document)
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
