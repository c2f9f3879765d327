import { createHash } from 'node:crypto'
import {
  type Entry,
  type Evidence,
  type Finding,
  type HandoverBody,
  type Sheet,
  type Standings,
  type StoredEntry,
  type TakeBody,
} from '@taraf/contract'
import { readEntry } from '@taraf/contract/readEntry'
import { checkById, checks, outcomeOf, overallOf, recordLines, standingsOf } from '@taraf/core'
import { evaluate } from '@taraf/core/evaluate'
import canonicalize from 'canonicalize'
import type { Database } from '../../database/database'
import { linkHash, noHash } from '../chain'
import { unpackEvidence } from '../../files/packEvidence'
import type { Keys } from '../keys'
import type { ShopAudit } from './auditShop'

interface Row {
  seq: number
  canonical: string
  prevHash: Buffer
  hash: Buffer
  keyId: string | null
  seal: Buffer | null
  evidence: Buffer | null
}

/** A card as the tables hold it. */
interface Card {
  readonly id: string
  readonly name: string
  readonly tag: string
  readonly airframe: string
  readonly sheetId: string
  readonly sheet: Sheet
  readonly number: number
  readonly openedBy: string
  readonly openedAt: Date
  readonly closedAt: Date | null
  readonly overall: string
  readonly standings: Standings
  readonly length: number
  readonly rows: readonly Row[]
}

/** Null where its airframe or its sheet is gone. */
export const readCard = async (db: Database, job: string): Promise<Card | null> => {
  const [card] = await db.select<Omit<Card, 'rows' | 'name'>>(
    `SELECT j.id, a.tag, j.airframe_id AS airframe, j.sheet_id AS "sheetId", s.body AS sheet, j.number, j.opened_by AS "openedBy",
       j.opened_at AS "openedAt", j.closed_at AS "closedAt", j.overall, j.standings, j.length
     FROM jobs j JOIN airframes a ON a.id = j.airframe_id JOIN sheets s ON s.id = j.sheet_id WHERE j.id = $job`,
    { job },
  )
  if (card === undefined) return null
  const rows = await db.select<Row>(
    `SELECT e.seq, e.canonical, e.prev_hash AS "prevHash", e.hash, e.key_id AS "keyId", e.seal, v.data AS evidence
     FROM job_entries e LEFT JOIN evidence v ON v.job_id = e.job_id AND v.seq = e.seq WHERE e.job_id = $job ORDER BY e.seq`,
    { job },
  )
  return { ...card, name: `${card.tag} job card ${card.number}`, rows }
}

/** What differs on one card. */
export const auditCard = async (
  db: Database,
  keys: Pick<Keys, 'wrongWith'>,
  card: Card,
  shop: ShopAudit,
): Promise<{ differences: string[]; judgedEarlier: number }> => {
  const known = shop.cards.get(card.id)
  const differences: string[] = []
  const entries: StoredEntry[] = []
  let before: Buffer = noHash
  let judgedEarlier = 0
  const photos = new Set<string>()
  card.rows.forEach((row, i) => {
    const wrong = (what: string) => differences.push(`entry ${row.seq} ${what}`)
    if (row.seq !== i + 1) wrong(`stands where entry ${i + 1} is wanted`)
    if (!row.prevHash.equals(before)) wrong('does not follow the entry before it')
    if (!linkHash(row.prevHash, row.canonical).equals(row.hash)) wrong('was changed: its text has another hash')
    // What a card held before there were seals was taken over as it was, up to the head that the shop's chain names.
    const isAdopted = row.seq <= (known?.adopted?.length ?? 0)
    const seal = isAdopted && row.seal === null ? null : keys.wrongWith('card', row.hash, row)
    if (seal !== null) wrong(seal)
    before = row.hash
    const entry = entryIn(row, wrong)
    if (entry === null) return
    if (entry.job !== card.id || entry.seq !== row.seq) wrong('names another place in the record')
    entries.push({ ...entry, hash: row.hash.toString('hex') })
    if (entry.body.kind !== 'take') {
      if (row.evidence !== null) wrong('has evidence that it does not name')
      return
    }
    const found = auditTake(entry.body, row.evidence, card.sheet)
    found.differences.forEach(wrong)
    for (const photo of found.photos) photos.add(photo)
    if (found.judgedEarlier) judgedEarlier += 1
  })
  differences.push(...auditSignatures(entries, shop), ...(await auditPhotos(db, card.id, photos)))
  if (judgedEarlier === 0) differences.push(...auditHandover(card, entries))
  if (known === undefined) return { differences: [...differences, "it is not on the shop's chain"], judgedEarlier }
  const { opened, adopted, closed } = known
  const said = (what: string, is: unknown, wanted: unknown) =>
    is === wanted ? [] : [`${what} is ${String(is)}, and ${String(wanted)} by the shop's chain`]
  differences.push(
    ...said('its airframe', card.airframe, opened.airframe),
    ...said('the tag of its airframe', card.tag, opened.tag),
    ...said('its build sheet', card.sheetId, opened.sheet),
    ...said('its number', card.number, opened.number),
    ...said('who opened it', card.openedBy, opened.openedBy),
    ...said('when it was opened', card.openedAt.toISOString(), new Date(opened.openedAt).toISOString()),
  )
  if (adopted !== null && (entries[adopted.length - 1]?.hash ?? null) !== adopted.head)
    differences.push(`the first ${adopted.length} entries are not those that the shop's chain took over`)
  const handover = entries.at(-1)?.body.kind === 'handover' ? entries.at(-1) : undefined
  if (closed !== null) {
    if (handover?.hash !== closed.head || handover.seq !== closed.length)
      differences.push("its handover is not the one that the shop's chain names")
    differences.push(...said('its outcome', card.overall, closed.overall))
  } else if (handover !== undefined) differences.push("it is handed over, and the shop's chain does not say so")
  differences.push(
    ...auditCopies(card, entries, judgedEarlier === 0),
    ...auditBoards(card, entries, adopted?.length ?? 0, opened.board, shop),
  )
  return { differences, judgedEarlier }
}

