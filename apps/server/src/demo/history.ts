import { randomUUID } from 'node:crypto'
import { senseColumns, type Person, type Segment, type SenseColumn } from '@taraf/contract'
import { checks, evaluate, radians, type Check } from '@taraf/core'
import { demoRig, randomFrom, stepS, type Random, type Rig, type RigFaults } from '@taraf/rig'
import type { Database } from '../database'
import type { Jobs } from '../jobs/jobs'
import { sign } from '../jobs/sign'
import { recordSettings } from '../links/boardWatch'
import { valuesOf } from '../links/writeSettings'
import { documentOf } from '../takes/documentOf'
import { packEvidence, storeEvidence } from '../takes/evidenceStore'
import type { Story } from './world'

/** Where the demo's workshop stands: somewhere on a tidal coast. */
export const demoPlace = { lat: 54.2, lon: 7.9, heightM: 4 }

export interface HistoryOf {
  readonly db: Database
  readonly jobs: Jobs
  readonly technician: Person
  readonly lead: Person
  readonly gravity: number
  readonly now: () => Date
  /** Lets the history's clock run on. */
  readonly pass: (minutes: number) => void
}

/** Lives an airframe's job card through on a simulated bench, with the real checks, up to where its story ends. */
export const live = async (
  history: HistoryOf,
  airframe: { tag: string; board: string; seed: number },
  story: Story,
): Promise<void> => {
  if (story === 'none') return
  const { db, jobs, technician, lead, pass } = history
  const random = randomFrom(airframe.seed)
  const rig = demoRig(airframe.board, faultsFor(story, random), airframe.seed, history.gravity)
  const job = await jobs.open(airframe.tag, technician)
  if (story === 'open') return
  await jobs.change(
    job,
    async (locked) => void (await recordSettings(db, locked, technician.id, valuesOf(rig.list()), { cause: 'first seen' })),
  )
  for (const check of checks) {
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
  pass(25)
  await jobs.change(job, (locked) => sign(locked, 'technician', technician, randomUUID()))
  pass(10)
  await jobs.change(job, (locked) => sign(locked, 'lead', lead, randomUUID()))
}

/** Ordinary spread, now and then with a fault that a remedy mends; with one that stays where the story fails. */
const faultsFor = (story: Story, random: Random): Partial<RigFaults> => {
  const spread = (deg: number) => radians(deg) * random.normal()
  const failing = story === 'fail' || story === 'failed'
  return {
    gyroBias: [spread(0.05), spread(0.05), random.uniform() < 0.3 ? radians(0.9) : spread(0.05)],
    seating: { roll: random.uniform() < 0.3 ? radians(1.6) : spread(0.08), pitch: spread(0.08), yaw: spread(0.4) },
    plate: { roll: spread(0.4), pitch: spread(0.4) },
    looseScrews: failing ? [radians(0.7), 0, 0] : null,
  }
}

const takeOn = async ({ db, jobs, technician, now }: HistoryOf, job: string, rig: Rig, board: string, check: Check) => {
  const { sheet } = await jobs.view(job)
  const segments = check.capture.segments.map((segment, i) => captureFrom(rig, check, segment, i))
  const document = documentOf(check, { at: now(), place: demoPlace, sheet, settings: valuesOf(rig.list()), segments })
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
  if (remedy?.settings !== undefined) rig.write(remedy.settings)
  if (remedy?.calibrate !== undefined) {
    rig.calibrate()
    while (rig.calibrationResult() === null) rig.step('raw')
  }
  rig.save()
  const why = { cause: `Remedy of take ${take.seq}.`, remedyOf: { seq: take.seq, act: remedy?.act ?? 'none' } }
  await jobs.change(job, async (locked) => void (await recordSettings(db, locked, technician.id, valuesOf(rig.list()), why)))
}

const captureFrom = (rig: Rig, check: Check, { label, seconds }: { label: string; seconds: number }, index: number): Segment => {
  rig.act({ act: 'lay', way: index === 0 ? 'forward' : 'reversed' })
  for (let t = 0; t < 2.5; t += stepS) rig.step(check.capture.stage)
  const rows = Math.round(seconds / stepS) + 1
  const columns = Object.fromEntries(senseColumns.map((name) => [name, new Float32Array(rows)])) as Record<
    SenseColumn,
    Float32Array<ArrayBuffer>
  >
  const t = new Float64Array(rows)
  for (let i = 0; i < rows; i++) {
    const sample = rig.step(check.capture.stage)
    t[i] = sample.t
    ;[columns.ax[i], columns.ay[i], columns.az[i]] = sample.force
    ;[columns.gx[i], columns.gy[i], columns.gz[i]] = sample.rate
    columns.roll[i] = sample.attitude.roll
    columns.pitch[i] = sample.attitude.pitch
    columns.yaw[i] = sample.attitude.yaw
  }
  const { roll, pitch, yaw, ...imu } = columns
  return { label, streams: { imu: { stage: check.capture.stage, t, ...imu }, attitude: { t, roll, pitch, yaw } } }
}
