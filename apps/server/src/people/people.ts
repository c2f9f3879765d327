import { randomUUID } from 'node:crypto'
import type { Person, Role } from '@taraf/contract'
import { hash, verify } from '@node-rs/argon2'
import { RateLimiterPostgres, RateLimiterRes } from 'rate-limiter-flexible'
import type { Database } from '../database/database'
import { ProblemError } from '../http/problem'

const mostTries = 8
const triesWithinS = 300

export interface People {
  /** Who this name and password belong to. Throws a problem where they are wrong, or tried too often from one place. */
  verify(login: string, password: string, from: string): Promise<Person>
  names(ids: readonly string[]): Promise<Record<string, string>>
}

export const peopleOf = (db: Database): People => {
  const limiter = new RateLimiterPostgres({
    storeClient: db.sequelize,
    storeType: 'sequelize',
    schemaName: 'public',
    tableName: 'sign_in_tries',
    tableCreated: true,
    clearExpiredByTimeout: false,
    points: mostTries,
    duration: triesWithinS,
  })
  // Verified against where the name is unknown, so that both answers take the same time.
  const nobody = hash(randomUUID())
  return {
    async verify(login, password, from) {
      const key = `${login.toLowerCase()} ${from}`
      await limiter.consume(key).catch((refused: unknown) => {
        if (!(refused instanceof RateLimiterRes)) throw refused
        const seconds = Math.ceil(refused.msBeforeNext / 1000)
        throw new ProblemError('too-many-tries', `After ${mostTries} tries this name waits ${seconds} s.`, seconds)
      })
      const row = (await db.people.findOne({ where: { login: login.toLowerCase() } }))?.get({ plain: true })
      const right = await verify(row?.passwordHash ?? (await nobody), password)
      if (row === undefined || !right) throw new ProblemError('sign-in-wrong', 'No one signs in with this name and password.')
      await limiter.delete(key)
      return { id: row.id, login: row.login, name: row.name, role: row.role }
    },
    async names(ids) {
      const rows = await db.people.findAll({ where: { id: [...new Set(ids)] }, attributes: ['id', 'name'] })
      return Object.fromEntries(rows.map((r) => [r.get('id') as string, r.get('name') as string]))
    },
  }
}

/** Adds a person. The password is kept as its Argon2id hash alone (RFC 9106). */
export const addPerson = async (
  db: Database,
  person: { login: string; name: string; role: Role; password: string },
): Promise<string> => {
  const id = randomUUID()
  const { login, name, role } = person
  await db.people.create({ id, login, name, role, passwordHash: await hash(person.password) })
  return id
}
