import { shopEntry, type Person, type ShopBody, type ShopEntry, type Sheet } from '@taraf/contract'
import canonicalize from 'canonicalize'
import type { Database } from '../../database/database'
import { linkHash, noHash } from '../chain'
import type { Keys } from '../keys'
import { personBody, sheetHash } from '../shop'

type Of<Kind extends ShopBody['kind']> = Extract<ShopBody, { kind: Kind }>

/** What the shop's chain says of a card. */
export interface ShopCard {
  readonly opened: Of<'opened'>
  readonly adopted: Of<'adopted'> | null
  readonly closed: Of<'closed'> | null
}

export interface ShopAudit {
  readonly differences: string[]
  readonly cards: ReadonlyMap<string, ShopCard>
  readonly boards: Boards
  /** What a person was allowed at a moment; undefined where the chain knows no such person. */
  roleAt(person: string, at: string): Person['role'] | undefined
  /** The cards that the chain knows and that are not there. */
  missing(jobs: readonly string[]): string[]
}

/** Proves the shop's chain, and holds people, sheets and airframes of the tables against it. */
export const auditShop = async (db: Database, keys: Pick<Keys, 'wrongWith'>): Promise<ShopAudit> => {
  const differences: string[] = []
  const entries = await readChain(db, keys, differences)
  const people = new Map<string, { at: string; body: Of<'person'> }[]>()
  const sheets = new Map<string, Of<'sheet'>>()
  const airframes = new Map<string, Of<'airframes'>['airframes'][number]>()
  const cards = new Map<string, ShopCard>()
  for (const { at, body } of entries)
    switch (body.kind) {
      case 'person':
        people.set(body.id, [...(people.get(body.id) ?? []), { at, body }])
        break
      case 'sheet':
        sheets.set(body.id, body)
        break
      case 'airframes':
        for (const one of body.airframes) airframes.set(one.id, one)
        break
      case 'opened':
        cards.set(body.job, { opened: body, adopted: null, closed: null })
        break
      default: {
        const card = cards.get(body.job)
        if (card === undefined) differences.push(`the shop's chain names a job card that was never opened: ${body.job}`)
        else cards.set(body.job, { ...card, [body.kind]: body })
      }
    }
  const newest = new Map([...people].map(([id, list]) => [id, list.at(-1)?.body as Of<'person'>]))
  differences.push(...(await comparePeople(db, newest)), ...(await compareSheets(db, sheets)))
  const found = await db.select<{ id: string; tag: string; board: string; sheet: string }>(
    'SELECT id, tag, board, sheet_id AS sheet FROM airframes ORDER BY tag',
  )
  differences.push(...compare('airframe', airframes, found, (one) => one.tag, ['tag', 'sheet']))
  return {
    differences,
    cards,
    boards: new Boards(new Map([...airframes].map(([id, { board }]) => [id, board])), found),
    roleAt: (person, at) => {
      const list = people.get(person)
      return (list?.findLast((one) => one.at <= at) ?? list?.[0])?.body.role
    },
    missing: (jobs) => {
      const there = new Set(jobs)
      return [...cards.values()]
        .filter(({ opened }) => !there.has(opened.job))
        .map(({ opened }) => `job card ${opened.number} of ${opened.tag} is gone: the shop's chain says that it was opened`)
    },
  }
}

