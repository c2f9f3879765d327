import type { ChangeBody, Runs, Settings } from '@taraf/contract'
import type { Database } from '../database/database'
import type { LockedJob } from './cards'

type Why = Pick<ChangeBody, 'cause' | 'remedyOf' | 'within'>

/**
 * Appends what differs between the settings seen last and those seen now, and keeps the new ones for the next time.
 * Equal values are no change; values never seen before are none either, unless the caller knows what was there.
 */
export const recordSettings = async (
  db: Database,
  job: LockedJob,
  by: string,
  seen: Settings,
  why: Why,
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

/** Keeps which image runs on the board of a card, and appends it where it is another than the one seen last. */
export const recordRuns = async (
  db: Database,
  job: LockedJob,
  by: string,
  runs: Runs,
  why: Why & { readonly meansOther?: readonly string[] },
): Promise<void> => {
  const airframe = await db.airframes.findByPk(job.airframeId, { transaction: job.transaction, rejectOnEmpty: true })
  const from = airframe.get('boardRuns') as Runs | null
  await airframe.update({ boardRuns: runs }, { transaction: job.transaction })
  const { meansOther = [], ...rest } = why
  if (from !== null && JSON.stringify(from) === JSON.stringify(runs)) return
  // What was never seen before is no change, unless Taraf itself wrote it.
  if (from === null && rest.cause === foundChanged) return
  await job.append(by, {
    kind: 'change',
    change: { what: 'image', from, to: runs, ...(meansOther.length === 0 ? {} : { meansOther: [...meansOther] }) },
    ...rest,
  })
}

/** The cause of what was found when a board was linked. */
export const foundChanged = 'Found changed when the board was linked.'
