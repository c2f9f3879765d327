import { writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { makeWorld, type World } from '../../../tests/world'
import made from '../../database/guards.json'
import { auditGuards, guardsOf } from './auditGuards'
import { openDatabase } from '../../database/database'

jest.setTimeout(60_000)
let world: World
beforeAll(async () => void (world = await makeWorld()))
afterAll(() => world.end())

test('the list of guards is what the migrations make; after a new migration: TARAF_GUARDS=write npm run test:server', async () => {
  const found = await guardsOf(world.db)
  if (process.env.TARAF_GUARDS === 'write')
    writeFileSync(join(__dirname, '../../database/guards.json'), `${JSON.stringify(found, null, 2)}\n`)
  else expect(found).toEqual(made)
})

test.each([
  ['DROP TRIGGER append_only ON job_entries', 'the database lacks a guard: trigger append_only'],
  ['ALTER TABLE evidence DISABLE TRIGGER append_only', 'has what no migration made: trigger append_only is D'],
  ['ALTER TABLE job_entries DISABLE TRIGGER ALL', 'of the checks between tables of job_entries'],
  [
    `CREATE OR REPLACE FUNCTION refuse_rewrite() RETURNS trigger LANGUAGE plpgsql AS 'BEGIN RETURN NULL; END'`,
    'lacks a guard: function refuse_rewrite',
  ],
  ['GRANT UPDATE ON job_entries TO taraf_server', 'right UPDATE on job_entries of taraf_server'],
  ['GRANT UPDATE (canonical) ON job_entries TO taraf_server', 'right UPDATE on column job_entries.canonical'],
  ['ALTER TABLE photos DROP CONSTRAINT photos_check', 'lacks a guard: constraint photos_check'],
  ['CREATE RULE quietly AS ON INSERT TO job_entries DO INSTEAD NOTHING', 'rule quietly on job_entries'],
])('%s is found', async (sql, words) => {
  const root = openDatabase(world.superuserUrl)
  const undone = new Error('undone')
  await root
    .within(async (transaction) => {
      await root.sequelize.query(sql, { transaction })
      const within = { ...root, select: (text: string) => root.select(text, {}, transaction) } as typeof root
      expect((await auditGuards(within)).join('\n')).toContain(words)
      throw undone
    })
    .catch((error: unknown) => {
      if (error !== undone) throw error
    })
  await root.close()
})
