import { streams, type Evidence } from '@taraf/contract'
import { unpackEvidence } from '@taraf/server/files/packEvidence'
import type { RigPart } from './rigPart'
import type { ShopBase } from './base'

/** What was promised to people by answers that they got. */
export interface Promised {
  /** A change that somebody noted is on the card, once, where its answer says. */
  readonly notes: { readonly job: string; readonly cause: string; readonly seq: number }[]
  readonly cards: { readonly job: string; readonly tag: string }[]
  /** A take that was accepted comes to an entry, unless somebody stops it. */
  readonly takes: { readonly job: string; readonly key: string; isExcused: boolean }[]
}

/** The longest that may be between two rows of evidence: 50 ms (docs/formats), or three rows of a slow stream, s. */
const mostApartS = (rateHz: number): number => Math.max(0.0501, 3.5 / rateHz)

/** All that a history broke of what the shop promises, in words; nothing is what is wanted. */
export const broken = async (base: ShopBase, promised: Promised, boards: readonly RigPart[]): Promise<string[]> => [
  ...boards.flatMap(ofBoard),
  ...(await ofNotes(base, promised)),
  ...(await ofTakes(base, promised)),
  ...(await ofEvidence(base)),
  ...(await base.look<{ job: string }>(halfSql)).map(({ job }) => `half written: ${job}`),
  ...(await base.audit()).map((difference) => `audit: ${difference}`),
]

/** Nothing is left armed or turning, and nothing turned that must not. */
const ofBoard = ({ name, rig, broken: seen }: RigPart): string[] => [
  ...seen,
  ...rig.incidents.map((incident) => `${name}: incident ${JSON.stringify(incident)}`),
  ...(rig.board.arming.armed ? [`${name}: left armed`] : []),
  ...(rig.turning || rig.board.drives ? [`${name}: left turning`] : []),
  ...(rig.board.permits.current === null ? [] : [`${name}: left with a permit to ${rig.board.permits.current.kind}`]),
]

const ofNotes = async (base: ShopBase, { notes, cards }: Promised): Promise<string[]> => {
  const rows = await base.look<{ job: string; seq: number; cause: string }>(
    `SELECT job_id AS job, seq, body->'body'->>'cause' AS cause FROM job_entries WHERE body->'body'->>'cause' LIKE '% note %'`,
  )
  const jobs = new Set((await base.look<{ id: string }>('SELECT id FROM jobs')).map(({ id }) => id))
  const wrong = cards.flatMap(({ job, tag }) => (jobs.has(job) ? [] : [`lost: the card of ${tag}`]))
  for (const { job, cause, seq } of notes) {
    const found = rows.filter((row) => row.cause === cause)
    if (found.length !== 1) wrong.push(`${found.length === 0 ? 'lost' : 'doubled'}: ${cause}`)
    else if (found[0]?.job !== job || found[0].seq !== seq) wrong.push(`elsewhere: ${cause}`)
  }
  const causes = rows.map(({ cause }) => cause)
  return [...wrong, ...causes.filter((cause, i) => causes.indexOf(cause) !== i).map((cause) => `doubled: ${cause}`)]
}

const ofTakes = async (base: ShopBase, { takes }: Promised): Promise<string[]> => {
  const keys = (await base.look<{ key: string }>('SELECT request_key AS key FROM job_entries WHERE request_key IS NOT NULL')).map(
    ({ key }) => key,
  )
  const running = await base.look<{ job: string }>('SELECT job_id AS job FROM running_takes')
  return [
    ...running.map(({ job }) => `still running: a take of ${job}`),
    ...takes.flatMap(({ key, job, isExcused }) =>
      isExcused || keys.includes(key) ? [] : [`lost: a take of ${job} that was accepted`],
    ),
    ...keys.filter((key, i) => keys.indexOf(key) !== i).map((key) => `doubled: ${key}`),
  ]
}

/** No verdict rests on evidence with a hole in it. */
const ofEvidence = async (base: ShopBase): Promise<string[]> => {
  const rows = await base.look<{ job: string; seq: number; verdict: string; data: Buffer }>(
    `SELECT e.job_id AS job, e.seq, e.body->'body'->>'verdict' AS verdict, v.data FROM job_entries e
     JOIN evidence v ON v.job_id = e.job_id AND v.seq = e.seq WHERE e.body->'body'->>'verdict' IN ('pass', 'fail')`,
  )
  return rows.flatMap(({ job, seq, verdict, data }) =>
    holesIn(unpackEvidence(data)).map((hole) => `"${verdict}" of entry ${seq} of ${job} rests on evidence with a hole: ${hole}`),
  )
}

const holesIn = ({ segments }: Evidence): string[] =>
  segments.flatMap(({ label, streams: kept }) =>
    (['imu', 'attitude', 'outputs', 'escs', 'power'] as const).flatMap((name) => {
      const t = kept[name]?.t
      if (t === undefined) return []
      const most = mostApartS(streams[name].rateHz)
      for (let i = 1; i < t.length; i++) {
        const gap = (t[i] as number) - (t[i - 1] as number)
        if (gap > most) return [`${label}, ${name}: ${(gap * 1000).toFixed(0)} ms`]
      }
      return []
    }),
  )

const halfSql = `SELECT j.id AS job FROM jobs j WHERE j.length <> (SELECT count(*) FROM job_entries e WHERE e.job_id = j.id)
  UNION ALL SELECT job_id FROM evidence v WHERE NOT EXISTS (SELECT 1 FROM job_entries e WHERE e.job_id = v.job_id AND e.seq = v.seq)`
