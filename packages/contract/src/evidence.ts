import { z } from 'zod'
import { byName } from './byName'
import { reports } from './reports'
import { settings, sheetPart } from './sheet'
import { imuStage } from './stage'
import { streams, type StreamName } from './streams'

/** One column of samples: a list in JSON, a typed array in CBOR (RFC 8746). Every number is finite. */
const typedColumn = z
  .union([z.instanceof(Float64Array), z.instanceof(Float32Array)])
  .refine((values) => values.every(Number.isFinite), 'every sample must be a finite number')
export const column = z
  .union([z.array(z.number('a sample must be a finite number')), typedColumn])
  .meta({ title: 'column', description: 'samples of one quantity, one for each time' })

/** A column of times: rises from row to row. */
const timeColumn = column.superRefine((times, ctx) => {
  for (let i = 1; i < times.length; i++)
    if (!((times[i] as number) > (times[i - 1] as number)))
      return ctx.addIssue({
        code: 'custom',
        path: [i],
        message: `time must rise, but ${times[i]} s follows ${times[i - 1]} s`,
      })
})

/** Refuses a stream whose columns differ in length from its times. */
const sameLength = (stream: object, ctx: z.RefinementCtx) => {
  const columns = Object.entries(stream).filter(([, value]) => typeof value === 'object') as [string, ArrayLike<number>][]
  const rows = columns.find(([name]) => name === 't')?.[1].length ?? 0
  for (const [name, values] of columns)
    if (values.length !== rows)
      ctx.addIssue({ code: 'custom', path: [name], message: `has ${values.length} samples where t has ${rows}` })
}

type Columns<Names extends readonly string[], Schema> = Record<Names[number], Schema>
const all = <const Names extends readonly string[]>(names: Names) =>
  Object.fromEntries(names.map((name) => [name, column])) as Columns<Names, typeof column>
const some = <const Names extends readonly string[]>(names: Names) =>
  Object.fromEntries(names.map((name) => [name, column.optional()])) as Columns<Names, z.ZodOptional<typeof column>>
const t = timeColumn

/** The streams of evidence, as the table of streams says them. */
const streamSchemas = {
  imu: z.strictObject({ stage: imuStage, t, ...all(streams.imu.columns) }).superRefine(sameLength),
  attitude: z.strictObject({ t, ...all(streams.attitude.columns) }).superRefine(sameLength),
  imuBurst: z.strictObject({ stage: imuStage, t, ...all(streams.imuBurst.columns) }).superRefine(sameLength),
  mag: z.strictObject({ t, ...all(streams.mag.columns) }).superRefine(sameLength),
  radio: z.strictObject({ t, ...some(streams.radio.columns) }).superRefine(sameLength),
  outputs: z.strictObject({ t, ...some(streams.outputs.columns) }).superRefine(sameLength),
  escs: z.strictObject({ t, ...some(streams.escs.columns) }).superRefine(sameLength),
  power: z.strictObject({ t, ...all(streams.power.columns) }).superRefine(sameLength),
  baro: z.strictObject({ t, ...all(streams.baro.columns) }).superRefine(sameLength),
  fix: z.strictObject({ t, ...all(streams.fix.columns) }).superRefine(sameLength),
  meter: z.strictObject({ t, ...all(streams.meter.columns) }).superRefine(sameLength),
} satisfies Record<StreamName, z.ZodType>
const { imu, attitude, imuBurst, mag, radio, outputs, escs, power, baro, fix, meter } = streamSchemas

/** What the board or the bench told, on the clock of the streams. */
export const evidenceEvent = z.looseObject({
  t: z.number(),
  what: z
    .enum(['armed', 'disarmed', 'refusing', 'gates', 'mode', 'loss', 'light', 'tone', 'link', 'power', 'taught'])
    .describe('gates: what would refuse arming from now on, whether or not anybody asks for it (reasons)'),
})

export const segment = z.strictObject({
  label: z.string().min(1),
  streams: z.strictObject({
    imu: imu.optional(),
    attitude: attitude.optional(),
    imuBurst: imuBurst.optional(),
    mag: mag.optional(),
    radio: radio.optional(),
    outputs: outputs.optional(),
    escs: escs.optional(),
    power: power.optional(),
    baro: baro.optional(),
    fix: fix.optional(),
    meter: meter.optional(),
  }),
  events: z.array(evidenceEvent).optional(),
  reports: reports.optional(),
})

