import { createHash } from 'node:crypto'
import type { EntryBody, Finding } from '@taraf/contract'
import type { Transaction } from 'sequelize'
import sharp from 'sharp'
import { makeWorld, type Client, type World } from '../../../tests/world'
import { openDatabase, type Database } from '../../database/database'
import { canonicalText, linkHash } from '../chain'
import { packEvidence, unpackEvidence } from '../../files/packEvidence'
import { openKeys, openPublicKeys, wantKey, type Keys } from '../keys'
import { auditRecord } from './audit'

jest.setTimeout(120_000)
let world: World
let ines: Client
let root: Database
let keys: Keys
/** A card that is handed over, with a take and a photo; and one that is open, with a take. */
let handedOver: string
let open: string

beforeAll(async () => {
  world = await makeWorld({ withBoard: true })
  root = openDatabase(world.superuserUrl)
  keys = openKeys(world.keysFolder)
  ines = await world.signIn('ines')
  open = await ines.begin('T-002', world.benches.faulty)
  await ines.take(open, 'sensors.gyroRest')
  handedOver = await ines.begin('T-001', world.benches.sound)
  await ines.take(handedOver, 'sensors.gyroRest')
  const picture = await sharp({ create: { width: 40, height: 30, channels: 3, background: '#456' } })
    .png()
    .toBuffer()
  const { sha256 } = (await ines.upload<{ sha256: string }>(`/jobs/${handedOver}/photos`, picture)).body
  const observations = [{ segment: 'list', item: 'incoming', answer: true, photo: sha256 }]
  const asked = await ines.post(`/jobs/${handedOver}/takes`, { check: 'intake.incoming', observations })
  if (asked.status >= 300) throw new Error(JSON.stringify(asked.body))
  expect(
    (await ines.post(`/jobs/${handedOver}/signatures`, { role: 'technician', login: 'ines', password: 'saltmarsh' })).status,
  ).toBe(201)
  expect(
    (await ines.post(`/jobs/${handedOver}/signatures`, { role: 'lead', login: 'maud', password: 'springtide' })).status,
  ).toBe(201)
})
afterAll(async () => {
  await root.close()
  await world.end()
})

const tables = ['jobs', 'job_entries', 'evidence', 'photos', 'sheets', 'shop_entries', 'airframes', 'people']

/** What an audit finds after somebody who may do everything in the database did this; it is undone afterwards. */
const after = async (
  tamper: (sql: (text: string, bind?: Record<string, unknown>) => Promise<unknown>, transaction: Transaction) => Promise<unknown>,
) => {
  const undone = new Error('undone')
  let found = ''
  await root
    .within(async (transaction) => {
      const sql = (text: string, bind: Record<string, unknown> = {}) => root.sequelize.query(text, { bind, transaction })
      for (const table of tables) await sql(`ALTER TABLE ${table} DISABLE TRIGGER ALL`)
      await tamper(sql, transaction)
      for (const table of tables) await sql(`ALTER TABLE ${table} ENABLE TRIGGER ALL`)
      const within = { ...root, select: (text: string, bind = {}) => root.select(text, bind, transaction) } as typeof root
      found = (await auditRecord(within, openPublicKeys(world.keysFolder))).differences.join('\n')
      throw undone
    })
    .catch((error: unknown) => {
      if (error !== undone) throw error
    })
  return found
}

/** Puts a link behind the head of a card, as somebody does who knows how chains are made; sealed only where they have the key. */
const forge = async (transaction: Transaction, job: string, body: EntryBody, by: string, sealed: boolean, evidence?: Buffer) => {
  const [head] = await root.select<{ seq: number; hash: Buffer }>(
    'SELECT seq, hash FROM job_entries WHERE job_id = $job ORDER BY seq DESC LIMIT 1',
    { job },
    transaction,
  )
  if (head === undefined) throw new Error('the card is empty')
  const seq = head.seq + 1
  const canonical = canonicalText({ format: 2, job, seq, at: new Date().toISOString(), by, body })
  const hash = linkHash(head.hash, canonical)
  const seal = sealed ? keys.seal('card', hash) : { ...keys.seal('card', hash), seal: Buffer.alloc(64, 7) }
  await root.jobEntries.create(
    { jobId: job, seq, canonical, prevHash: head.hash, hash, requestKey: null, ...seal },
    { transaction, returning: false },
  )
  if (evidence !== undefined)
    await root.evidence.create(
      { jobId: job, seq, data: evidence, sha256: createHash('sha256').update(evidence).digest() },
      { transaction },
    )
  await root.jobs.update({ length: seq }, { where: { id: job }, transaction })
}
const takeOf = (more: Partial<Extract<EntryBody, { kind: 'take' }>>): EntryBody => ({
  kind: 'take',
  check: 'sensors.gyroRest',
  checkVersion: 2,
  began: 1,
  verdict: 'pass',
  findings: [],
  evidenceSha256: null,
  bench: 'North',
  board: 'TB-2',
  ...more,
})
const evidenceOf = async (transaction: Transaction): Promise<{ data: Buffer; entry: Extract<EntryBody, { kind: 'take' }> }> => {
  const [row] = await root.select<{ data: Buffer; body: { body: Extract<EntryBody, { kind: 'take' }> } }>(
    `SELECT v.data, e.body FROM evidence v JOIN job_entries e USING (job_id, seq)
     WHERE v.job_id = $open AND e.body->'body'->>'check' = 'sensors.gyroRest' ORDER BY v.seq DESC LIMIT 1`,
    { open },
    transaction,
  )
  if (row === undefined) throw new Error('no evidence')
  return { data: row.data, entry: row.body.body }
}

