import { z } from 'zod'
import { imuStage } from './evidence'
import { sensorName } from './findings'
import { settings } from './sheet'

/** Bench Link, version 1: CBOR maps over a WebSocket. `docs/bench-link.md` specifies each message, its order and its errors. */
export const benchLinkVersion = 1
/** The largest message that either side takes, bytes. */
export const benchLinkMaxBytes = 256 * 1024

const id = z.int().nonnegative()
export const ask = z.discriminatedUnion('ask', [
  z.strictObject({ id, ask: z.literal('hello'), version: z.int() }),
  z.strictObject({ id, ask: z.literal('identity') }),
  z.strictObject({ id, ask: z.literal('settings.list') }),
  z.strictObject({ id, ask: z.literal('settings.write'), values: settings }),
  z.strictObject({ id, ask: z.literal('settings.save') }),
  z.strictObject({ id, ask: z.literal('restart') }),
  z.strictObject({ id, ask: z.literal('sense'), stage: imuStage, rateHz: z.literal(200), rows: z.int().min(1).max(40) }),
  z.strictObject({ id, ask: z.literal('calibrate'), sensor: sensorName }),
])

export const boardState = z.strictObject({
  power: z.enum(['cable', 'battery', 'both']),
  powerId: z.string(),
  motors: z.enum(['still', 'turning', 'armed']),
  radio: z.enum(['heard', 'lost', 'none']),
})
export const identity = z.strictObject({
  board: z.string(),
  target: z.string(),
  firmware: z.strictObject({ name: z.string(), version: z.string() }),
})
export const boardSetting = z.strictObject({
  name: z.string(),
  unit: z.string(),
  min: z.number(),
  max: z.number(),
  value: z.number(),
  saved: z.number(),
})

/** What each ask is answered with. */
export const answers = {
  hello: z.strictObject({ version: z.int(), speaker: z.string(), bootedAtMs: z.number(), state: boardState }),
  identity,
  'settings.list': z.strictObject({ settings: z.array(boardSetting) }),
  'settings.write': z.strictObject({}),
  'settings.save': z.strictObject({}),
  restart: z.strictObject({ backInMs: z.number() }),
  sense: z.strictObject({}),
  calibrate: z.strictObject({ values: settings }),
} as const
export type AskName = keyof typeof answers
export type AnswerOf<Name extends AskName> = z.infer<(typeof answers)[Name]>

export const refusalType = z.enum(['malformed', 'unknown', 'version', 'out-of-range', 'moving', 'busy'])
export const reply = z.union([
  z.strictObject({ id, answer: z.record(z.string(), z.unknown()) }),
  z.strictObject({ id: id.nullable(), refusal: z.strictObject({ type: refusalType, detail: z.string() }) }),
])

/** The quantities of a sense block, in the order in which their columns lie in `values`. */
export const senseColumns = ['ax', 'ay', 'az', 'gx', 'gy', 'gz', 'roll', 'pitch', 'yaw'] as const
export type SenseColumn = (typeof senseColumns)[number]

/**
 * A block of samples: `seq` counts blocks since the last `sense`, `t` is seconds since the board's start, `values` holds the
 * columns one behind the other, each as long as `t`. Two typed arrays cost a fifth of ten to decode, two hundred times a second.
 */
export const senseTell = z.strictObject({
  tell: z.literal('sense'),
  seq: z.int().nonnegative(),
  stage: imuStage,
  t: z.instanceof(Float64Array),
  values: z.instanceof(Float32Array),
})
export const stateTell = z.strictObject({ tell: z.literal('state'), state: boardState })
export const tell = z.discriminatedUnion('tell', [senseTell, stateTell])

export type Ask = z.infer<typeof ask>
export type AskBody = Ask extends infer A ? (A extends { id: number } ? Omit<A, 'id'> : never) : never
export type Reply = z.infer<typeof reply>
export type RefusalType = z.infer<typeof refusalType>
export type SenseTell = z.infer<typeof senseTell>
export type Tell = z.infer<typeof tell>
export type BoardState = z.infer<typeof boardState>
export type BoardIdentity = z.infer<typeof identity>
export type BoardSetting = z.infer<typeof boardSetting>

/** One column of a sense block: a view, not a copy. */
export const senseColumn = ({ t, values }: Pick<SenseTell, 't' | 'values'>, name: SenseColumn): Float32Array => {
  const at = senseColumns.indexOf(name) * t.length
  return values.subarray(at, at + t.length)
}
