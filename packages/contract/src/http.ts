import { z } from 'zod'
import { change, overall, signatureRole, standings, storedEntry } from './job'
import { sheet } from './sheet'

export const role = z.enum(['technician', 'lead', 'reader'])
export const person = z.strictObject({ id: z.string(), login: z.string(), name: z.string(), role })
export const signIn = z.strictObject({ login: z.string().min(1).max(80), password: z.string().min(1).max(200) })

export const airframeSort = z.enum(['tag', 'type', 'standing', 'touched'])
export const airframeQuery = z.strictObject({
  search: z.string().max(80).default(''),
  standing: overall.optional(),
  sort: airframeSort.default('tag'),
  down: z.stringbool().default(false),
  offset: z.coerce.number().int().min(0).default(0),
  limit: z.coerce.number().int().min(1).max(200).default(100),
})
export const airframeRow = z.strictObject({
  tag: z.string(),
  type: z.string(),
  title: z.string(),
  board: z.string(),
  overall,
  touchedAt: z.string(),
})
export const airframePage = z.strictObject({ total: z.int(), rows: z.array(airframeRow) })
export const jobSummary = z.strictObject({
  id: z.string(),
  number: z.int(),
  openedAt: z.string(),
  openedBy: z.string(),
  closedAt: z.string().nullable(),
  overall,
})
export const airframeView = z.strictObject({
  tag: z.string(),
  board: z.string(),
  sheet,
  jobs: z.array(jobSummary),
})

export const benchView = z.strictObject({
  id: z.string(),
  name: z.string(),
  heldBy: z.strictObject({ id: z.string(), name: z.string(), since: z.string() }).nullable(),
  heldJob: z.strictObject({ id: z.string(), tag: z.string() }).nullable(),
  hands: z.boolean(),
})
export const jobView = jobSummary.extend({
  tag: z.string(),
  board: z.string(),
  sheet,
  standings,
  entries: z.array(storedEntry),
  people: z.record(z.string(), z.string()),
  bench: benchView.nullable(),
})

export const openedJob = z.strictObject({ id: z.string() })
export const holdRequest = z.strictObject({ job: z.uuid() })
export const takeRequest = z.strictObject({ check: z.string().min(1) })
export const remedyRequest = z.strictObject({ seq: z.int().min(1), key: z.string().min(1) })
export const remedyResult = z.strictObject({ seq: z.int() })
/** Settings and firmware change through the link alone: the board's report is the evidence. */
export const changeRequest = z.strictObject({
  change: change.refine((c) => c.what === 'act' || c.what === 'part', 'only acts and parts are recorded by hand'),
  cause: z.string().trim().min(3).max(400),
})
export const asideRequest = z.strictObject({ check: z.string().min(1), reason: z.string().trim().min(3).max(400) })
export const signatureRequest = signIn.extend({ role: signatureRole })

export type Role = z.infer<typeof role>
export type Person = z.infer<typeof person>
export type AirframeQuery = z.infer<typeof airframeQuery>
export type AirframeRow = z.infer<typeof airframeRow>
export type AirframePage = z.infer<typeof airframePage>
export type AirframeView = z.infer<typeof airframeView>
export type BenchView = z.infer<typeof benchView>
export type JobSummary = z.infer<typeof jobSummary>
export type JobView = z.infer<typeof jobView>
export type AirframeSort = z.infer<typeof airframeSort>