test('a record that nobody bent is whole', async () => {
  expect(await world.audit()).toEqual([])
})

test.each([
  [
    'two cards that changed their airframes',
    `ALTER TABLE jobs DROP CONSTRAINT jobs_airframe_id_number_key; UPDATE jobs SET airframe_id = CASE id WHEN '{open}' THEN (SELECT airframe_id FROM jobs WHERE id = '{done}') ELSE (SELECT airframe_id FROM jobs WHERE id = '{open}') END`,
    ['its airframe is'],
  ],
  [
    'another build sheet on a card',
    `WITH other AS (INSERT INTO sheets (id, type, version, body) SELECT gen_random_uuid(), 'Q9', 1, body || '{"type":"Q9","version":1}' FROM sheets LIMIT 1 RETURNING id) UPDATE jobs SET sheet_id = (SELECT id FROM other) WHERE id = '{open}'`,
    ['its build sheet is', "Q9 version 1 is not on the shop's chain"],
  ],
  [
    'a build sheet with other contents',
    `UPDATE sheets SET body = body || '{"title":"Other"}'`,
    ["contents is not as the shop's chain says", 'judged by another build sheet'],
  ],
  ['another tag', `UPDATE airframes SET tag = 'T-009' WHERE tag = 'T-001'`, ['airframe T-001: tag is T-009']],
  [
    'another board',
    `UPDATE airframes SET board = 'TB-9' WHERE tag = 'T-001'`,
    ['airframe T-001: board is TB-9, and TB-1 by the record'],
  ],
  ["another person's name", `UPDATE people SET name = 'Ivo' WHERE login = 'ines'`, ['person Ines: name is Ivo']],
  ['another role', `UPDATE people SET role = 'lead' WHERE login = 'ines'`, ['person Ines: role is lead']],
  [
    'another password',
    `UPDATE people SET password_hash = '$' || 'argon2id$other' WHERE login = 'maud'`,
    ['person Maud: password is not'],
  ],
  [
    'a person from nowhere',
    `INSERT INTO people (id, login, name, role, password_hash) VALUES (gen_random_uuid(), 'ghost', 'Ghost', 'lead', 'x')`,
    ["person Ghost is not on the shop's chain"],
  ],
  [
    'a bent overall',
    `UPDATE jobs SET overall = 'passed' WHERE id = '{done}'`,
    ['its outcome is passed', 'it is listed as "passed"'],
  ],
  [
    'bent standings',
    `UPDATE jobs SET standings = standings || '{"sensors.gyroRest":{"state":"pass","take":1}}' WHERE id = '{open}'`,
    ['its list of checks differs from its entries'],
  ],
  [
    'a card that is open again',
    `UPDATE jobs SET closed_at = NULL WHERE id = '{done}'`,
    ['it is handed over, and not closed then'],
  ],
  [
    'another opener',
    `UPDATE jobs SET opened_by = (SELECT id FROM people WHERE login = 'maud') WHERE id = '{open}'`,
    ['who opened it'],
  ],
  ['a photo that was replaced', `UPDATE photos SET data = '\\x01', sha256 = sha256('\\x01')`, ['photo', 'is gone']],
  ['a photo that is gone', `DELETE FROM photos`, ['is gone']],
  [
    'evidence that was replaced',
    `UPDATE evidence SET data = '\\x01', sha256 = sha256('\\x01') WHERE job_id = '{open}'`,
    ['has evidence with another hash'],
  ],
  ['evidence that is gone', `DELETE FROM evidence WHERE job_id = '{open}'`, ['lacks its evidence']],
  [
    'an entry that was edited',
    `UPDATE job_entries SET canonical = replace(canonical, '"verdict":"fail"', '"verdict":"pass"') WHERE job_id = '{open}'`,
    ['was changed: its text has another hash'],
  ],
  [
    'a tail that was cut off',
    `DELETE FROM job_entries WHERE job_id = '{done}' AND seq = (SELECT max(seq) FROM job_entries WHERE job_id = '{done}')`,
    ['entries where', "its handover is not the one that the shop's chain names"],
  ],
  [
    'a card that is gone',
    `WITH e AS (DELETE FROM evidence WHERE job_id = '{done}'), p AS (DELETE FROM photos WHERE job_id = '{done}'), j AS (DELETE FROM job_entries WHERE job_id = '{done}') DELETE FROM jobs WHERE id = '{done}'`,
    ['job card 1 of T-001 is gone'],
  ],
  ['an airframe that is gone', `DELETE FROM airframes WHERE tag = 'T-002'`, ['airframe T-002 is gone']],
  [
    'an entry of the shop that is gone',
    `DELETE FROM shop_entries WHERE no = 2`,
    ['of the shop stands where entry 2 is wanted', 'does not follow'],
  ],
  [
    "the end of the shop's chain",
    `DELETE FROM shop_entries WHERE no >= (SELECT min(no) FROM shop_entries WHERE body->>'kind' = 'opened')`,
    ["it is not on the shop's chain"],
  ],
])('%s: found', async (_what, text, words) => {
  const found = await after((sql) => sql(text.replaceAll('{open}', open).replaceAll('{done}', handedOver)))
  for (const word of words) expect(found).toContain(word)
})

