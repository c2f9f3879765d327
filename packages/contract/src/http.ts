import { z } from 'zod'
import { byName } from './byName'
import { change, overall, signatureRole, standings, standingState, storedEntry, transmitterSetting } from './job'
import { boardSettings } from './board'
import { builtPart, observation, offset, side } from './evidence'
import { settings, sheet } from './sheet'

const words = z.string().trim().min(3, 'say it in at least three letters').max(400)

export const role = z.enum(['technician', 'lead', 'reader'])
export const person = z.strictObject({ id: z.string(), login: z.string(), name: z.string(), role })
/** What a lead changes of a person; `withdrawn` ends all that they may do. */
export const personChange = z
  .strictObject({ role: role.optional(), withdrawn: z.boolean().optional() })
  .refine(({ role: to, withdrawn }) => to !== undefined || withdrawn !== undefined, 'name a role, or withdrawn')
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
  version: z.int().describe('of its build sheet'),
  overall,
  parked: z.string().nullable().describe('why its newest job card waits'),
  next: z.string().nullable().describe('the check to start next'),
  openItems: z.int(),
  route: z.array(standingState).describe('of its newest job card, a standing for each station'),
  bench: z.string().nullable().describe('the name of the bench that it is on'),
  touchedAt: z.string(),
  touchedBy: z.string().nullable(),
})
/** What a list shows of a job card. */
export const listing = z.strictObject({
  next: z.string().nullable(),
  openItems: z.int(),
  parked: z.string().nullable(),
  route: z.array(standingState),
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
  parts: z.array(builtPart),
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
  parts: z.array(builtPart),
  sheet,
  standings,
  entries: z.array(storedEntry),
  people: byName(z.string()),
  bench: benchView.nullable(),
  shop: z.strictObject({ no: z.int(), hash: z.string() }).nullable().describe("the entry of the shop's chain that closed it"),
})

/** What is on the benches and waits for somebody now. */
export const todayView = z.strictObject({
  benches: z.array(
    z.strictObject({
      bench: z.string(),
      name: z.string(),
      job: z.string(),
      tag: z.string(),
      by: z.strictObject({ id: z.string(), name: z.string() }),
      next: z.string().nullable().describe('the check to start next'),
      motors: z.enum(['still', 'turning', 'armed']).nullable().describe('null where this server does not see them'),
    }),
  ),
  cards: z.array(
    z.strictObject({
      job: z.string(),
      tag: z.string(),
      title: z.string(),
      overall,
      next: z.string().nullable(),
      parked: z.string().nullable(),
    }),
  ),
  toSign: z.array(z.strictObject({ job: z.string(), tag: z.string(), as: signatureRole, after: z.string().nullable() })),
  stale: z.array(z.strictObject({ job: z.string(), tag: z.string(), checks: z.int(), by: storedEntry.nullable() })),
  notes: z.array(
    z.strictObject({
      id: z.string(),
      words: z.string(),
      cards: z.array(z.strictObject({ job: z.string(), tag: z.string() })),
    }),
  ),
})

/** What a check last found on other airframes of the type, by the key of each finding that is a number. */
export const earlierTakes = z.array(z.strictObject({ tag: z.string(), at: z.string(), values: byName(z.number()) }))

export const openedJob = z.strictObject({ id: z.string() })
export const holdRequest = z.strictObject({ job: z.uuid() })
/** What a step of a take asks the technician for: the side that points up, where the antenna sits, which motor turned and which way. */
export const said = z.strictObject({
  up: side.optional(),
  antenna: offset.optional(),
  position: z.string().max(60).optional(),
  turn: z.enum(['clockwise', 'anticlockwise', 'none']).optional(),
})
/** Goes on with a take that waits; says what it asks for, or answers the list that it stopped at. */
export const nextRequest = said.extend({ observations: z.array(observation).max(200).optional() })
/**
 * `observations` answer the list of a check that is asked of the technician; `began` is how many entries the card had when the first of
 * them was given: what was changed since then meets the list.
 */
export const takeRequest = z.strictObject({
  check: z.string().min(1),
  observations: z.array(observation).max(200).optional(),
  began: z.int().nonnegative().optional(),
})
export const remedyRequest = z.strictObject({ seq: z.int().min(1), key: z.string().min(1) })
export const remedyResult = z.strictObject({ seq: z.int() })
/** Changes that hands make; what the link can tell is recorded from what the board reports, and from nothing else. */
export const handChanges = ['knock', 'remount', 'part', 'lead', 'prop', 'transmitter'] as const
export const changeRequest = z.strictObject({
  change: change.refine(
    ({ what }) => (handChanges as readonly string[]).includes(what),
    `only these are recorded by hand: ${handChanges.join(', ')}`,
  ),
  cause: z.string().trim().min(3).max(400),
})
/** Another board was built in: its serial as the board itself says it, and why. */
export const boardRequest = z.strictObject({ board: z.string().trim().min(1).max(60), cause: words })
export const confirmRequest = z.strictObject({ what: z.literal('props off') })
export const itemRequest = z.strictObject({ words, blocks: z.boolean() })
export const closeRequest = z.strictObject({ words })
export const parkRequest = z.strictObject({ reason: words })

/** Build sheets, newest version of each type first. */
export const sheetRow = z.strictObject({
  type: z.string(),
  version: z.int(),
  title: z.string(),
  variantOf: z.string().nullable(),
  used: z.boolean(),
  airframes: z.int(),
  madeAt: z.string(),
  madeBy: z.string().nullable(),
  why: z.string().nullable(),
})
export const sheetRows = z.array(sheetRow)
export const sheetView = z.strictObject({ sheet, used: z.boolean(), versions: z.array(z.int()) })
export const madeSheet = z.strictObject({ type: z.string(), version: z.int() })

