import { createHash } from 'node:crypto'
import { shopEntry, type Person, type ShopBody, type ShopEntry, type Sheet } from '@taraf/contract'
import canonicalize from 'canonicalize'
import type { Clock } from '@taraf/takes'
import type { Transaction } from 'sequelize'
import type { Database } from '../database/database'
import { canonicalText, linkHash, noHash } from './chain'
import type { Keys } from './keys'

/** The shop's own chain, in which people, sheets, airframes and the opening and closing of every card stand. */
export interface Shop {
  readonly keys: Keys
  /** The date and time that a record of now names. */
  now(): Date
  /** Appends behind the head. The chain stays locked until the transaction ends. */
  append(transaction: Transaction, by: string | null, body: ShopBody, requestKey?: string | null): Promise<void>
}

const lockName = 'shop'

/** @param clock the machine's; the demo's history has one of its own */
export const shopOf = (db: Database, keys: Keys, clock: Pick<Clock, 'date'>): Shop => ({
  keys,
  now: () => clock.date(),
  async append(transaction, by, body, requestKey = null) {
    await db.sequelize.query('SELECT pg_advisory_xact_lock(hashtextextended($name, 0))', {
      bind: { name: lockName },
      transaction,
    })
    const [head] = await db.select<{ no: number; hash: Buffer }>(
      'SELECT no::int AS no, hash FROM shop_entries ORDER BY no DESC LIMIT 1',
      {},
      transaction,
    )
    const prevHash = head?.hash ?? noHash
    const entry: ShopEntry = { format: 1, no: (head?.no ?? 0) + 1, at: clock.date().toISOString(), by, body }
    const canonical = canonicalText(shopEntry.parse(entry))
    const hash = linkHash(prevHash, canonical)
    await db.shopEntries.create(
      { no: entry.no, canonical, prevHash, hash, requestKey, ...keys.seal('shop', hash) },
      { transaction, returning: false },
    )
  },
})

export const sheetHash = (body: Sheet): string =>
  createHash('sha256')
    .update(canonicalize(body) ?? '', 'utf8')
    .digest('hex')

export const personBody = (
  { id, login, name, role }: Person,
  passwordHash: string,
  withdrawn = false,
): Extract<ShopBody, { kind: 'person' }> => ({
  kind: 'person',
  id,
  login,
  name,
  role,
  withdrawn,
  passwordSha256: createHash('sha256').update(passwordHash, 'utf8').digest('hex'),
})