test('a pass without evidence, with or without the key: found', async () => {
  expect(await after((_, t) => forge(t, open, takeOf({}), world.ids.ines, false))).toContain('has a forged seal')
  expect(await after((_, t) => forge(t, open, takeOf({}), world.ids.ines, true))).toContain('says "pass" without evidence')
})

test('a pass whose evidence fails, and a finding that the evidence does not give: found, even with the key', async () => {
  const found = await after(async (_, t) => {
    const { data, entry } = await evidenceOf(t)
    const findings: Finding[] = entry.findings.map(({ remedy: _r, ...f }) => ({ ...f, verdict: 'pass' as const }))
    await forge(t, open, { ...entry, verdict: 'pass', findings }, world.ids.ines, true, data)
  })
  expect(found).toContain('says "pass", and its evidence says "fail"')
  const bent = await after(async (_, t) => {
    const { data, entry } = await evidenceOf(t)
    const [first, ...rest] = entry.findings
    await forge(t, open, { ...entry, findings: [{ ...(first as Finding), value: 0.01 }, ...rest] }, world.ids.ines, true, data)
  })
  expect(bent).toContain('has other findings than its evidence')
})

test("evidence that another sheet's limits judge: found", async () => {
  const found = await after(async (_, t) => {
    const { data, entry } = await evidenceOf(t)
    const evidence = unpackEvidence(data)
    const packed = packEvidence({
      ...evidence,
      sheet: { ...evidence.sheet, limits: { 'sensors.gyroRest.mean': { max: 99, reason: 'wider' } } },
    })
    await forge(t, open, { ...entry, evidenceSha256: packed.sha256.toString('hex') }, world.ids.ines, true, packed.data)
  })
  expect(found).toContain('judged by another build sheet')
})

test('signatures over another head, by somebody who may not, or without a technician: found', async () => {
  const over = 'ab'.repeat(32)
  const forged = (by: string, role: 'technician' | 'lead', sealed: boolean) =>
    after((_, t) => forge(t, open, { kind: 'signature', role, over }, by, sealed))
  expect(await forged(world.ids.ines, 'technician', false)).toContain('has a forged seal')
  expect(await forged(world.ids.ines, 'technician', true)).toContain('signs another head')
  expect(await forged(world.ids.ines, 'lead', true)).toContain('is signed as lead by somebody who was technician')
  expect(await forged(world.ids.piet, 'technician', true)).toContain('is signed as technician by somebody who was reader')
  expect(await forged(world.ids.maud, 'lead', true)).toContain('without the signature of another technician')
})

test("a handover whose words are not the card's: found, and one that the shop does not know of", async () => {
  const found = await after((_, t) =>
    forge(
      t,
      open,
      {
        kind: 'handover',
        outcome: 'pass',
        airframe: { tag: 'T-001', board: 'TB-2', sheetType: 'N4', sheetVersion: 1 },
        checks: [{ check: 'sensors.gyroRest', title: 'Gyro', state: 'pass', take: 1 }],
        signatures: [
          { role: 'technician', by: world.ids.ines, seq: 1 },
          { role: 'lead', by: world.ids.maud, seq: 2 },
        ],
      },
      world.ids.maud,
      true,
    ),
  )
  for (const words of [
    'its handover names T-001',
    'its handover and its entries differ on',
    'names other signatures',
    "the shop's chain does not say so",
  ])
    expect(found).toContain(words)
})

test('keys are changed in time; what an older one sealed stays whole, and a key of somebody else is none', async () => {
  const later = new Date(Date.now() + 91 * 24 * 3_600_000)
  wantKey(world.keysFolder, later)
  const next = openKeys(world.keysFolder)
  const hash = Buffer.alloc(32, 3)
  expect(next.seal('card', hash).keyId).not.toBe(keys.seal('card', hash).keyId)
  expect(await world.audit()).toEqual([])
  expect(next.wrongWith('card', hash, next.seal('shop', hash))).toBe('has a forged seal')
  expect(next.wrongWith('card', hash, { ...next.seal('card', hash), keyId: 'other' })).toContain("none of this shop's")
  expect(next.wrongWith('card', hash, { keyId: null, seal: null })).toBe('has no seal')
})
