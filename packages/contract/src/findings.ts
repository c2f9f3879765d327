import { z } from 'zod'
import { settings } from './sheet'

export const verdict = z.enum(['pass', 'fail', 'refused'])
export const sensorName = z.enum(['gyro'])

/** Work on the airframe that a remedy can name. */
export const work = z.enum([
  'fasten board',
  'replace board',
  'seat board',
  'hold by board edges',
  'replace compass',
  'replace barometer',
  'replace position receiver',
  'reseat plug',
  'clear short',
  'unplug what draws',
  'replace regulator',
  'fit video antenna',
  'replace motor',
  'unplug past the board',
  'update part',
  'move plug',
])

/**
 * The exact act that mends a finding. With `settings` or `calibrate`, Taraf can do it over the link; `work` names what hands
 * must do, in the order worth trying.
 */
export const remedy = z.strictObject({
  act: z.string().min(1),
  settings: settings.optional(),
  calibrate: sensorName.optional(),
  work: z.array(work).min(1).optional(),
  socket: z.int().optional().describe('which socket that work is at'),
  part: z.string().optional().describe('which part that work is at'),
  image: z.string().optional().describe('the version of the image to write'),
})

export const limit = z.strictObject({
  min: z.number().optional(),
  max: z.number().optional(),
  equals: z.unknown().optional(),
})

/** A measured value, its limit, its verdict and, if it fails, its remedy. `shown` is measured but not judged. */
export const finding = z.strictObject({
  key: z.string().min(1),
  value: z.union([z.number(), z.string(), z.array(z.number()), z.array(z.array(z.number())), z.record(z.string(), z.number())]),
  unit: z.string(),
  limit: limit.optional(),
  verdict: z.enum(['pass', 'fail', 'refused', 'shown']),
  remedy: remedy.optional(),
})

export const findings = z.strictObject({
  format: z.literal('taraf-findings/1'),
  check: z.string(),
  version: z.int().min(1),
  verdict,
  findings: z.array(finding),
})
export const findingsError = z.strictObject({ format: z.literal('taraf-findings/1'), error: z.string() })

export type Work = z.infer<typeof work>
export type Verdict = z.infer<typeof verdict>
export type Remedy = z.infer<typeof remedy>
export type Limit = z.infer<typeof limit>
export type Finding = z.infer<typeof finding>
export type Findings = z.infer<typeof findings>
export type FindingsError = z.infer<typeof findingsError>