const entryIn = ({ canonical }: Row, wrong: (what: string) => void): Entry | null => {
  let json: unknown
  try {
    json = JSON.parse(canonical)
  } catch {
    wrong('is not JSON')
    return null
  }
  if (canonicalize(json) !== canonical) wrong('is not in canonical form')
  try {
    return readEntry(json)
  } catch {
    wrong('is no entry of any format that was ever written')
    return null
  }
}

/** What the lists show of a card, computed again from its entries. */
const auditCopies = (card: Card, entries: readonly StoredEntry[], isOfToday: boolean): string[] => {
  const standings = standingsOf(checks, card.sheet, entries)
  const closedAt = entries.findLast((e) => e.body.kind === 'handover')?.at ?? null
  const found: string[] = []
  if (card.length !== entries.length) found.push(`${entries.length} entries where ${card.length} were appended`)
  if ((card.closedAt?.toISOString() ?? null) !== (closedAt === null ? null : new Date(closedAt).toISOString()))
    found.push(closedAt === null ? 'it is closed, but its last entry is no handover' : 'it is handed over, and not closed then')
  // A newer version of Taraf may read more out of an older card than was read when its copy was made.
  if (!isOfToday || Object.keys(card.standings).length !== checks.length) return found
  if (card.overall !== overallOf(standings, entries))
    found.push(`it is listed as "${card.overall}", and is "${overallOf(standings, entries)}"`)
  if (canonicalize(card.standings) !== canonicalize(standings)) found.push('its list of checks differs from its entries')
  return found
}

const auditBoards = (card: Card, entries: readonly Entry[], adopted: number, opened: string, { boards }: ShopAudit): string[] => {
  const found: string[] = []
  let board = adopted > 0 ? opened : (boards.of(card.airframe) ?? opened)
  if (board !== opened) found.push(`it was opened with board ${opened}, and the airframe had ${board}`)
  for (const { seq, body } of entries) {
    if (seq <= adopted || body.kind !== 'change' || body.change.what !== 'board') continue
    if (body.change.from !== board) found.push(`entry ${seq} takes out board ${body.change.from}, and ${board} was in`)
    board = body.change.to
    boards.fit(card.airframe, board)
  }
  return found
}

