import { makeWorld, type World } from '../../tests/world'
import { machineClock } from '../clock'
import { openDatabase, type Database } from '../database/database'
import { adopt } from './adopt'
import { openKeys } from './keys'
import { renewListings } from './renewListings'
import { shopOf } from './shop'

jest.setTimeout(60_000)
let world: World
let root: Database
beforeAll(async () => {
  world = await makeWorld()
  root = openDatabase(world.superuserUrl)
})
afterAll(async () => {
  await root.close()
  await world.end()
})

test('a record from before the seals is taken over as it is; what follows is sealed, and what was before cannot be bent', async () => {
  const ines = await world.signIn('ines')
  const [first, second] = [
    (await ines.post<{ id: string }>('/airframes/T-001/jobs')).body.id,
    (await ines.post<{ id: string }>('/airframes/T-002/jobs')).body.id,
  ]
  const knock = (job: string, cause: string) => ines.post(`/jobs/${job}/changes`, { change: { what: 'knock' }, cause })
  for (const job of [first, second]) await knock(job, 'before the seals')
  expect(
    (await ines.post(`/jobs/${first}/signatures`, { role: 'technician', login: 'ines', password: 'saltmarsh' })).status,
  ).toBe(201)
  expect((await ines.post(`/jobs/${first}/signatures`, { role: 'lead', login: 'maud', password: 'springtide' })).status).toBe(201)
  for (const sql of [
    'ALTER TABLE job_entries DISABLE TRIGGER ALL',
    'UPDATE job_entries SET seal = NULL, key_id = NULL',
    'ALTER TABLE job_entries ENABLE TRIGGER ALL',
    'ALTER TABLE shop_entries DISABLE TRIGGER ALL',
    'DELETE FROM shop_entries',
    'ALTER TABLE shop_entries ENABLE TRIGGER ALL',
    'UPDATE jobs SET listing = NULL',
  ])
    await root.sequelize.query(sql)
  expect((await world.audit()).length).toBeGreaterThan(5)

  const shop = shopOf(world.db, openKeys(world.keysFolder), machineClock)
  await renewListings(world.db)
  await adopt(world.db, shop)
  expect(await world.audit()).toEqual([])
  // Once it has begun it is never begun again.
  await adopt(world.db, shop)
  expect(await world.audit()).toEqual([])
  const [listed] = await world.db.select('SELECT 1 FROM jobs WHERE listing IS NULL')
  expect(listed).toBeUndefined()

  expect((await knock(second, 'after the seals')).status).toBe(201)
  expect(await world.audit()).toEqual([])
  const bend = async (sql: string) => {
    await root.sequelize.query('ALTER TABLE job_entries DISABLE TRIGGER ALL')
    await root.sequelize.query(sql)
    await root.sequelize.query('ALTER TABLE job_entries ENABLE TRIGGER ALL')
    return (await world.audit()).join('\n')
  }
  expect(await bend(`UPDATE job_entries SET seal = NULL, key_id = NULL WHERE job_id = '${second}' AND seq = 2`)).toContain(
    'entry 2 has no seal',
  )
  expect(await bend(`DELETE FROM job_entries WHERE job_id = '${second}' AND seq = 1`)).toContain(
    "the first 1 entries are not those that the shop's chain took over",
  )
})
