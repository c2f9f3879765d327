import { randomUUID } from 'node:crypto'
import type { Person, Segment } from '@taraf/contract'
import { checks, documentOf, evaluate, openItems, questionsOf, radians, type Check } from '@taraf/core'
import { captureFrom, demoPlace, lookAt, markOf, rigOf, type RigOrder, type Story } from '@taraf/demo'
import { answererOf, handsOf, randomFrom, type Random, type Rig, type Shop } from '@taraf/rig'
import type { Database } from '../database'
import type { Jobs } from '../jobs/jobs'
import { sign } from '../jobs/sign'
import { recordSettings } from '../links/boardWatch'
import { valuesOf } from '../links/writeSettings'
import { packEvidence, storeEvidence } from '../takes/evidenceStore'

export interface HistoryOf {
  readonly db: Database
  readonly jobs: Jobs
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
  const { db, jobs, technician, lead, pass } = history
  const random = randomFrom(airframe.seed)
  const rig = rigOf({ ...airframe, spoil: spoilFor(story, random) }, { ...history.shop })
  const job = await jobs.open(airframe.tag, technician)
  if (story === 'open') return
  await jobs.change(
    job,
    async (locked) =>
      void (await recordSettings(db, locked, technician.id, valuesOf(rig.board.settings.list()), { cause: 'first seen' })),
  )
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
    await jobs.change(job, (locked) =>
      locked.append(technician.id, {
        kind: 'change',
        change: { what: 'act', act: 'knock' },
        cause: 'Slid off the trolley on the way to the rack.',
      }),
    )
  if (story !== 'passed' && story !== 'failed') return
  await putBack(history, job)
  pass(25)
  await jobs.change(job, (locked) => sign(locked, 'technician', technician, randomUUID()))
  pass(10)
  await jobs.change(job, (locked) => sign(locked, 'lead', lead, randomUUID()))
}

/** Closes whatever the stations left to be put back. */
const putBack = ({ jobs, technician }: HistoryOf, job: string): Promise<void> =>
  jobs.change(job, async (locked) => {
    for (const { seq } of openItems(locked.entries))
      await locked.append(technician.id, { kind: 'closed', item: seq, words: 'Done, looked at twice.' })
  })

/** Ordinary spread, now and then with a fault that a remedy mends; with one that stays where the story fails. */
const spoilFor =
  (story: Story, random: Random): RigOrder['spoil'] =>
  ({ imu, board, shop }) => {
    const spread = (deg: number) => radians(random.spread(deg))
    if (random.uniform() < 0.3) imu.gyroBias = [imu.gyroBias[0], imu.gyroBias[1], radians(0.9)]
    if (random.uniform() < 0.3) board.seating = { ...board.seating, roll: radians(1.6) }
    shop.plate = { roll: spread(0.4), pitch: spread(0.4) }
    if (story === 'fail' || story === 'failed') Object.assign(board, { screws: 'loose', looseShake: [radians(0.7), 0, 0] })
  }

const takeOn = async ({ db, jobs, technician, now }: HistoryOf, job: string, rig: Rig, board: string, check: Check) => {
  const { sheet, tag, parts } = await jobs.view(job)
  const airframe = { tag, board, parts }
  const questions = questionsOf(check, sheet)
  const documentFrom = (segments: Segment[]) =>
    documentOf(check, {
      at: now(),
      place: demoPlace,
      sheet,
      airframe,
      settings: valuesOf(rig.board.settings.list()),
      segments,
      observations:
        questions === null
          ? check.capture.segments.flatMap((s) => markOf(s, handsOf(rig).antenna))
          : lookAt(questions, handsOf(rig), airframe),
    })
  const segments: Segment[] = []
  for (const segment of check.capture.segments) {
    const decided = (soFar: Segment) => evaluate(check, documentFrom([...segments, soFar])).verdict !== 'refused'
    segments.push(
      questions === null
        ? captureFrom(rig, check.capture.stage, segment, { ask: answererOf(rig), decided })
        : { label: segment.label, streams: {} },
    )
  }
  const document = documentFrom(segments)
  const { verdict, findings } = evaluate(check, document)
  const packed = packEvidence(document)
  await jobs.change(job, async (locked) => {
    const entry = await locked.append(technician.id, {
      kind: 'take',
      check: check.id,
      checkVersion: check.version,
      verdict,
      findings,
      evidenceSha256: packed.sha256.toString('hex'),
      bench: 'North bench',
      board,
    })
    await storeEvidence(db, locked.transaction, job, entry.seq, packed)
  })
  return verdict
}

/** Does what the newest take's remedies say, as far as a board can be told. */
const remedyOn = async ({ db, jobs, technician }: HistoryOf, job: string, rig: Rig): Promise<void> => {
  const { entries } = await jobs.view(job)
  const take = entries.at(-1)
  if (take?.body.kind !== 'take') return
  const remedy = take.body.findings.find((f) => f.verdict === 'fail' && f.remedy !== undefined)?.remedy
  if (remedy?.settings !== undefined) rig.board.settings.write(remedy.settings)
  if (remedy?.calibrate !== undefined) {
    rig.board.beginCalibration()
    while (rig.board.calibrationResult() === null) rig.step('raw')
  }
  rig.board.settings.save()
  const why = { cause: `Remedy of take ${take.seq}.`, remedyOf: { seq: take.seq, act: remedy?.act ?? 'none' } }
  await jobs.change(
    job,
    async (locked) => void (await recordSettings(db, locked, technician.id, valuesOf(rig.board.settings.list()), why)),
  )
}
