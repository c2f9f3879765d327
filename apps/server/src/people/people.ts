import { randomUUID } from 'node:crypto'
import type { Person, PersonChange, Role } from '@taraf/contract'
import type { Transaction } from 'sequelize'
import type { Database } from '../database/database'
import { ProblemError } from '@taraf/contract'
import { personBody, type Shop } from '../record/shop'
import type { PasswordWork } from '../work/work'
import type { Tries } from './tries'

/** Where a password is tried from: an address, and whoever has a session there already. */
export interface Asker {
  readonly address: string
  readonly signedIn?: Person | undefined
}

export interface People {
  /** Who this name and password belong to. Throws a problem where they are wrong, or were tried too often. */
  verify(login: string, password: string, from: Asker): Promise<Person>
  /** The person as they are now; null where they were withdrawn. */
  find(id: string): Promise<Person | null>
  names(ids: readonly string[]): Promise<Record<string, string>>
  /** Gives a person another role, or withdraws them: from this moment on, in every session. */
  change(id: string, change: PersonChange, by: Person): Promise<void>
}

export const peopleOf = (db: Database, passwords: PasswordWork, tries: Tries, shop: Shop): People => {
  // Verified against where the name is unknown, so that both answers take the same time.
  const nobody = passwords.hash(randomUUID())
  nobody.catch(() => {})
  const rowOf = async (where: { id: string } | { login: string }) =>
    (await db.people.findOne({ where: { ...where, withdrawnAt: null } }))?.get({ plain: true })
  return {
    async verify(login, password, { address, signedIn }) {
      const name = login.toLowerCase()
      return tries.count(name, address, signedIn?.login === name ? signedIn.id : null, async () => {
        const row = await rowOf({ login: name })
        const right = await passwords.verify(row?.passwordHash ?? (await nobody), password)
        if (row === undefined || !right) throw new ProblemError('sign-in-wrong', 'No one signs in with this name and password.')
        return { id: row.id, login: row.login, name: row.name, role: row.role }
      })
    },
    async find(id) {
      const row = await rowOf({ id })
      return row === undefined ? null : { id: row.id, login: row.login, name: row.name, role: row.role }
    },
    async names(ids) {
      const rows = await db.people.findAll({ where: { id: [...new Set(ids)] }, attributes: ['id', 'name'] })
      return Object.fromEntries(rows.map((r) => [r.get('id') as string, r.get('name') as string]))
    },
    change: (id, { role, withdrawn }, by) =>
      db.within(async (transaction) => {
        const row = await db.people.findByPk(id, { transaction, lock: true })
        if (row === null) throw new ProblemError('not-found', 'There is no such person.')
        if (id === by.id) throw new ProblemError('not-allowed', 'Another lead must change what you may do.')
        await row.update(
          {
            ...(role === undefined ? {} : { role }),
            ...(withdrawn === undefined ? {} : { withdrawnAt: withdrawn ? shop.now() : null }),
          },
          { transaction },
        )
        const now = row.get({ plain: true })
        await shop.append(transaction, by.id, personBody(now, now.passwordHash, now.withdrawnAt !== null))
      }),
  }
}

/** Adds a person. The password is kept as its Argon2id hash alone (RFC 9106). */
export const addPerson = async (
  db: Database,
  shop: Shop,
  passwords: PasswordWork,
  transaction: Transaction,
  { password, ...known }: { login: string; name: string; role: Role; password: string },
): Promise<string> => {
  const person = { id: randomUUID(), ...known }
  const passwordHash = await passwords.hash(password)
  await db.people.create({ ...person, passwordHash, withdrawnAt: null }, { transaction })
  await shop.append(transaction, null, personBody(person, passwordHash))
  return person.id
}
