import { z } from 'zod'

/** What a sheet may set instead of a default limit; its reason is part of the record. */
export const limitOverride = z
  .strictObject({ min: z.number().optional(), max: z.number().optional(), reason: z.string().min(3) })
  .refine((limit) => limit.min !== undefined || limit.max !== undefined, 'a limit needs a min or a max')

export const motorPosition = z.strictObject({
  tier: z.enum(['only', 'upper', 'lower']),
  output: z.int().min(1).max(12),
  turn: z.enum(['clockwise', 'anticlockwise']),
})

/** A limb of the frame: bearing clockwise from the nose, as seen from above. */
export const boom = z.strictObject({
  name: z.string().min(1),
  bearingDeg: z.number().min(-180).max(360),
  radiusM: z.number().positive().max(3),
  motors: z.array(motorPosition).min(1).max(2),
})

export const geometry = z.strictObject({
  booms: z.array(boom).min(3).max(12),
  body: z.strictObject({ lengthM: z.number().positive(), widthM: z.number().positive() }),
  propDiameterM: z.number().positive(),
})

export const settingValue = z.number()
export const settings = z.record(z.string().regex(/^[a-z]+(\.[a-zA-Z0-9]+)+$/), settingValue)

export const sheet = z.strictObject({
  type: z.string().min(1),
  version: z.int().min(1),
  title: z.string().min(1),
  geometry,
  settings,
  limits: z.record(z.string(), limitOverride),
  setAside: z.array(z.string()).optional().describe('checks that this type does not need'),
})
/** The parts of a sheet that one check reads; `{}` stands for the default limits. */
export const sheetPart = sheet.partial()

export type Sheet = z.infer<typeof sheet>
export type SheetPart = z.infer<typeof sheetPart>
export type Geometry = z.infer<typeof geometry>
export type Settings = z.infer<typeof settings>