const readChain = async (db: Database, keys: Pick<Keys, 'wrongWith'>, differences: string[]): Promise<ShopEntry[]> => {
  const rows = await db.select<{
    no: number
    canonical: string
    prevHash: Buffer
    hash: Buffer
    keyId: string
    seal: Buffer
  }>(`SELECT no::int AS no, canonical, prev_hash AS "prevHash", hash, key_id AS "keyId", seal FROM shop_entries ORDER BY no`)
  let before: Buffer = noHash
  const entries: ShopEntry[] = []
  rows.forEach((row, i) => {
    const wrong = (what: string) => differences.push(`entry ${row.no} of the shop ${what}`)
    if (row.no !== i + 1) wrong(`stands where entry ${i + 1} is wanted`)
    if (!row.prevHash.equals(before)) wrong('does not follow the entry before it')
    if (!linkHash(row.prevHash, row.canonical).equals(row.hash)) wrong('was changed: its text has another hash')
    const seal = keys.wrongWith('shop', row.hash, row)
    if (seal !== null) wrong(seal)
    before = row.hash
    try {
      const json: unknown = JSON.parse(row.canonical)
      if (canonicalize(json) !== row.canonical) wrong('is not in canonical form')
      const entry = shopEntry.parse(json)
      if (entry.no !== row.no) wrong('names another place in the chain')
      entries.push(entry)
    } catch {
      wrong('is no entry of any format that was ever written')
    }
  })
  return entries
}

const comparePeople = async (db: Database, known: ReadonlyMap<string, Of<'person'>>): Promise<string[]> => {
  const rows = await db.select<Person & { passwordHash: string; withdrawn: boolean }>(
    `SELECT id, login, name, role, password_hash AS "passwordHash", withdrawn_at IS NOT NULL AS withdrawn FROM people ORDER BY login`,
  )
  const found = rows.map(({ passwordHash, withdrawn, ...person }) => personBody(person, passwordHash, withdrawn))
  const fields = ['login', 'name', 'role', 'withdrawn', 'passwordSha256'] as const
  return compare('person', known, found, (one) => one.name, fields, { passwordSha256: 'password' })
}

const compareSheets = async (db: Database, known: ReadonlyMap<string, Of<'sheet'>>): Promise<string[]> => {
  const rows = await db.select<{ id: string; type: string; version: number; body: Sheet }>(
    'SELECT id, type, version, body FROM sheets ORDER BY type, version',
  )
  const found = rows.map(({ id, type, version, body }) => ({
    kind: 'sheet' as const,
    id,
    type,
    version,
    sha256: sheetHash(body),
  }))
  const words = { sha256: 'contents' }
  return compare('build sheet', known, found, (one) => `${one.type} version ${one.version}`, ['type', 'version', 'sha256'], words)
}

/** What differs between the rows of a table and what the chain says of each. */
const compare = <One extends { readonly id: string }, Field extends keyof One & string>(
  what: string,
  known: ReadonlyMap<string, One>,
  found: readonly Pick<One, Field | 'id'>[],
  nameOf: (one: One) => string,
  fields: readonly Field[],
  words: Partial<Record<Field, string>> = {},
): string[] => {
  const there = new Set(found.map((one) => one.id))
  return [
    ...found.flatMap((one) => {
      const wanted = known.get(one.id)
      if (wanted === undefined) return [`${what} ${nameOf(one as One)} is not on the shop's chain`]
      return fields
        .filter((field) => wanted[field] !== one[field])
        .map((field) =>
          field in words
            ? `${what} ${nameOf(wanted)}: ${words[field]} is not as the shop's chain says`
            : `${what} ${nameOf(wanted)}: ${field} is ${String(one[field])}, and ${String(wanted[field])} by the shop's chain`,
        )
    }),
    ...[...known.values()].filter((one) => !there.has(one.id)).map((one) => `${what} ${nameOf(one)} is gone`),
  ]
}

/** Which board each airframe has: as it was registered, and as its cards say that another was built in. */
export class Boards {
  constructor(
    private readonly now: Map<string, string>,
    private readonly found: readonly { readonly id: string; readonly tag: string; readonly board: string }[],
  ) {}

  of(airframe: string): string | undefined {
    return this.now.get(airframe)
  }

  fit(airframe: string, board: string): void {
    this.now.set(airframe, board)
  }

  /** Once all cards were read. */
  differences(): string[] {
    return this.found
      .filter(({ id, board }) => this.now.has(id) && this.now.get(id) !== board)
      .map(({ id, tag, board }) => `airframe ${tag}: board is ${board}, and ${this.now.get(id)} by the record`)
  }
}
