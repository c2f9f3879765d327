import { z } from 'zod'
import { finding, remedy, verdict } from './findings'

/** What was done to the airframe. A settings change names every value before and after. */
export const change = z.discriminatedUnion('what', [
  z.strictObject({
    what: z.literal('settings'),
    settings: z.array(z.strictObject({ name: z.string(), from: z.number().nullable(), to: z.number() })).min(1),
  }),
  z.strictObject({ what: z.literal('firmware'), from: z.string(), to: z.string() }),
  z.strictObject({ what: z.literal('act'), act: z.enum(['knock', 'remount']) }),
  z.strictObject({ what: z.literal('part'), part: z.string().min(1), act: z.enum(['replaced', 'fastened']) }),
])

const take = z.strictObject({
  kind: z.literal('take'),
  check: z.string(),
  checkVersion: z.int().min(1),
  verdict,
  findings: z.array(finding),
  evidenceSha256: z.hex().length(64).nullable().describe('null where nothing was captured that could be kept'),
  bench: z.string(),
  board: z.string(),
})
const changed = z.strictObject({
  kind: z.literal('change'),
  change,
  cause: z.string().min(1),
  remedyOf: z.strictObject({ seq: z.int().min(1), act: remedy.shape.act }).optional(),
})
const aside = z.strictObject({ kind: z.literal('aside'), check: z.string(), reason: z.string().min(3) })
export const signatureRole = z.enum(['technician', 'lead'])
const signature = z.strictObject({ kind: z.literal('signature'), role: signatureRole, over: z.hex().length(64) })

export const standingState = z.enum(['open', 'pass', 'fail', 'stale', 'aside', 'absent'])
/** What a check is worth now. `take` and `by` are sequence numbers of the take that decided and of what spoiled it. */
export const standing = z.strictObject({
  state: standingState,
  take: z.int().optional(),
  by: z.int().optional(),
})
export const standings = z.record(z.string(), standing)
/** The state of a whole job card, worst first, as the list of airframes shows it. */
export const overall = z.enum(['none', 'open', 'fail', 'stale', 'ready', 'passed', 'failed'])

const handover = z.strictObject({
  kind: z.literal('handover'),
  outcome: z.enum(['pass', 'fail']),
  airframe: z.strictObject({ tag: z.string(), board: z.string(), sheetType: z.string(), sheetVersion: z.int() }),
  checks: z.array(
    z.strictObject({
      check: z.string(),
      title: z.string(),
      state: standingState,
      take: z.int().nullable(),
      reason: z.string().optional(),
    }),
  ),
  signatures: z.array(z.strictObject({ role: signatureRole, by: z.string(), seq: z.int() })).length(2),
})

export const entryBody = z.discriminatedUnion('kind', [take, changed, aside, signature, handover])
/** One link of a job card's chain: its body with who, when and where in the order. */
export const entry = z.strictObject({
  job: z.string(),
  seq: z.int().min(1),
  at: z.iso.datetime({ offset: true }),
  by: z.string(),
  body: entryBody,
})
export const storedEntry = entry.extend({ hash: z.hex().length(64) })

export type Change = z.infer<typeof change>
export type Standing = z.infer<typeof standing>
export type StandingState = z.infer<typeof standingState>
export type Standings = z.infer<typeof standings>
export type Overall = z.infer<typeof overall>
export type EntryBody = z.infer<typeof entryBody>
export type TakeBody = z.infer<typeof take>
export type ChangeBody = z.infer<typeof changed>
export type HandoverBody = z.infer<typeof handover>
export type Entry = z.infer<typeof entry>
export type StoredEntry = z.infer<typeof storedEntry>
