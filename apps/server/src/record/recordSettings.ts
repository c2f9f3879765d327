import type { ChangeBody, Runs, Settings } from '@taraf/contract'
import { isSameImage } from '@taraf/core'
import type { Database } from '../database/database'
import type { LockedJob } from './cards'

type Why = Pick<ChangeBody, 'cause' | 'remedyOf' | 'within'>

/**
 * Appends what differs between the settings seen last and those seen now, and keeps the new ones for the next time.
 * Equal values are no change; values never seen before are none either, unless the caller knows what was there. What was asked for and
 * kept otherwise is one whatever the board kept: it leaves its trace.
 */
export const recordSettings = async (
  db: Database,
  job: LockedJob,
  by: string,
  seen: Settings,
  why: Why,
  requestKey: string | null = null,
  knownBefore: Settings | null = null,
  asked: Settings = {},
): Promise<number | null> => {
  const airframe = await db.airframes.findByPk(job.airframeId, { transaction: job.transaction, rejectOnEmpty: true })
  const before = (airframe.get('boardSettings') as Settings | null) ?? knownBefore
  await airframe.update({ boardSettings: seen }, { transaction: job.transaction })
  const differing = Object.entries(seen)
    .map(([name, to]) => ({ name, from: before?.[name] ?? null, to, ...(name in asked ? { asked: asked[name] as number } : {}) }))
    .filter((one) => one.from !== one.to || 'asked' in one)
  if (before === null || differing.length === 0) return null
  return (await job.append(by, { kind: 'change', change: { what: 'settings', settings: differing }, ...why }, requestKey)).seq
}

/**
 * Keeps which image runs on the board of a card. What is found is a change only where it is another than the one seen last; what
 * Taraf itself wrote always is one.
 */
export const recordRuns = async (
  db: Database,
  job: LockedJob,
  by: string,
  runs: Runs,
  { meansOther = [], ...why }: Why & { readonly meansOther?: readonly string[] },
): Promise<void> => {
  const airframe = await db.airframes.findByPk(job.airframeId, { transaction: job.transaction, rejectOnEmpty: true })
  const from = airframe.get('boardRuns') as Runs | null
  const isFound = why.cause === foundChanged
  // A board does not say the hash of what it runs: what is known of the same image beside is kept.
  if (isFound && from !== null && isSameImage(from, runs) && !waitedInLoader(job)) return
  await airframe.update({ boardRuns: runs }, { transaction: job.transaction })
  if (isFound && from === null) return
  const other = meansOther.length === 0 ? {} : { meansOther: [...meansOther] }
  await job.append(by, { kind: 'change', change: { what: 'image', from, to: runs, ...other }, ...why })
}

/** What a board runs that waits in its loader. */
const noImage: Runs = { name: 'none', version: 'in its loader' }

const waitedInLoader = ({ entries }: LockedJob): boolean => {
  const last = entries.findLast(({ body }) => body.kind === 'change' && body.change.what === 'image')?.body
  return last?.kind === 'change' && last.change.what === 'image' && last.change.to.name === noImage.name
}

/**
 * A board that waits in its loader runs nothing: what was found of an image before no longer stands. Which one it ran last stays known, to
 * be compared with the one that comes.
 */
export const recordLoader = async (db: Database, job: LockedJob, by: string, cause: string): Promise<void> => {
  if (waitedInLoader(job)) return
  const airframe = await db.airframes.findByPk(job.airframeId, { transaction: job.transaction, rejectOnEmpty: true })
  const from = airframe.get('boardRuns') as Runs | null
  await job.append(by, { kind: 'change', change: { what: 'image', from, to: noImage }, cause })
}

/** The cause of what a board is found to be, where nobody here changed it. */
export const foundChanged = 'Found changed on the board.'
