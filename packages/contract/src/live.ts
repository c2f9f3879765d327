import { z } from 'zod'
import { boardState } from './board'
import { stepLabel, want } from './wants'

/** What a screen asks to be told of. A new request replaces the one before. */
export const watchRequest = z.strictObject({ watch: z.strictObject({ job: z.uuid().optional(), bench: z.uuid().optional() }) })

/** A control is held down: what turns under it goes on for 0.2 s more. Each press has its own number. */
export const keepRequest = z.strictObject({ keep: z.strictObject({ job: z.uuid(), press: z.string().min(1).max(40) }) })
/** Is answered at once, so that a screen can measure the way there and back by its own clock. */
export const pingRequest = z.strictObject({ ping: z.int().nonnegative() })
/** All that a screen sends. */
export const screenRequest = z.union([watchRequest, keepRequest, pingRequest])

export const linkPhase = z.enum(['none', 'connecting', 'up', 'lost'])
/** How the link of a bench stands. Samples of a bench carry board time; `bootedAtMs` tells one start of the board from another. */
export const linkTell = z.strictObject({
  tell: z.literal('link'),
  bench: z.string(),
  phase: linkPhase,
  detail: z.string(),
  board: z.string().nullable(),
  bootedAtMs: z.number().nullable(),
  state: boardState.nullable(),
  loader: z.boolean().describe('the board waits in its loader for an image'),
  powerSince: z.string().nullable().describe('when this battery connection was made'),
  lostBlocks: z.int(),
})

export const takePhase = z.enum(['capturing', 'waiting', 'judging', 'writing', 'stored', 'aborted'])
/** How a running take stands: which of its steps, what that wants, and what share of it is there. */
export const takeTell = z.strictObject({
  tell: z.literal('take'),
  job: z.string(),
  check: z.string(),
  phase: takePhase,
  done: z.array(stepLabel).readonly().describe('the steps that were done, by label'),
  want: want.nullable(),
  share: z.number().min(0).max(1),
  seq: z.int().optional(),
  detail: z.string().optional().describe('why a take that nobody stopped was not kept'),
  guide: z
    .strictObject({ words: z.string(), tiltDeg: z.number().nullable() })
    .nullable()
    .optional()
    .describe('how a pose that is held, or a control that is moved, stands'),
  said: z.boolean().optional().describe('what the step asks the technician for was said'),
  hover: z.number().optional().describe('the command in hover that it is judged against, 0..1, where the check reads it'),
})

/** How the writing of an image stands. `done` and `failed` end it. */
export const imageTell = z.strictObject({
  tell: z.literal('image'),
  job: z.string(),
  version: z.string(),
  phase: z.enum(['looking', 'writing', 'verifying', 'ending', 'restarting', 'done', 'failed']),
  share: z.number().min(0).max(1),
  detail: z.string().optional(),
})

/** Somebody appended to a job card, or the hold of a bench changed: read it again. */
export const changedTell = z.strictObject({ tell: z.literal('changed'), job: z.string().nullable() })

/** Answers a ping; with how long the board of the watched bench last took to answer the server. */
export const pongTell = z.strictObject({ tell: z.literal('pong'), ping: z.int(), boardMs: z.number().nullable() })

/** Text frames of the live feed. Binary frames are Bench Link's sense blocks, as the board sent them. */
export const liveTell = z.discriminatedUnion('tell', [linkTell, takeTell, imageTell, changedTell, pongTell])

export type WatchRequest = z.infer<typeof watchRequest>
export type LinkPhase = z.infer<typeof linkPhase>
export type LinkTell = z.infer<typeof linkTell>
export type ImageTell = z.infer<typeof imageTell>
export type TakeTell = z.infer<typeof takeTell>
export type LiveTell = z.infer<typeof liveTell>
