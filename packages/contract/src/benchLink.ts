import { z } from 'zod'
import { byName } from './byName'
import {
  boardEvent,
  boardSetting,
  boardState,
  escSettings,
  firmware,
  foundEscs,
  identity,
  loopTiming,
  outputNumber,
  permitKind,
  socketList,
} from './board'
import { imuStage } from './stage'
import { sensorName } from './findings'
import { settings } from './sheet'
import { besideNames, senseColumns, type SenseColumn } from './streams'

/** Bench Link, version 1: CBOR maps over a WebSocket. `docs/bench-link.md` specifies each message, its order and its errors. */
export const benchLinkVersion = 1
/** The code of a WebSocket's close: a link with a lease as new or newer was made. */
export const supersededCode = 4001
/** The largest message that either side takes, bytes. */
export const benchLinkMaxBytes = 256 * 1024

const id = z.int().nonnegative()
const share = z.number().min(0).max(1)

export const besideName = z.enum(besideNames)

export const ask = z.discriminatedUnion('ask', [
  z.strictObject({
    id,
    ask: z.literal('hello'),
    version: z.int(),
    lease: z
      .int()
      .nonnegative()
      .optional()
      .describe('rises with every server that takes the bench over; an older one is refused'),
  }),
  z.strictObject({ id, ask: z.literal('identity') }),
  z.strictObject({ id, ask: z.literal('state') }),
  z.strictObject({ id, ask: z.literal('settings.list') }),
  z.strictObject({ id, ask: z.literal('settings.write'), values: settings }),
  z.strictObject({ id, ask: z.literal('settings.save') }),
  z.strictObject({ id, ask: z.literal('settings.clear') }),
  z.strictObject({ id, ask: z.literal('restart') }),
  z.strictObject({
    id,
    ask: z.literal('sense'),
    stage: imuStage,
    rateHz: z.literal(200),
    rows: z.int().min(1).max(40),
    streams: z.array(besideName).max(besideNames.length).optional(),
  }),
  z.strictObject({ id, ask: z.literal('burst'), seconds: z.number().min(0.05).max(2) }),
  z.strictObject({ id, ask: z.literal('calibrate'), sensor: sensorName }),
  z.strictObject({ id, ask: z.literal('permit'), kind: permitKind, props: z.enum(['off', 'on']), powerId: z.string() }),
  z.strictObject({ id, ask: z.literal('permit.drop'), token: z.string() }),
  z.strictObject({
    id,
    ask: z.literal('spin'),
    token: z.string(),
    values: z.array(z.strictObject({ output: outputNumber, share })).max(12),
  }),
  z.strictObject({ id, ask: z.literal('stop') }),
  z.strictObject({ id, ask: z.literal('image.map') }),
  z.strictObject({ id, ask: z.literal('image.begin') }),
  z.strictObject({ id, ask: z.literal('image.write'), address: z.int().nonnegative(), data: z.instanceof(Uint8Array) }),
  z.strictObject({ id, ask: z.literal('image.read'), address: z.int().nonnegative(), length: z.int().min(1).max(65_536) }),
  z.strictObject({ id, ask: z.literal('image.end'), sha256: z.hex().length(64) }),
  z.strictObject({ id, ask: z.literal('escs.list') }),
  z.strictObject({ id, ask: z.literal('escs.write'), outputs: z.array(outputNumber).min(1).max(12), settings: escSettings }),
  z.strictObject({ id, ask: z.literal('sockets.list') }),
  z.strictObject({ id, ask: z.literal('sensors.list') }),
  z.strictObject({ id, ask: z.literal('loop') }),
  z.strictObject({ id, ask: z.literal('log.read'), from: z.int().nonnegative(), most: z.int().min(1).max(200) }),
  z.strictObject({ id, ask: z.literal('log.burst') }),
  z.strictObject({ id, ask: z.literal('log.rows'), from: z.int().nonnegative(), most: z.int().min(1).max(2000) }),
])

const nothing = z.strictObject({})

