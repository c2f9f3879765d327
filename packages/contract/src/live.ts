import { z } from 'zod'
import { boardState } from './benchLink'

/** What a screen asks to be told of. A new request replaces the one before. */
export const watchRequest = z.strictObject({ watch: z.strictObject({ job: z.uuid().optional(), bench: z.uuid().optional() }) })

export const linkPhase = z.enum(['none', 'connecting', 'up', 'lost'])
/** How the link of a bench stands. Samples of a bench carry board time; `bootedAtMs` places it on the clock. */
export const linkTell = z.strictObject({
  tell: z.literal('link'),
  bench: z.string(),
  phase: linkPhase,
  detail: z.string(),
  board: z.string().nullable(),
  bootedAtMs: z.number().nullable(),
  state: boardState.nullable(),
  lostBlocks: z.int(),
})

export const takePhase = z.enum(['capturing', 'waiting', 'judging', 'stored', 'aborted'])
/** How a running take stands: which segment, and what share of it is captured. */
export const takeTell = z.strictObject({
  tell: z.literal('take'),
  job: z.string(),
  check: z.string(),
  phase: takePhase,
  segment: z.int().nonnegative(),
  share: z.number().min(0).max(1),
  seq: z.int().optional(),
  detail: z.string().optional().describe('why a take that nobody stopped was not kept'),
})

/** Somebody appended to a job card, or the hold of a bench changed: read it anew. */
export const changedTell = z.strictObject({ tell: z.literal('changed'), job: z.string().nullable() })

/** Text frames of the live feed. Binary frames are Bench Link's sense blocks, as the board sent them. */
export const liveTell = z.discriminatedUnion('tell', [linkTell, takeTell, changedTell])

export type WatchRequest = z.infer<typeof watchRequest>
export type LinkPhase = z.infer<typeof linkPhase>
export type LinkTell = z.infer<typeof linkTell>
export type TakeTell = z.infer<typeof takeTell>
export type LiveTell = z.infer<typeof liveTell>