/** A take's verdict against its evidence, computed again. */
const auditTake = (
  take: TakeBody,
  kept: Buffer | null,
  sheet: Sheet,
): { differences: string[]; photos: string[]; judgedEarlier: boolean } => {
  const only = (...differences: string[]) => ({ differences, photos: [], judgedEarlier: false })
  const actual = kept === null ? null : createHash('sha256').update(kept).digest('hex')
  if (take.evidenceSha256 !== actual)
    return only(
      take.evidenceSha256 === null
        ? 'has evidence that it does not name'
        : actual === null
          ? 'lacks its evidence'
          : 'has evidence with another hash',
    )
  if (kept === null) return take.verdict === 'refused' ? only() : only(`says "${take.verdict}" without evidence`)
  let evidence: Evidence
  try {
    evidence = unpackEvidence(kept)
  } catch {
    return only('has evidence that cannot be read')
  }
  const photos = (evidence.observations ?? []).flatMap(({ photo }) => (photo === undefined ? [] : [photo]))
  const differences: string[] = []
  if (evidence.check !== take.check) differences.push(`has evidence of another check, ${evidence.check}`)
  if (canonicalize(evidence.sheet) !== canonicalize(sheet))
    differences.push('has evidence that was judged by another build sheet')
  const check = checkById(take.check)
  if (check === undefined || check.version !== take.checkVersion) return { differences, photos, judgedEarlier: true }
  if (take.verdict === 'refused') return { differences, photos, judgedEarlier: false }
  const again = evaluate(check, evidence)
  const kinds = new Map(again.findings.map((f) => [f.key, f]))
  // What a board kept differently from it was told is found while it is written, and not in the evidence: it can only make a take worse.
  const beyond = (f: Finding) => f.verdict === 'fail' && !kinds.has(f.key)
  const isWorse = take.verdict === 'fail' && again.verdict === 'pass' && take.findings.some(beyond)
  if (again.verdict !== take.verdict && !isWorse)
    differences.push(`says "${take.verdict}", and its evidence says "${again.verdict}"`)
  else if (canonicalize(take.findings.filter((f) => !beyond(f)).map(worthOf)) !== canonicalize(again.findings.map(worthOf)))
    differences.push('has other findings than its evidence')
  return { differences, photos, judgedEarlier: false }
}

/** A finding without its words: those are of their day. */
const worthOf = ({ remedy, limit, ...finding }: Finding) => ({
  ...finding,
  limit: limit === undefined ? null : { min: limit.min ?? null, max: limit.max ?? null },
  remedy: remedy === undefined ? null : { ...remedy, act: '' },
})

/** Each signature stands over the head that it names, by somebody who may give it. */
const auditSignatures = (entries: readonly StoredEntry[], shop: ShopAudit): string[] =>
  entries.flatMap(({ seq, at, by, body }, i) => {
    if (body.kind !== 'signature') return []
    const role = shop.roleAt(by, at)
    const before = entries[i - 1]
    const found: string[] = []
    if (body.over !== before?.hash) found.push(`entry ${seq} signs another head than the one before it`)
    if (role === undefined || role === 'reader' || (body.role === 'lead' && role !== 'lead'))
      found.push(`entry ${seq} is signed as ${body.role} by somebody who was ${role ?? 'nobody'}`)
    if (body.role === 'lead' && (before?.body.kind !== 'signature' || before.body.role !== 'technician' || before.by === by))
      found.push(`entry ${seq} is signed as lead without the signature of another technician before it`)
    return found
  })

/** The handover's own words against the card. */
const auditHandover = (card: Card, entries: readonly StoredEntry[]): string[] => {
  const at = entries.findIndex((e) => e.body.kind === 'handover')
  const body = entries[at]?.body
  if (body?.kind !== 'handover') return []
  const before = entries.slice(0, at)
  const standings = standingsOf(checks, card.sheet, before)
  const found: string[] = []
  const { airframe } = body
  if (airframe.tag !== card.tag || airframe.sheetType !== card.sheet.type || airframe.sheetVersion !== card.sheet.version)
    found.push(`its handover names ${airframe.tag}, ${airframe.sheetType} version ${airframe.sheetVersion}`)
  const lines = new Map(recordLines(checks, card.sheet, standings, before).map((line) => [line.check, line]))
  // Titles are words of their day: what is said of each check is not.
  const worth = (line: HandoverBody['checks'][number] | undefined) => canonicalize({ ...line, title: '' })
  for (const line of body.checks)
    if (worth(lines.get(line.check)) !== worth(line)) found.push(`its handover and its entries differ on "${line.title}"`)
  if (body.checks.length === lines.size && body.outcome !== outcomeOf(standings))
    found.push(`its handover says "${body.outcome}", and its entries say "${outcomeOf(standings)}"`)
  const signed = before.slice(-2).map(({ seq, by, body: b }) => ({ role: b.kind === 'signature' ? b.role : null, by, seq }))
  if (canonicalize(signed) !== canonicalize(body.signatures)) found.push('its handover names other signatures than its entries')
  return found
}

const auditPhotos = async (db: Database, job: string, named: ReadonlySet<string>): Promise<string[]> => {
  const rows = await db.select<{ sha256: Buffer; data: Buffer }>('SELECT sha256, data FROM photos WHERE job_id = $job', { job })
  const there = new Set(rows.map((row) => row.sha256.toString('hex')))
  return [
    ...rows
      .filter(({ sha256, data }) => !createHash('sha256').update(data).digest().equals(sha256))
      .map(({ sha256 }) => `photo ${sha256.toString('hex').slice(0, 12)} is another picture than the one that was kept`),
    ...[...named].filter((sha) => !there.has(sha)).map((sha) => `photo ${sha.slice(0, 12)} is gone`),
  ]
}
