import { randomUUID } from 'node:crypto'
import type { Change, Entry, Person, Remedy } from '@taraf/contract'
import { checks, flownWith, openItems, radians, transmitterSettingsOf, wantsHovers, type Check, type Written } from '@taraf/core'
import { changeSettings, choicesOf, valuesOf, type SettingsAct } from '@taraf/core/atLink'
import { atTransmitter, demoPlace, lookAt, onLink, rigOf, takeOnRig, type RigOrder, type Story } from '@taraf/demo'
import { actOn, handsOf, randomFrom, type Random, type Rig, type Shop } from '@taraf/rig'
import type { Database } from '../database/database'
import type { Jobs } from '../jobs/jobs'
import { sign } from '../jobs/sign'
import type { Cards } from '../record/cards'
import { packEvidence } from '../files/packEvidence'
import { keepTake } from '../record/keepTake'
import { hoversOf } from '../takes/hovers'
import { foundChanged, recordRuns, recordSettings } from '../record/recordSettings'

export interface HistoryOf {
  readonly db: Database
  readonly jobs: Jobs
  readonly cards: Cards
  readonly technician: Person
  readonly lead: Person
  readonly shop: Shop
  readonly now: () => Date
  /** Lets the history's clock run on. */
  readonly pass: (minutes: number) => void
}

/** Lives an airframe's job card through on a simulated bench, with the real checks, up to where its story ends. */
export const live = async (
  history: HistoryOf,
  airframe: { tag: string; type: string; board: string; seed: number },
  story: Story,
): Promise<void> => {
  if (story === 'none') return
  const { db, jobs, cards, technician, lead, pass } = history
  const random = randomFrom(airframe.seed)
  const rig = rigOf({ ...airframe, spoil: spoilFor(story, random) }, { ...history.shop })
  const job = await jobs.open(airframe.tag, technician)
  if (story === 'open') return
  const { firmware } = rig.board.identity
  await cards.change(job, async (locked) => {
    await recordSettings(db, locked, technician.id, valuesOf(rig.board.settings.list()), { cause: foundChanged })
    if (firmware !== null) await recordRuns(db, locked, technician.id, firmware, { cause: foundChanged })
  })
  const { sheet } = await jobs.view(job)
  for (const check of checks.filter((c) => c.appliesTo(sheet))) {
    const verdict = await takeOn(history, job, rig, airframe.board, check)
    pass(6)
    if (verdict === 'pass') continue
    if (story === 'fail' || story === 'failed') break
    await remedyOn(history, job, rig)
    pass(3)
    await takeOn(history, job, rig, airframe.board, check)
    pass(4)
  }
  if (story === 'stale')
    await cards.change(job, (locked) =>
      locked.append(technician.id, {
        kind: 'change',
        change: { what: 'knock' },
        cause: 'Slid off the trolley on the way to the rack.',
      }),
    )
  if (story !== 'passed' && story !== 'failed') return
  await putBack(history, job)
  pass(25)
  await cards.change(job, (locked) => sign(locked, 'technician', technician, randomUUID()))
  pass(10)
  await cards.change(job, (locked) => sign(locked, 'lead', lead, randomUUID()))
}

/** Closes whatever the stations left to be put back. */
const putBack = ({ cards, technician }: HistoryOf, job: string): Promise<void> =>
  cards.change(job, async (locked) => {
    for (const { seq } of openItems(locked.entries))
      await locked.append(technician.id, { kind: 'closed', item: seq, words: 'Done, looked at twice.' })
  })

/** Ordinary spread, now and then with a fault that a remedy mends; with one that stays where the story fails. */
const spoilFor =
  (story: Story, random: Random): RigOrder['spoil'] =>
  ({ imu, board, shop, transmitter }) => {
    const spread = (deg: number) => radians(random.spread(deg))
    if (random.uniform() < 0.3) imu.gyroBias = [imu.gyroBias[0], imu.gyroBias[1], radians(0.9)]
    if (random.uniform() < 0.3) board.seating = { ...board.seating, roll: radians(1.6) }
    if (random.uniform() < 0.25) Object.assign(transmitter.channels[3] ?? {}, { travelLow: 80 })
    shop.plate = { roll: spread(0.4), pitch: spread(0.4) }
    if (story === 'fail' || story === 'failed') Object.assign(board, { screws: 'loose', looseShake: [radians(0.7), 0, 0] })
  }

