import { senseColumn, type BoardSetting, type ChangeBody, type Settings } from '@taraf/contract'
import type { Logger } from 'pino'
import type { Transaction } from 'sequelize'
import type { Database } from '../database'
import type { Jobs, LockedJob } from '../jobs/jobs'
import type { BenchLink } from './benchLink'
import type { Benches } from './benches'
import { valuesOf } from './writeSettings'

// Well over what setting an airframe down gently does, well under a fall from the bench (common practice).
const knockForce = 15 // m/s2 from one sample to the next
const knockQuietMs = 3_000

/**
 * Watches every linked board for what changes without Taraf: settings that differ from those seen last, and knocks. Both
 * are appended to the job card, so that what they spoil is seen.
 */
export const watchBoards = (db: Database, jobs: Jobs, benches: Benches, log: Logger): void =>
  benches.onLink((bench, link) => {
    const guard = (work: () => Promise<void>) =>
      void work().catch((error: unknown) => log.warn({ err: error, bench }, 'change not recorded'))
    // The link tells every change of the board's state; only after it came up can settings be others than before.
    let wasUp = false
    link.on('phase', () => {
      const isUp = link.phase === 'up'
      if (isUp && !wasUp) guard(() => noticeSettings(db, jobs, benches.jobOf(bench), link))
      guard(() => noticePower(db, bench, link))
      wasUp = isUp
    })
    watchKnocks(link, () => guard(() => noticeKnock(db, jobs, benches.jobOf(bench), link)))
  })

/** Notes when the battery connection that is there now was made, so that its heat clock runs on whatever restarts. */
const noticePower = async (db: Database, bench: string, link: BenchLink): Promise<void> => {
  if (link.phase !== 'up' || link.state === null) return
  const powerId = link.state.power === 'cable' ? null : link.state.powerId
  const known = link.powerSince === null ? null : powerIds.get(link)
  if (known === powerId) return
  if (powerId === null) {
    powerIds.delete(link)
    link.powerSince = null
  } else {
    powerIds.set(link, powerId)
    const now = new Date()
    link.powerSince = now
    const [rows] = (await db.sequelize.query(
      `UPDATE benches SET power_since = CASE WHEN power_id = $powerId THEN power_since ELSE $now END, power_id = $powerId
       WHERE id = $bench RETURNING power_since AS since`,
      { bind: { bench, powerId, now } },
    )) as [{ since: Date }[], unknown]
    if (powerIds.get(link) === powerId) link.powerSince = rows[0]?.since ?? now
  }
  link.emit('phase')
}
const powerIds = new WeakMap<BenchLink, string>()

/** Keeps what a board says its settings are called and may be: sheets for its target are held against that. */
const keepDefinitions = async (db: Database, { identity }: BenchLink, settings: BoardSetting[]): Promise<void> => {
  if (identity?.firmware === null || identity === null) return
  await db.sequelize.query(
    `INSERT INTO board_settings (target, version, settings) VALUES ($target, $version, $settings::jsonb)
     ON CONFLICT (target, version) DO UPDATE SET settings = excluded.settings, at = now()`,
    { bind: { target: identity.target, version: identity.firmware.version, settings: JSON.stringify(settings) } },
  )
}

/** Compares the board's settings with those seen last, on the airframe that the board belongs to. */
const noticeSettings = async (db: Database, jobs: Jobs, jobId: string | null, link: BenchLink): Promise<void> => {
  if (jobId === null || link.occupiedBy !== null) return
  if (link.identity === null || link.identity.loader) return
  const { settings } = await link.ask({ ask: 'settings.list' })
  await keepDefinitions(db, link, settings)
  const seen = valuesOf(settings)
  await dropUnsaved(link, settings)
  await jobs.change(jobId, async (job) => {
    if (link.identity?.board !== job.board) return
    await recordSettings(db, job, await holderOf(db, jobId, job.transaction), seen, {
      cause: 'Found changed when the board was linked.',
    })
  })
}

/**
 * Puts in force what is saved. A link that is lost in the middle of a write leaves values in force that were never saved: what is
 * measured with them is not what is handed over.
 */
const dropUnsaved = async (link: BenchLink, settings: readonly BoardSetting[]): Promise<void> => {
  const unsaved = settings.filter(({ value, saved }) => value !== saved)
  if (unsaved.length === 0 || link.state?.motors !== 'still') return
  const leave = link.occupy('what a lost link left unsaved')
  try {
    await link.ask({ ask: 'settings.write', values: valuesOf(unsaved) })
  } finally {
    leave()
  }
}

/**
 * Appends what differs between the settings seen last and those seen now, and keeps the new ones for the next time.
 * Equal values are no change; values never seen before are none either, unless the caller knows what was there.
 */
export const recordSettings = async (
  db: Database,
  job: LockedJob,
  by: string,
  seen: Settings,
  why: Pick<ChangeBody, 'cause' | 'remedyOf'>,
  requestKey: string | null = null,
  knownBefore: Settings | null = null,
): Promise<number | null> => {
  const airframe = await db.airframes.findByPk(job.airframeId, { transaction: job.transaction, rejectOnEmpty: true })
  const before = (airframe.get('boardSettings') as Settings | null) ?? knownBefore
  await airframe.update({ boardSettings: seen }, { transaction: job.transaction })
  const differing = Object.entries(seen)
    .map(([name, to]) => ({ name, from: before?.[name] ?? null, to }))
    .filter(({ from, to }) => from !== to)
  if (before === null || differing.length === 0) return null
  return (await job.append(by, { kind: 'change', change: { what: 'settings', settings: differing }, ...why }, requestKey)).seq
}

/** Who holds the bench for a job card: the hand that the change is booked on. */
const holderOf = async (db: Database, job: string, transaction: Transaction): Promise<string> => {
  const bench = await db.benches.findOne({ where: { heldJob: job }, transaction })
  return String(bench?.get('heldBy'))
}

const watchKnocks = (link: BenchLink, knocked: () => void): void => {
  let before: [number, number, number] | null = null
  let quietUntilMs = 0
  link.on('block', (block) => {
    const [ax, ay, az] = [senseColumn(block, 'ax'), senseColumn(block, 'ay'), senseColumn(block, 'az')]
    // A motor that turns shakes the board by itself.
    if (link.state?.motors !== 'still') return void (before = null)
    let jump = 0
    for (let i = 0; i < ax.length; i++) {
      const now: [number, number, number] = [ax[i] as number, ay[i] as number, az[i] as number]
      if (before !== null) jump = Math.max(jump, Math.hypot(now[0] - before[0], now[1] - before[1], now[2] - before[2]))
      before = now
    }
    if (jump < knockForce || Date.now() < quietUntilMs) return
    quietUntilMs = Date.now() + knockQuietMs
    knocked()
  })
}

const noticeKnock = async (db: Database, jobs: Jobs, jobId: string | null, link: BenchLink): Promise<void> => {
  if (jobId === null) return
  await jobs.change(jobId, async (job) => {
    if (link.identity?.board !== job.board) return
    await job.append(await holderOf(db, jobId, job.transaction), {
      kind: 'change',
      change: { what: 'act', act: 'knock' },
      cause: 'The board felt a knock.',
    })
  })
}
