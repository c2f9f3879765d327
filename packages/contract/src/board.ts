import { z } from 'zod'
import { byName } from './byName'

// What a board says of itself, wherever it is told: over its link (`benchLink.ts`), to a screen, in a report.

/** What a motor may turn under (architecture, invariant 4). */
export const permitKind = z.enum(['spin', 'armed-bench', 'armed-alone', 'teach', 'flight'])

export const boardState = z.strictObject({
  power: z.enum(['cable', 'battery', 'both']),
  powerId: z.string(),
  motors: z.enum(['still', 'turning', 'armed']),
  radio: z.enum(['heard', 'lost', 'none']),
  mode: z.string(),
  refusing: z.array(z.string()),
  lossPhase: z.enum(['none', 'notice', 'wait', 'act', 'end', 'recover']),
  permit: permitKind.nullable(),
})
export const firmware = z.strictObject({
  name: z.string(),
  version: z.string(),
  features: z.array(z.string()),
  sha256: z.hex().length(64).optional().describe('of the image that runs, where the board can say it'),
})
/** `firmware` is null while the board is in its loader and has no image that it would start. */
export const identity = z.strictObject({
  board: z.string(),
  target: z.string(),
  firmware: firmware.nullable(),
  loader: z.boolean(),
})
export const boardSetting = z.strictObject({
  name: z.string(),
  unit: z.string(),
  min: z.number(),
  max: z.number(),
  factory: z.number(),
  value: z.number(),
  saved: z.number(),
  choices: z.array(z.string()).optional(),
})
const isBoardSetting = (one: Partial<Record<string, unknown>> | null): boolean => {
  if (typeof one !== 'object' || one === null || typeof one.name !== 'string' || typeof one.unit !== 'string') return false
  for (const key of ['min', 'max', 'factory', 'value', 'saved']) if (!Number.isFinite(one[key])) return false
  const { choices } = one
  const rest = choices === undefined ? Number('choices' in one) : 1
  return (
    Object.keys(one).length === 7 + rest &&
    (choices === undefined || (Array.isArray(choices) && choices.every((words) => typeof words === 'string')))
  )
}
/**
 * The same as `z.array(boardSetting)`, proved in one plain loop: a phone gets thousands at once, and a schema without
 * generated code takes longer over them than it takes to draw them.
 */
export const boardSettings = z.custom<z.infer<typeof boardSetting>[]>(
  (list) => Array.isArray(list) && list.every(isBoardSetting),
  'settings of a board',
)
export const boardEvent = z.strictObject({
  t: z.number(),
  what: z.string(),
  detail: byName(z.unknown()).optional(),
})

/** Counted from 1. */
export const outputNumber = z.int().min(1).max(12)
export const escSettings = byName(z.number())
export const foundEscs = z.array(
  z.strictObject({ output: outputNumber, found: z.boolean(), firmware: z.string().nullable(), settings: escSettings.nullable() }),
)
export const socketList = z.array(z.strictObject({ socket: z.int(), use: z.string(), goodFrames: z.int() }))
export const loopTiming = z.strictObject({ rateHz: z.number(), load: z.number(), jitter: z.number() })

export type BoardEvent = z.infer<typeof boardEvent>
export type Firmware = z.infer<typeof firmware>
export type BoardState = z.infer<typeof boardState>
export type BoardIdentity = z.infer<typeof identity>
export type BoardSetting = z.infer<typeof boardSetting>
