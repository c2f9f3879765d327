import { z } from 'zod'
import { byName } from './byName'
import { finding, verdict } from './findings'

/** An image that runs, or ran. `features` and the file's hash where they are known. */
export const runs = z.strictObject({
  name: z.string(),
  version: z.string(),
  features: z.array(z.string()).optional(),
  sha256: z.hex().length(64).optional(),
})
const words = z.string().min(3).max(400)

/** What can be set for one channel of a transmitter: travel in %, trims in us, inverted 0 or 1, share of a mix, number of a stick. */
export const transmitterSettings = ['travelLow', 'travelHigh', 'subTrim', 'trim', 'inverted', 'mix', 'stick'] as const
export const transmitterSetting = z.strictObject({
  channel: z.int().min(1).max(16),
  name: z.enum(transmitterSettings),
  from: z.number().nullable().describe('null where nobody looked'),
  to: z.number(),
})
/** What was done to the airframe. A settings change names every value before and after. */
export const change = z.discriminatedUnion('what', [
  z.strictObject({
    what: z.literal('settings'),
    settings: z
      .array(
        z.strictObject({
          name: z.string(),
          from: z.number().nullable(),
          to: z.number(),
          asked: z.number().optional().describe('what was written, where the board kept something else'),
        }),
      )
      .min(1),
  }),
  z.strictObject({
    what: z.literal('image'),
    from: runs.nullable().describe('null where none ran, or nobody knows which'),
    to: runs,
    meansOther: z.array(z.string()).optional().describe('settings whose unit, range or choices are others now'),
  }),
  z.strictObject({
    what: z.literal('escs'),
    settings: z.array(z.strictObject({ output: z.int(), name: z.string(), from: z.number().nullable(), to: z.number() })).min(1),
  }),
  z.strictObject({ what: z.literal('board'), from: z.string().min(1), to: z.string().min(1) }),
  z.strictObject({ what: z.literal('part'), part: z.string().min(1), act: z.enum(['replaced', 'fastened']) }),
  z.strictObject({
    what: z.literal('transmitter'),
    words,
    transmitter: z.string().trim().min(1).max(80).optional().describe('which one, as the link check was told'),
    model: z.int().min(0).max(999).optional().describe('the model memory that was chosen on it'),
    set: z
      .array(transmitterSetting)
      .min(1)
      .optional()
      .describe('what was set on it; all of it may have changed where none is named'),
  }),
  z.strictObject({ what: z.literal('lead'), words }),
  z.strictObject({ what: z.literal('prop'), words }),
  z.strictObject({ what: z.literal('remount') }),
  z.strictObject({ what: z.literal('knock') }),
])

const take = z.strictObject({
  kind: z.literal('take'),
  check: z.string(),
  checkVersion: z.int().min(1),
  began: z.int().nonnegative().describe('how many entries the card had when it began: a change since then meets it'),
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
  within: z.string().optional().describe('the check whose take wrote this, before the proof that is part of it'),
  remedyOf: z.strictObject({ seq: z.int().min(1), act: z.string().min(1) }).optional(),
})
const confirmed = z.strictObject({
  kind: z.literal('confirmed'),
  what: z.enum(['props off', 'props on']),
  powerId: z.string().min(1),
  board: z.string(),
})
/** Something left for later, or that a step put out of its place: it stays on the card until it is closed by its number. */
const item = z.strictObject({
  kind: z.literal('item'),
  what: z.enum(['open', 'put back', 'inspection']),
  words: z.string().min(3).max(400),
  blocks: z.boolean().describe('the airframe cannot be handed over before it is closed'),
  check: z.string().optional().describe('the check whose step opened it'),
  note: z.uuid().optional().describe('the batch note that asks for it'),
})
const closed = z.strictObject({ kind: z.literal('closed'), item: z.int().min(1), words: z.string().min(3).max(400) })
const parked = z.strictObject({ kind: z.literal('parked'), reason: z.string().min(3).max(400) })
const resumed = z.strictObject({ kind: z.literal('resumed') })
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
export const standings = byName(standing)
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

export const entryBody = z.discriminatedUnion('kind', [
  take,
  changed,
  confirmed,
  aside,
  item,
  closed,
  parked,
  resumed,
  signature,
  handover,
])
/** The kinds that are today as they were in format 1. */
export const unchangedKinds = [confirmed, aside, item, closed, parked, resumed, signature, handover] as const

/** One link of a job card's chain: its body with who, when and where in the order. */
export const entry = z.strictObject({
  format: z.literal(2),
  job: z.string(),
  seq: z.int().min(1),
  at: z.iso.datetime({ offset: true }),
  by: z.string(),
  body: entryBody,
})
export const storedEntry = entry.extend({ hash: z.hex().length(64) })

export type TransmitterSetting = z.infer<typeof transmitterSetting>
export type Runs = z.infer<typeof runs>
export type Change = z.infer<typeof change>
export type Standing = z.infer<typeof standing>
export type StandingState = z.infer<typeof standingState>
export type Standings = z.infer<typeof standings>
export type Overall = z.infer<typeof overall>
export type EntryBody = z.infer<typeof entryBody>
export type ItemBody = z.infer<typeof item>
export type TakeBody = z.infer<typeof take>
export type ChangeBody = z.infer<typeof changed>
export type HandoverBody = z.infer<typeof handover>
export type Entry = z.infer<typeof entry>
export type StoredEntry = z.infer<typeof storedEntry>
