import { z } from 'zod'
import { reports } from './reports'
import { settings, sheetPart } from './sheet'
import { imuStage } from './stage'

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

export const imuStream = z
  .strictObject({
    stage: imuStage,
    t: timeColumn,
    ax: column,
    ay: column,
    az: column,
    gx: column,
    gy: column,
    gz: column,
  })
  .superRefine(sameLength)
export const attitudeStream = z.strictObject({ t: timeColumn, roll: column, pitch: column, yaw: column }).superRefine(sameLength)

export const magStream = z.strictObject({ t: timeColumn, mx: column, my: column, mz: column }).superRefine(sameLength)
export const baroStream = z.strictObject({ t: timeColumn, height: column }).superRefine(sameLength)
export const fixStream = z
  .strictObject({ t: timeColumn, fixed: column, satellites: column, dilution: column })
  .superRefine(sameLength)
export const powerStream = z.strictObject({ t: timeColumn, volts: column, amps: column, mah: column }).superRefine(sameLength)
/** What the meter of the bench reads: in the battery's lead, and at the board's own rail. */
export const meterStream = z.strictObject({ t: timeColumn, volts: column, amps: column, rail: column }).superRefine(sameLength)

export const segment = z.strictObject({
  label: z.string().min(1),
  streams: z.strictObject({
    imu: imuStream.optional(),
    attitude: attitudeStream.optional(),
    mag: magStream.optional(),
    baro: baroStream.optional(),
    fix: fixStream.optional(),
    power: powerStream.optional(),
    meter: meterStream.optional(),
  }),
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
    })
    .default({}),
  segments: z.array(segment).min(1),
  written: settings.optional().describe('settings as they were read back after the take itself had written them'),
  observations: z.array(observation).optional(),
})

export type Column = z.infer<typeof column>
export type ImuStream = z.infer<typeof imuStream>
export type AttitudeStream = z.infer<typeof attitudeStream>
export type MagStream = z.infer<typeof magStream>
export type Offset = z.infer<typeof offset>
export type Side = z.infer<typeof side>
export type Observation = z.infer<typeof observation>
export type BuiltPart = z.infer<typeof builtPart>
export type AsBuilt = z.infer<typeof asBuilt>
export type Segment = z.infer<typeof segment>
export type Evidence = z.infer<typeof evidence>
export type EvidenceInput = z.input<typeof evidence>
export type Place = z.infer<typeof place>
