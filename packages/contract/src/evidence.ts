import { z } from 'zod'
import { sheetPart } from './sheet'

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

export const imuStage = z.enum(['raw', 'calibrated', 'body'])
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

export const segment = z.strictObject({
  label: z.string().min(1),
  streams: z.strictObject({ imu: imuStream.optional(), attitude: attitudeStream.optional() }),
})

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
  board: z
    .looseObject({
      orientation: z.strictObject(angles).optional(),
      level: z.strictObject({ roll: z.number(), pitch: z.number() }).optional(),
    })
    .default({}),
  segments: z.array(segment).min(1),
  observations: z.array(z.looseObject({ segment: z.string() })).optional(),
})

export type Column = z.infer<typeof column>
export type ImuStage = z.infer<typeof imuStage>
export type ImuStream = z.infer<typeof imuStream>
export type AttitudeStream = z.infer<typeof attitudeStream>
export type Segment = z.infer<typeof segment>
export type Evidence = z.infer<typeof evidence>
export type EvidenceInput = z.input<typeof evidence>
export type Place = z.infer<typeof place>
