import { randomUUID } from 'node:crypto'
import type { Person } from '@taraf/contract'
import { localGravity } from '@taraf/core'
import { pino } from 'pino'
import { configFrom } from '../config'
import type { Database } from '../database'
import { jobsOf } from '../jobs/jobs'
import { Benches } from '../links/benches'
import { Notices } from '../live/notices'
import { addPerson, peopleOf } from '../people/people'
import { demoPlace, live } from './history'
import { benched, people, sheets, stories } from './world'

const firstDay = Date.UTC(2026, 7, 31, 7, 30)

/** Loads the demo's world and its history into an empty database; does nothing where there are people already. */
export const loadDemo = async (db: Database, url: string): Promise<void> => {
  if ((await db.people.count()) > 0) return
  let clock = firstDay
  const now = () => new Date(clock)
  const pass = (minutes: number) => void (clock += minutes * 60_000)

  const sheetIds = new Map<string, string>()
  for (const sheet of sheets) {
    const id = randomUUID()
    sheetIds.set(sheet.type, id)
    await db.sheets.create({ id, type: sheet.type, version: sheet.version, body: sheet })
  }
  const addAirframe = (tag: string, type: string, board: string) =>
    db.airframes.create({
      id: randomUUID(),
      tag,
      sheetId: sheetIds.get(type) ?? '',
      board,
      boardSettings: null,
      touchedAt: now(),
    })

  const staff: Person[] = []
  for (const { login, name, role, password } of people)
    staff.push({ id: await addPerson(db, { login, name, role, password }), login, name, role })
  const [ines, joren, maud] = staff
  if (ines === undefined || joren === undefined || maud === undefined) throw new Error('the demo lacks its staff')

  const log = pino({ level: 'silent' })
  const config = configFrom({ TARAF_DATABASE_URL: url, TARAF_SESSION_SECRET: 'not used while loading' })
  const notices = new Notices(db, url, log)
  const jobs = jobsOf(db, peopleOf(db), new Benches(db, config, notices, log), notices, now)
  const gravity = localGravity(demoPlace)
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
        { db, jobs, technician: count % 3 === 0 ? joren : ines, lead: maud, gravity, now, pass },
        { tag, board, seed: 100 + count },
        story,
      )
    }
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