/** What each ask is answered with. */
export const answers = {
  hello: z.strictObject({ version: z.int(), speaker: z.string(), bootedAtMs: z.number(), state: boardState }),
  identity,
  state: z.strictObject({ state: boardState }),
  'settings.list': z.strictObject({ settings: z.array(boardSetting) }),
  'settings.write': nothing,
  'settings.save': nothing,
  'settings.clear': nothing,
  restart: z.strictObject({ backInMs: z.number() }),
  sense: nothing,
  burst: z.strictObject({ rateHz: z.number(), values: z.instanceof(Float32Array) }),
  calibrate: z.strictObject({ values: settings }),
  permit: z.strictObject({ token: z.string() }),
  'permit.drop': nothing,
  spin: nothing,
  stop: nothing,
  'image.map': z.strictObject({
    start: z.int(),
    bytes: z.int(),
    identityAt: z.int(),
    blockBytes: z.int().min(1),
    written: z.int().nonnegative().describe('bytes from the start to the last one written since the last erasure'),
  }),
  'image.begin': nothing,
  'image.write': nothing,
  'image.read': z.strictObject({ data: z.instanceof(Uint8Array) }),
  'image.end': z.strictObject({ firmware }),
  'escs.list': z.strictObject({
    escs: foundEscs,
    ranges: byName(z.strictObject({ min: z.number(), max: z.number(), unit: z.string() })),
  }),
  'escs.write': z.strictObject({ written: z.array(outputNumber) }),
  'sockets.list': z.strictObject({ sockets: socketList }),
  'sensors.list': z.strictObject({
    sensors: z.array(z.strictObject({ name: z.string(), found: z.boolean(), address: z.int() })),
  }),
  loop: loopTiming,
  'log.read': z.strictObject({
    entries: z.array(boardEvent.extend({ entry: z.int(), boot: z.int() })),
  }),
  'log.burst': z.strictObject({
    boot: z.int().nonnegative(),
    endsAt: z.number().describe('when its last row was sampled, s since that start'),
    rateHz: z.number(),
    values: z.instanceof(Float32Array).describe('as of a burst; none where the flight was too short for one'),
  }),
  'log.rows': z.strictObject({
    boot: z.int().nonnegative(),
    count: z.int().nonnegative().describe('rows that there are'),
    t: z.instanceof(Float64Array),
    values: z.instanceof(Float32Array).describe('columns one behind the other, as `flightColumns` names them'),
  }),
} as const
export type AskName = keyof typeof answers
export type AnswerOf<Name extends AskName> = z.infer<(typeof answers)[Name]>

export const refusalType = z.enum([
  'malformed',
  'unknown',
  'version',
  'out-of-range',
  'moving',
  'busy',
  'held',
  'power-changed',
  'token',
  'props',
  'no-battery',
  'signal',
  'turning',
  'loader',
  'not-loading',
  'address',
  'identity',
  'hash',
  'target',
  'superseded',
])
export const reply = z.union([
  z.strictObject({ id, answer: z.record(z.string(), z.unknown()) }),
  z.strictObject({ id: id.nullable(), refusal: z.strictObject({ type: refusalType, detail: z.string() }) }),
])

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
/** Rows of another stream, laid out like a sense block. `radio` has a row for every received frame. */
export const streamTell = z.strictObject({
  tell: z.literal('stream'),
  stream: besideName,
  seq: z.int().nonnegative(),
  t: z.instanceof(Float64Array),
  values: z.instanceof(Float32Array),
})
export const eventTell = z.strictObject({ tell: z.literal('event'), event: boardEvent })
export const tell = z.discriminatedUnion('tell', [senseTell, stateTell, streamTell, eventTell])

export type Ask = z.infer<typeof ask>
export type AskBody = Ask extends infer A ? (A extends { id: number } ? Omit<A, 'id'> : never) : never
export type Reply = z.infer<typeof reply>
export type RefusalType = z.infer<typeof refusalType>
export type StreamTell = z.infer<typeof streamTell>
export type SenseTell = z.infer<typeof senseTell>
export type Tell = z.infer<typeof tell>

/** One column of a sense block: a view, not a copy. */
export const senseColumn = ({ t, values }: Pick<SenseTell, 't' | 'values'>, name: SenseColumn): Float32Array => {
  const at = senseColumns.indexOf(name) * t.length
  return values.subarray(at, at + t.length)
}
