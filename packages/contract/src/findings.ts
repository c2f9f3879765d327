import { z } from 'zod'
import { byName } from './byName'
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
  'choose model',
  'bind receiver',
  'plug receiver lead',
  'set receiver silent',
  'feed receiver',
  'place receiver antenna',
  'replace receiver',
  'fit telemetry wire',
  'calibrate sticks',
  'mend transmitter',
  'reseat ESC plug',
  'replace ESC',
  'swap motor leads',
  'look at motor leads',
  'put right prop',
  'replace prop',
  'take load off',
])

const act = z.string().min(1)
const output = z.int().min(1).max(12)
const oneWay = [
  z.strictObject({ by: z.literal('settings'), act, settings }),
  z.strictObject({ by: z.literal('calibration'), act, calibrate: sensorName }),
  z.strictObject({ by: z.literal('image'), act, image: z.string().describe('the version of the image to write') }),
  z.strictObject({
    by: z.literal('escs'),
    act,
    escs: z.strictObject({
      outputs: z.array(output).min(1),
      toggle: z.enum(['reverse']).optional(),
      settings: byName(z.number()).optional(),
    }),
  }),
  z.strictObject({
    by: z.literal('transmitter'),
    act,
    transmitter: z.array(z.looseObject({ channel: z.int().min(1).max(16) })).min(1),
    was: byName(z.number()).optional().describe('what is set now, by name, as it was read there'),
    first: z.array(work).optional().describe('work to be tried before it'),
  }),
  z.strictObject({
    by: z.literal('work'),
    act,
    work: z.array(work).min(1).describe('in the order worth trying'),
    socket: z.int().optional().describe('which socket that work is at'),
    part: z.string().optional().describe('which part that work is at'),
    outputs: z.array(output).min(1).optional().describe('which outputs that work is at'),
  }),
  z.strictObject({ by: z.literal('technician'), act }),
] as const
/**
 * The exact act that repairs a finding, by who or what does it: Taraf over the link (settings, calibration, image, ESCs), hands at the
 * transmitter or at the airframe, or the technician as the words say. `either` names two ways, neither done by itself.
 */
export const remedy = z.discriminatedUnion('by', [
  ...oneWay,
  z.strictObject({ by: z.literal('either'), act, either: z.array(z.discriminatedUnion('by', oneWay)).length(2) }),
])

export const limit = z.strictObject({
  min: z.number().optional(),
  max: z.number().optional(),
  equals: z.unknown().optional(),
  within: z
    .number()
    .optional()
    .describe('how far from `equals` still counts as it, in the same unit; of a rotation its own angle'),
})

/** A measured value, its limit, its verdict and, if it fails, its remedy. `shown` is measured but not judged. */
export const finding = z.strictObject({
  key: z.string().min(1),
  value: z.union([
    z.number(),
    z.string(),
    z.array(z.number()),
    z.array(z.string()),
    z.array(z.array(z.number())),
    byName(z.number()),
  ]),
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