const takeOn = async ({ db, jobs, cards, technician, now }: HistoryOf, job: string, rig: Rig, board: string, check: Check) => {
  const { sheet, tag, parts, entries } = await jobs.view(job)
  const airframe = { tag, board, parts }
  const list = rig.board.settings.list()
  const given = {
    at: now(),
    place: demoPlace,
    sheet,
    airframe,
    hovers: wantsHovers(check) ? await hoversOf(db, job, sheet) : [],
    settings: valuesOf(list),
    choices: choicesOf(list),
  }
  const writes: Written[] = []
  const changes: Change[] = []
  const { evidence, verdict, findings } = takeOnRig(rig, check, given, {
    answer: ({ questions }, felt) => lookAt(questions, handsOf(rig), airframe, felt),
    wrote: (written) => void writes.push(written),
    wroteEscs: (change) => void changes.push(change),
  })
  const packed = packEvidence(evidence)
  await cards.change(job, async (locked) => {
    for (const { after } of writes)
      await recordSettings(db, locked, technician.id, after, {
        cause: `Written in the take of "${check.title}" that follows.`,
        within: check.id,
      })
    for (const change of changes)
      await locked.append(technician.id, {
        kind: 'change',
        change,
        cause: `Written in the take of "${check.title}" that follows.`,
        within: check.id,
      })
    const take = { check, began: entries.length, by: technician.id, verdict, findings, evidence: null, packed }
    await keepTake(db, locked, { ...take, bench: 'North bench', board, requestKey: null })
  })
  return verdict
}

/** Does what the newest take's remedies say, as far as a board can be told. */
const remedyOn = async ({ db, jobs, cards, technician }: HistoryOf, job: string, rig: Rig): Promise<void> => {
  const { entries } = await jobs.view(job)
  const take = entries.at(-1)
  if (take?.body.kind !== 'take') return
  const remedy = take.body.findings.find((f) => f.verdict === 'fail' && f.remedy !== undefined)?.remedy
  if (remedy?.by === 'transmitter') {
    const change = setOnTransmitter(rig, entries, remedy)
    const body = { kind: 'change', change, cause: `Remedy of take ${take.seq}.` } as const
    await cards.change(job, async (locked) => void (await locked.append(technician.id, body)))
    return
  }
  if (remedy?.by !== 'settings' && remedy?.by !== 'calibration') return
  const act: SettingsAct =
    remedy.by === 'settings' ? { do: 'write', settings: remedy.settings } : { do: 'calibrate', sensor: remedy.calibrate }
  const written = onLink(rig, changeSettings(act))
  if ('why' in written) throw new Error(written.why)
  const why = { cause: `Remedy of take ${take.seq}.`, remedyOf: { seq: take.seq, act: remedy.act } }
  await cards.change(job, async (locked) => void (await recordSettings(db, locked, technician.id, written.after, why)))
}

/** Sets on the transmitter what a remedy says, and tells it as it is recorded. */
const setOnTransmitter = (rig: Rig, entries: readonly Entry[], remedy: Extract<Remedy, { by: 'transmitter' }>): Change => {
  const { channels } = handsOf(rig).transmitter
  const set = transmitterSettingsOf(remedy.transmitter, (channel, name) => {
    const now = channels[channel - 1]
    return name === 'travelLow' || name === 'travelHigh' ? (now?.[name] ?? null) : null
  })
  for (const one of remedy.transmitter) actOn(rig, atTransmitter(handsOf(rig).transmitter, one))
  const named = entries.map(({ body }) => flownWith(body)).findLast((found) => found !== null)
  return {
    what: 'transmitter',
    words: remedy.act,
    set,
    ...(named == null ? {} : { transmitter: named.transmitter, model: named.model }),
  }
}
