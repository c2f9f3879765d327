import { type BoardIdentity, type BoardSetting } from '@taraf/contract'
import { valuesOf } from '@taraf/core/atLink'
import { dropUnsaved, unsavedIn, watchKnocks, type Clock } from '@taraf/takes'
import type { Logger } from 'pino'
import type { Benches } from '../benches/benches'
import type { Database } from '../database/database'
import type { BenchLink } from '../links/benchLink'
import type { Links } from '../links/links'
import type { Cards } from '../record/cards'
import { foundChanged, recordLoader, recordRuns, recordSettings } from '../record/recordSettings'

/**
 * Watches every linked board for what happens without Taraf: settings that differ from those seen last, knocks, and that it arms though
 * nobody is asked to arm it. All are appended to the job card, so that what they spoil is seen.
 */
export const watchBoards = (db: Database, cards: Cards, benches: Benches, links: Links, clock: Clock, log: Logger): void =>
  links.onLink((bench, link) => {
    const guard = (work: () => Promise<unknown>, failed = () => {}) =>
      void work().catch((error: unknown) => {
        log.warn({ err: error, bench }, 'change not recorded')
        failed()
      })
    // Only a board that has said again who it is can be set differently from before. What works on the bench meanwhile keeps its own changes.
    let compared: BoardIdentity | null = null
    const compare = () => {
      if (link.phase !== 'up' || link.occupiedBy !== null || link.identity === compared) return
      compared = link.identity
      const again = () => void (compared = null)
      guard(async () => (await noticeBoard(db, cards, benches, bench, link)) || again(), again)
    }
    link.on('phase', () => {
      compare()
      guard(() => noticePower(db, bench, link, clock.date()))
    })
    link.on('free', compare)
    link.on('told', ({ what }) => {
      if (what === 'armed' && !link.isArmingExpected) guard(() => noticeArmed(cards, benches, bench, link))
    })
    watchKnocks(link, clock, () => guard(() => noticeKnock(cards, benches, bench, link)))
  })

/** Notes when the battery connection that is there now was made, so that its heat clock runs on whatever restarts. */
const noticePower = async (db: Database, bench: string, link: BenchLink, now: Date): Promise<void> => {
  if (link.phase !== 'up' || link.state === null) return
  const powerId = link.state.power === 'cable' ? null : link.state.powerId
  const known = link.powerSince === null ? null : powerIds.get(link)
  if (known === powerId) return
  if (powerId === null) {
    powerIds.delete(link)
    link.poweredSince(null)
  } else {
    powerIds.set(link, powerId)
    link.poweredSince(now)
    const [rows] = (await db.sequelize.query(
      `UPDATE benches SET power_since = CASE WHEN power_id = $powerId THEN power_since ELSE $now END, power_id = $powerId
       WHERE id = $bench RETURNING power_since AS since`,
      { bind: { bench, powerId, now } },
    )) as [{ since: Date }[], unknown]
    if (powerIds.get(link) === powerId) link.poweredSince(rows[0]?.since ?? now)
  }
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

/** Compares the board's image and settings with those seen last, on the airframe that the board belongs to; false where work on the
 * bench came between, whose own changes it would take for found ones. */
const noticeBoard = async (db: Database, cards: Cards, benches: Benches, bench: string, link: BenchLink): Promise<boolean> => {
  const user = await benches.userOf(bench)
  const { identity } = link
  if (user === null || identity === null) return true
  const { firmware } = identity
  if (identity.loader || firmware === null) {
    // A board that waits in its loader runs nothing: what was measured of an image before no longer stands.
    await cards.change(user.job, async (job) => {
      if (link.identity?.board === job.board) await recordLoader(db, job, user.by, foundChanged)
    })
    return true
  }
  const { settings } = await link.ask({ ask: 'settings.list' })
  await keepDefinitions(db, link, settings)
  if (link.occupiedBy !== null) return false
  const seen = valuesOf(settings)
  if (unsavedIn(settings).length > 0) {
    const leave = link.occupy('what a lost link left unsaved')
    try {
      await dropUnsaved(link, settings)
    } finally {
      leave()
    }
  }
  await cards.change(user.job, async (job) => {
    if (link.identity?.board !== job.board) return
    await recordRuns(db, job, user.by, firmware, { cause: foundChanged })
    await recordSettings(db, job, user.by, seen, { cause: foundChanged })
  })
  return true
}

/** A board that arms by itself: nothing is handed over before somebody has said why it did. */
const noticeArmed = async (cards: Cards, benches: Benches, bench: string, link: BenchLink): Promise<void> => {
  const power = link.state?.power ?? 'cable'
  const user = await benches.userOf(bench)
  if (user === null) return
  await cards.change(user.job, async (job) => {
    if (link.identity?.board !== job.board) return
    await job.append(user.by, {
      kind: 'item',
      what: 'open',
      words: `It armed by itself, on ${powerWords[power]}: nobody was asked to arm it. Find out why before anything turns, and say it here.`,
      blocks: true,
    })
  })
}
const powerWords = { cable: 'the cable alone', battery: 'the battery alone', both: 'battery and cable' } as const

const noticeKnock = async (cards: Cards, benches: Benches, bench: string, link: BenchLink): Promise<void> => {
  const user = await benches.userOf(bench)
  if (user === null) return
  await cards.change(user.job, async (job) => {
    if (link.identity?.board !== job.board) return
    await job.append(user.by, { kind: 'change', change: { what: 'knock' }, cause: 'The board felt a knock.' })
  })
}
