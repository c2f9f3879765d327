import type { BoardSetting, JobView, Person, Runs, Settings, SettingsView } from '@taraf/contract'
import { isOwn } from '@taraf/core'
import { type SettingsAct } from '@taraf/core/atLink'
import { changeSettings, wantKept } from '@taraf/takes'
import type { Database } from '../database/database'
import { ProblemError } from '@taraf/contract'
import type { Jobs } from '../jobs/jobs'
import type { Benches } from '../benches/benches'
import { recordSettings } from '../record/recordSettings'
import { linkForWork, wantOpen, wantOutOfLoader } from '../benches/forWork'
import type { Links } from '../links/links'
import type { Cards } from '../record/cards'

/** All settings of a job card's airframe: as its board says now, or as it was seen last, with when and by whom each changed. */
export const viewSettings = async (db: Database, jobs: Jobs, links: Links, job: string): Promise<SettingsView> => {
  const view = await jobs.view(job)
  const changed = await changesOf(db, view.tag)
  const link = view.bench === null ? null : links.linkOf(view.bench.id)
  if (link !== null && link.phase === 'up' && link.identity?.board === view.board && !link.identity.loader)
    return {
      live: true,
      target: link.identity.target,
      firmware: firmwareWords(link.identity.firmware),
      settings: (await link.ask({ ask: 'settings.list' })).settings,
      changed,
    }
  const [seen] = await db.select<{ values: Settings | null; runs: Runs | null }>(
    'SELECT board_settings AS values, board_runs AS runs FROM airframes WHERE tag = $tag',
    { tag: view.tag },
  )
  const { values = null, runs = null } = seen ?? {}
  if (values === null || runs === null) throw new ProblemError('not-linked', `The board of ${view.tag} was never seen.`)
  const target = view.sheet.board?.target ?? ''
  // What a number means is what that very version says: another one may mean something else by it.
  const [known] = await db.select<{ settings: BoardSetting[] }>(
    'SELECT settings FROM board_settings WHERE target = $target AND version = $version',
    { target, version: runs.version },
  )
  if (known === undefined)
    throw new ProblemError(
      'not-linked',
      `The board of ${view.tag} was seen with ${firmwareWords(runs)}; what its settings mean there is not known here.`,
    )
  return {
    live: false,
    target,
    firmware: firmwareWords(runs),
    // What was never seen has no value: it is left out, not made up.
    settings: known.settings.flatMap((s) => {
      const value = values[s.name]
      return value === undefined ? [] : [{ ...s, value, saved: value }]
    }),
    changed,
  }
}

const firmwareWords = (runs: Pick<Runs, 'name' | 'version'> | null): string =>
  runs === null ? 'none' : `${runs.name} ${runs.version}`

/** The last change of each setting, over all job cards of an airframe. */
const changesOf = async (db: Database, tag: string): Promise<SettingsView['changed']> => {
  const rows = await db.select<{ name: string; from: number | null; at: string; by: string; cause: string }>(
    `SELECT DISTINCT ON (c.value->>'name') c.value->>'name' AS name, (c.value->>'from')::float8 AS "from", e.body->>'at' AS at, p.name AS by,
       e.body->'body'->>'cause' AS cause
     FROM job_entries e JOIN jobs j ON j.id = e.job_id JOIN airframes a ON a.id = j.airframe_id
       CROSS JOIN LATERAL jsonb_array_elements(e.body->'body'->'change'->'settings') c
       LEFT JOIN people p ON p.id::text = e.body->>'by'
     WHERE a.tag = $tag AND e.body->'body'->>'kind' = 'change' AND e.body->'body'->'change'->>'what' = 'settings'
     ORDER BY c.value->>'name', j.number DESC, e.seq DESC`,
    { tag },
  )
  return Object.fromEntries(rows.map(({ name, ...rest }) => [name, { ...rest, by: rest.by ?? '' }]))
}

export interface Writing {
  readonly db: Database
  readonly jobs: Jobs
  readonly cards: Cards
  readonly benches: Benches
}

/** Writes single settings as one act, and says on the card why. */
export const writeByHand = (
  doors: Writing,
  job: string,
  { values, cause }: { values: Settings; cause: string },
  by: Person,
  requestKey: string,
): Promise<number | null> => act(doors, job, by, cause, requestKey, () => ({ do: 'write', settings: values }))

/**
 * Clears the board to its factory's values, then writes what the sheet says and what is the airframe's own, as one act: calibration,
 * mounting and trims are what they were.
 */
export const clearToSheet = (
  doors: Writing,
  job: string,
  cause: string,
  by: Person,
  requestKey: string,
): Promise<number | null> =>
  act(doors, job, by, cause, requestKey, ({ sheet }) => ({
    do: 'clear',
    wanted: (before) => ({
      ...Object.fromEntries(Object.entries(sheet.settings).filter(([name]) => !isOwn(name))),
      ...Object.fromEntries(Object.entries(before).filter(([name]) => isOwn(name))),
    }),
  }))

const act = async (
  { db, jobs, cards, benches }: Writing,
  job: string,
  by: Person,
  cause: string,
  requestKey: string,
  actFor: (view: JobView) => SettingsAct,
): Promise<number | null> => {
  const view = await jobs.view(job)
  wantOpen(view)
  const { link } = await linkForWork(benches, view, by)
  wantOutOfLoader(link)
  const leave = link.occupy('a write to the board')
  try {
    const written = await changeSettings(link, actFor(view))
    const seq = await cards.change(job, (locked) =>
      recordSettings(db, locked, by.id, written.after, { cause }, requestKey, written.before, written.asked),
    )
    wantKept(written)
    return seq
  } finally {
    leave()
  }
}
