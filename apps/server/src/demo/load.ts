import { randomUUID } from 'node:crypto'
import type { Person } from '@taraf/contract'
import { batchNotes, benched, boardDefinitions, builtPartsOf, demoImages, people, sheets, stories } from '@taraf/demo'
import { pino } from 'pino'
import { machineClock } from '../clock'
import { machinePorts } from '../ports'
import { configFrom } from '../config'
import type { Database } from '../database/database'
import { writeNote } from '../batch/notes'
import { keepImage } from '../images/images'
import { jobsOf } from '../jobs/jobs'
import { Benches } from '../benches/benches'
import { Links } from '../links/links'
import { cardsOf } from '../record/cards'
import { Notices } from '../database/notices'
import { addAirframes } from '../airframes/register'
import { Servers } from '../links/servers'
import { addPerson, peopleOf } from '../people/people'
import { triesOf } from '../people/tries'
import { openKeys } from '../record/keys'
import { shopOf } from '../record/shop'
import { addSheet } from '../sheets/sheets'
import { openWork, type Work } from '../work/work'
import { record } from './history'
import type { LifeOrder } from './life'
import { livesOf } from './lives'

const firstDay = Date.UTC(2026, 7, 31, 7, 30)
const hours = 3_600_000

/** The airframes with a history, in the order of their cards: one every other day, begun between half past seven and the early afternoon. */
const ordersOf = (): LifeOrder[] =>
  Object.entries(stories)
    .flatMap(([type, list]) => list.map((story, i) => ({ type, story, tag: `${type}-${String(i + 1).padStart(3, '0')}` })))
    .map(({ type, story, tag }, i) => {
      const count = i + 1
      const atMs = firstDay + (2 * count * 24 + (count % 6)) * hours
      return { tag, type, story, board: `FB-${1200 + count * 7}`, seed: 100 + count, parts: builtPartsOf(type, count), atMs }
    })

/** Loads the demo's world and its history into an empty database; does nothing where there are people already. */
export const loadDemo = async (db: Database, url: string, keysFolder: string): Promise<void> => {
  if ((await db.people.count()) > 0) return
  const work = openWork()
  try {
    await load(db, url, keysFolder, work)
  } finally {
    await work.close()
  }
}

const load = async (db: Database, url: string, keysFolder: string, { passwords, files }: Work): Promise<void> => {
  let clock = firstDay
  const now = () => new Date(clock)
  // What takes its time is begun first, beside all else.
  const orders = ordersOf()
  const lives = livesOf(orders, now())
  const shopRecord = shopOf(db, openKeys(keysFolder), { date: now })

  const sheetIds = new Map<string, string>()
  for (const sheet of sheets)
    sheetIds.set(sheet.type, await db.within((transaction) => addSheet(db, shopRecord, transaction, sheet, null)))
  const addAirframe = async ({ tag, type, board, parts }: Pick<LifeOrder, 'tag' | 'type' | 'board' | 'parts'>) => {
    const airframe = { tag, sheetId: sheetIds.get(type) ?? '', board, parts: [...parts] }
    await db.within((transaction) => addAirframes(db, shopRecord, transaction, null, [airframe], { touchedAt: now() }))
  }

  const staff: Person[] = []
  for (const { login, name, role, password } of people) {
    const person = { login, name, role, password }
    const id = await db.within((transaction) => addPerson(db, shopRecord, passwords, transaction, person))
    staff.push({ id, login, name, role })
  }
  const [ines, joren, maud] = staff
  if (ines === undefined || joren === undefined || maud === undefined) throw new Error('the demo lacks its staff')

  const log = pino({ level: 'silent' })
  const config = configFrom({ TARAF_DATABASE_URL: url, TARAF_SESSION_SECRET: 'not used while loading', TARAF_KEYS: keysFolder })
  const notices = new Notices(db, url, undefined, machineClock, log)
  const cards = cardsOf(db, notices, shopRecord)
  const links = new Links(db, config, notices, new Servers(db, config, machineClock, log), machinePorts.dial, machineClock, log)
  const benches = new Benches(db, config, links, notices)
  const known = peopleOf(db, passwords, triesOf(db), shopRecord)
  const jobs = jobsOf(db, known, benches, notices, cards, shopRecord)
  for (const [i, order] of orders.entries()) {
    const at = (ms: number) => void (clock = ms)
    at(order.atMs)
    await addAirframe(order)
    const technician = (i + 1) % 3 === 0 ? joren : ines
    const deeds = lives.get(order.tag)
    if (deeds === undefined) throw new Error(`nobody lives ${order.tag} through`)
    await record({ db, jobs, cards, technician, lead: maud, at }, order, deeds)
  }
  for (const { name, hex } of demoImages()) await keepImage(db, files, name, Buffer.from(hex), maud)
  const { target, version, settings } = boardDefinitions(now())
  await db.sequelize.query(
    'INSERT INTO board_settings (target, version, settings) VALUES ($target, $version, $settings::jsonb)',
    {
      bind: { target, version, settings: JSON.stringify(settings) },
    },
  )
  for (const [i, note] of batchNotes.entries()) await writeNote(db, cards, note, maud, `demo ${i}`)
  for (const [i, { bench, name, tag, type, board }] of benched.entries()) {
    await addAirframe({ tag, type, board, parts: builtPartsOf(type, orders.length + i + 1) })
    await db.benches.create({
      id: randomUUID(),
      name,
      address: `rig:${bench}`,
      heldBy: null,
      heldJob: null,
      heldSince: null,
      serverId: null,
      leaseUntil: null,
    })
  }
}
