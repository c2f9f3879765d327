import { randomUUID } from 'node:crypto'
import type { Person } from '@taraf/contract'
import { batchNotes, benched, boardDefinitions, builtPartsOf, demoImages, demoShop, people, sheets, stories } from '@taraf/demo'
import { pino } from 'pino'
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
import { live } from './history'

const firstDay = Date.UTC(2026, 7, 31, 7, 30)

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
  const pass = (minutes: number) => void (clock += minutes * 60_000)
  const shopRecord = shopOf(db, openKeys(keysFolder), now)

  const sheetIds = new Map<string, string>()
  for (const sheet of sheets)
    sheetIds.set(sheet.type, await db.within((transaction) => addSheet(db, shopRecord, transaction, sheet, null)))
  let made = 0
  const addAirframe = async (tag: string, type: string, board: string) => {
    made += 1
    const airframe = { tag, sheetId: sheetIds.get(type) ?? '', board, parts: builtPartsOf(type, made) }
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
  const notices = new Notices(db, url, log)
  const cards = cardsOf(db, notices, shopRecord, now)
  const links = new Links(db, config, notices, new Servers(db, config, log), log)
  const benches = new Benches(db, config, links, notices)
  const known = peopleOf(db, passwords, triesOf(db), shopRecord)
  const jobs = jobsOf(db, known, benches, notices, cards, shopRecord, now)
  const shop = demoShop(now())
  let count = 0
  for (const [type, list] of Object.entries(stories))
    for (const [i, story] of list.entries()) {
      count += 1
      // A job card every other day, begun between half past seven and the early afternoon.
      clock = firstDay + (2 * count * 24 + (count % 6)) * 3_600_000
      const tag = `${type}-${String(i + 1).padStart(3, '0')}`
      const board = `FB-${1200 + count * 7}`
      await addAirframe(tag, type, board)
      await live(
        { db, jobs, cards, technician: count % 3 === 0 ? joren : ines, lead: maud, shop, now, pass },
        { tag, type, board, seed: 100 + count },
        story,
      )
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
  for (const { bench, name, tag, type, board } of benched) {
    await addAirframe(tag, type, board)
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