const tag = z
  .string()
  .trim()
  .min(1, 'a tag is needed')
  .max(40)
  .regex(/^[\p{L}\p{N}][\p{L}\p{N}._ -]*$/u, 'a tag is letters, digits, points, dashes')
export const newAirframe = z.strictObject({
  tag,
  type: z.string().trim().min(1, 'a type is needed'),
  version: z.int().min(1).optional().describe('the newest where none is named'),
  board: z.string().trim().min(1, 'the serial of the board is needed').max(60),
  parts: z.array(builtPart).max(60).default([]),
})
export const registerRequest = z.strictObject({ airframes: z.array(newAirframe).min(1).max(500) })
export const registered = z.strictObject({ tags: z.array(z.string()) })
/** A file of airframes as it would be taken: nothing is until it is confirmed. */
export const importPreview = z.strictObject({
  rows: z.array(
    z.strictObject({
      line: z.int(),
      tag: z.string(),
      type: z.string(),
      board: z.string(),
      parts: z.int(),
      wrong: z.array(z.string()),
    }),
  ),
  wrong: z.int().describe('rows that cannot be taken'),
})
export const partsRequest = z.strictObject({ parts: z.array(builtPart).max(60), cause: words })

export const batchNoteRequest = z.strictObject({
  part: z.string().trim().min(1, 'name the part').max(60),
  lotFrom: z.string().trim().min(1, 'name the lot').max(60),
  lotTo: z.string().trim().min(1).max(60),
  defect: words,
  inspection: words,
})
export const batchNote = batchNoteRequest.extend({
  id: z.uuid(),
  at: z.string(),
  by: z.string(),
  open: z.array(z.strictObject({ tag: z.string(), job: z.string() })),
  handedOver: z.array(z.strictObject({ tag: z.string(), closedAt: z.string() })),
  waiting: z.array(z.string()).describe('affected airframes without a job card yet'),
})
export const batchNotes = z.array(batchNote)

/** One model memory of a transmitter, as the record has it: for which airframes, and what is set on it now. */
export const transmitterCard = z.strictObject({
  transmitter: z.string(),
  model: z.int(),
  flies: z.int().describe('how many airframes'),
  types: z.array(z.string()).describe('of which types they are'),
  airframes: z
    .array(z.strictObject({ tag: z.string(), type: z.string(), job: z.string() }))
    .describe('of those, the ones that were on a bench last'),
  set: z.array(transmitterSetting.omit({ from: true }).extend({ at: z.string(), by: z.string(), tag: z.string() })),
  at: z.string().describe('when anything of it was last recorded'),
})
export const transmitterCards = z.array(transmitterCard)

/** Settings of one airframe: as the board says now, or as it was seen last. */
export const settingsView = z.strictObject({
  live: z.boolean(),
  target: z.string(),
  firmware: z.string().describe('name and version of what runs, or ran when they were seen last'),
  settings: boardSettings,
  changed: z.record(
    z.string(),
    z.strictObject({ at: z.string(), by: z.string(), cause: z.string(), from: z.number().nullable() }),
  ),
})
/** A file of settings: it belongs to one firmware, whose settings it names. */
export const settingsFile = z.strictObject({
  format: z.literal('taraf-settings/1'),
  target: z.string(),
  firmware: z.string(),
  settings,
})
/** What a file says; null where it does not say for what firmware it is. */
export const readFile = z.strictObject({ firmware: z.string().nullable(), values: settings })
export const writeRequest = z.strictObject({ values: settings, cause: words })
export const clearRequest = z.strictObject({ cause: words })
export const written = z.strictObject({ seq: z.int().nullable() })

/** A firmware image that the shop keeps. */
export const imageView = z.strictObject({
  sha256: z.hex().length(64),
  file: z.string(),
  target: z.string(),
  name: z.string(),
  version: z.string(),
  features: z.array(z.string()),
  bytes: z.int(),
  at: z.string(),
  by: z.string(),
})
export const imageViews = z.array(imageView)
export const imageRequest = z.strictObject({ sha256: z.hex().length(64), reason: words })
export const keptPhoto = z.strictObject({ sha256: z.hex().length(64) })

export const asideRequest = z.strictObject({ check: z.string().min(1), reason: z.string().trim().min(3).max(400) })
export const signatureRequest = signIn.extend({ role: signatureRole })

export type Said = z.infer<typeof said>
export type Role = z.infer<typeof role>
export type Listing = z.infer<typeof listing>
export type TodayView = z.infer<typeof todayView>
export type PersonChange = z.infer<typeof personChange>
export type Person = z.infer<typeof person>
export type AirframeQuery = z.infer<typeof airframeQuery>
export type AirframeRow = z.infer<typeof airframeRow>
export type AirframePage = z.infer<typeof airframePage>
export type AirframeView = z.infer<typeof airframeView>
export type BenchView = z.infer<typeof benchView>
export type JobSummary = z.infer<typeof jobSummary>
export type JobView = z.infer<typeof jobView>
export type EarlierTakes = z.infer<typeof earlierTakes>
export type SheetRow = z.infer<typeof sheetRow>
export type SheetView = z.infer<typeof sheetView>
export type NewAirframe = z.infer<typeof newAirframe>
export type ImportPreview = z.infer<typeof importPreview>
export type BatchNote = z.infer<typeof batchNote>
export type BatchNoteRequest = z.infer<typeof batchNoteRequest>
export type TransmitterCard = z.infer<typeof transmitterCard>
export type SettingsView = z.infer<typeof settingsView>
export type ImageView = z.infer<typeof imageView>
export type AirframeSort = z.infer<typeof airframeSort>