/** The side of the airframe that points up at a tilt, as somebody tapped it on the plan. */
export const side = z.enum(['front', 'rear', 'left', 'right'])
/** Where a part sits, from the middle of the airframe, m: forward, right, down. */
export const offset = z.strictObject({
  forwardM: z.number().min(-3).max(3),
  rightM: z.number().min(-3).max(3),
  downM: z.number().min(-3).max(3),
})
export const observation = z.looseObject({
  segment: z.string(),
  up: side.optional(),
  antenna: offset.optional(),
  position: z.string().max(60).optional().describe('the motor position that turned'),
  turn: z
    .enum(['clockwise', 'anticlockwise', 'none'])
    .optional()
    .describe('which way it turned, seen from above; none where nothing did'),
  loss: z.string().max(60).optional().describe('what took the signal away'),
  throttle: z.string().max(60).optional().describe('where throttle stood as the signal went: half, idle or disarmed'),
  mode: z.string().max(60).optional().describe('the flight mode as the signal went'),
  hover: z.number().min(0).max(1).optional().describe('the command in hover that a loss is judged against'),
  item: z.string().optional().describe('the question that this answers'),
  answer: z.union([z.boolean(), z.number(), z.string().max(400)]).optional(),
  note: z.string().max(400).optional(),
  photo: z.hex().length(64).optional().describe('SHA-256 of a photo that is kept with the job card'),
})

/** A part that is built in, as it was registered. */
export const builtPart = z.strictObject({
  part: z.string().min(1).max(60),
  model: z.string().min(1).max(80),
  serial: z.string().min(1).max(60).nullable(),
  lot: z.string().min(1).max(60).nullable(),
})
/** The airframe itself: its tag, its board, and what it was built from. */
export const asBuilt = z.strictObject({ tag: z.string(), board: z.string(), parts: z.array(builtPart) })

/** A hover proof on the record: the command that held an airframe up, 0..1, with the payload of its sheet, and the voltage at which it did. */
export const flownHover = z.strictObject({ tag: z.string(), command: z.number().min(0).max(1), volts: z.number().positive() })

const angles = { roll: z.number(), pitch: z.number(), yaw: z.number() }
export const place = z.strictObject({
  lat: z.number().min(-90).max(90),
  lon: z.number().min(-180).max(180).optional(),
  heightM: z.number().min(-500).max(9000).optional(),
})

/**
 * One take's evidence (`docs/formats/`): what was captured, and what of the sheet, the board and the place the check reads.
 * Angles in `board` are degrees. The board may be described further than a check reads.
 */
export const evidence = z.strictObject({
  format: z.literal('taraf-evidence/1'),
  check: z.string().min(1),
  at: z.iso.datetime({ offset: true }).optional(),
  place: place.optional(),
  sheet: sheetPart.default({}),
  airframe: asBuilt.optional(),
  board: z
    .looseObject({
      orientation: z.strictObject(angles).optional(),
      chip: z.strictObject(angles).optional(),
      level: z.strictObject({ roll: z.number(), pitch: z.number() }).optional(),
      settings: settings.optional(),
      choices: byName(z.array(z.string()))
        .optional()
        .describe('what the board calls the choices of a setting, by its name: its number counts them from zero'),
    })
    .default({}),
  segments: z.array(segment).min(1),
  hovers: z
    .array(flownHover)
    .max(60)
    .optional()
    .describe('hover proofs that stand, of this airframe and of others of its type, newest first, where the check reads them'),
  written: settings.optional().describe('settings as they were read back after the take itself had written them'),
  observations: z.array(observation).optional(),
})

export type Column = z.infer<typeof column>
export type Streams = Segment['streams']
export type ImuStream = z.infer<typeof imu>
export type AttitudeStream = z.infer<typeof attitude>
export type MagStream = z.infer<typeof mag>
export type MeterStream = z.infer<typeof meter>
export type RadioStream = z.infer<typeof radio>
export type EvidenceEvent = z.infer<typeof evidenceEvent>
export type FlownHover = z.infer<typeof flownHover>
export type Offset = z.infer<typeof offset>
export type Side = z.infer<typeof side>
export type Observation = z.infer<typeof observation>
export type BuiltPart = z.infer<typeof builtPart>
export type AsBuilt = z.infer<typeof asBuilt>
export type Segment = z.infer<typeof segment>
export type Evidence = z.infer<typeof evidence>
export type EvidenceInput = z.input<typeof evidence>
export type Place = z.infer<typeof place>
