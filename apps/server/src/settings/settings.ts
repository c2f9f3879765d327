import type { BoardSetting, Firmware, JobView, Person, Settings, SettingsView } from '@taraf/contract'
import { isOwn } from '@taraf/core'
import type { Database } from '../database'
import { ProblemError } from '../http/problem'
import type { Jobs } from '../jobs/jobs'
import type { BenchLink } from '../links/benchLink'
import type { Benches } from '../links/benches'
import { recordSettings } from '../links/boardWatch'
import { linkForWork, wantOpen, wantOutOfLoader } from '../links/forWork'
import { clearAndWrite, writeSettings, type WrittenSettings } from '../links/writeSettings'

/** All settings of a job card's airframe: as its board says now, or as it was seen last, with when and by whom each changed. */
export const viewSettings = async (db: Database, jobs: Jobs, benches: Benches, job: string): Promise<SettingsView> => {
  const view = await jobs.view(job)
  const changed = await changesOf(db, view.tag)
  const link = view.bench === null ? null : benches.linkOf(view.bench.id)
  if (link !== null && link.phase === 'up' && link.identity?.board === view.board && !link.identity.loader)
    return {
      live: true,
      target: link.identity.target,
      firmware: firmwareWords(link.identity.firmware),
      settings: (await link.ask({ ask: 'settings.list' })).settings,
      changed,
    }
  const [seen] = await db.select<{ values: Settings | null }>('SELECT board_settings AS values FROM airframes WHERE tag = $tag', {
    tag: view.tag,
  })
  const [known] = await db.select<{ settings: BoardSetting[]; version: string }>(
    'SELECT settings, version FROM board_settings WHERE target = $target ORDER BY at DESC LIMIT 1',
    { target: view.sheet.board?.target ?? '' },
  )
  const values = seen?.values
  if (values === null || values === undefined || known === undefined)
    throw new ProblemError('not-linked', `The board of ${view.tag} was never seen.`)
  return {
    live: false,
    target: view.sheet.board?.target ?? '',
    firmware: `${view.sheet.board?.firmware?.name ?? ''} ${known.version}`.trim(),
    settings: known.settings.map((s) => ({ ...s, value: values[s.name] ?? s.factory, saved: values[s.name] ?? s.factory })),
    changed,
  }
}

const firmwareWords = (firmware: Firmware | null): string => (firmware === null ? 'none' : `${firmware.name} ${firmware.version}`)

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

/** Writes single settings as one act, and says on the card why. */
export const writeByHand = (
  db: Database,
  jobs: Jobs,
  benches: Benches,
  job: string,
  { values, cause }: { values: Settings; cause: string },
  by: Person,
  requestKey: string,
): Promise<number | null> => act(db, jobs, benches, job, by, cause, requestKey, (link) => writeSettings(link, values))

/**
 * Clears the board to its factory's values, then writes what the sheet says and what is the airframe's own, as one act: calibration,
 * mounting and trims are what they were.
 */
export const clearToSheet = (
  db: Database,
  jobs: Jobs,
  benches: Benches,
  job: string,
  cause: string,
  by: Person,
  requestKey: string,
): Promise<number | null> =>
  act(db, jobs, benches, job, by, cause, requestKey, (link, { sheet }) =>
    clearAndWrite(link, (before) => ({
      ...Object.fromEntries(Object.entries(sheet.settings).filter(([name]) => !isOwn(name))),
      ...Object.fromEntries(Object.entries(before).filter(([name]) => isOwn(name))),
    })),
  )

const act = async (
  db: Database,
  jobs: Jobs,
  benches: Benches,
  job: string,
  by: Person,
  cause: string,
  requestKey: string,
  write: (link: BenchLink, view: JobView) => Promise<WrittenSettings>,
): Promise<number | null> => {
  const view = await jobs.view(job)
  wantOpen(view)
  const { link } = await linkForWork(benches, view, by)
  wantOutOfLoader(link)
  const leave = link.occupy('a write to the board')
  try {
    const { before, after } = await write(link, view)
    return await jobs.change(job, (locked) => recordSettings(db, locked, by.id, after, { cause }, requestKey, before))
  } finally {
    leave()
  }
}
