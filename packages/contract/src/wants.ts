import { z } from 'zod'
import { byName } from './byName'

import { remedy, sensorName } from './findings'
import { reportName } from './reports'
import { settings } from './sheet'
import { imuStage } from './stage'
import { flightStreams, streamNames } from './streams'

/** One thing that a person looks at, and says what they see. */
export const question = z.strictObject({
  id: z.string().min(1),
  words: z.string().min(1).describe('what must be so, as one statement'),
  why: z.string().min(1),
  answer: z
    .union([z.enum(['so', 'text', 'number']), z.array(z.string()).min(2)])
    .describe(
      '`so`: whether the statement is true; else what is read or known, as text, a number with its unit, or one of several',
    ),
  unit: z.string().optional(),
  booms: z.array(z.string()).optional().describe('where it is to be seen; the middle of the airframe where none is named'),
  remedy: remedy.optional().describe('what repairs it where the statement is not true'),
  optional: z.boolean().optional().describe('may be left without an answer'),
})

/** What must be on while something is done. It is watched the whole time: what leaves it ends the step. */
export const wantedState = z.strictObject({
  battery: z.boolean().optional(),
  cable: z.boolean().optional(),
  props: z.enum(['off', 'on']).optional().describe('as confirmed for the battery connection that is there'),
  transmitter: z.boolean().optional().describe('on and heard, or off'),
  disarmed: z.literal(true).optional(),
  armed: z.literal(true).optional(),
})

export const stepLabel = z.string().min(1)
const output = z.int().min(1).max(12)
const seconds = z.number().positive()
/** What every step has: the name of its segment, and what the technician does, in one imperative sentence. */
const step = {
  label: stepLabel,
  ask: z.string().min(1),
  during: z.string().optional().describe('what the technician does meanwhile, where it is not to keep hands off'),
  atOnce: z.literal(true).optional().describe('begins by itself: nothing is to be laid or held first'),
  state: wantedState.optional(),
}
const sampled = {
  ...step,
  stage: imuStage.optional().describe('of imu samples; body where none is named'),
  streams: z.array(z.enum(streamNames)).readonly().describe('what is kept, and nothing else is'),
  mayLack: z.array(z.enum(streamNames)).readonly().optional().describe('streams that evidence may come without'),
  alive: z
    .array(z.string())
    .readonly()
    .optional()
    .describe('columns that are measured here: each must tremble by itself, beside those that the table of streams names'),
  enoughS: seconds.optional().describe('the shortest that proves anything; `seconds` where it is not said'),
  still: z
    .enum(['laid', 'held'])
    .optional()
    .describe('it lies untouched, or a hand holds it: what moved more than that proves nothing'),
  permit: z
    .enum(['armed-bench', 'armed-alone', 'teach', 'flight'])
    .optional()
    .describe(
      'armed-bench: the board may be armed by its transmitter; the permit goes on to the next step that says so, and ends with the last. armed-alone: the same, and it outlives the link. flight: the same, with props on. teach: ESCs are taught the ends of their range',
    ),
}
/** What the technician says of a step: the side that points up, where the position antenna sits, which motor turned and which way. */
const says = z.enum(['up', 'antenna', 'motor']).optional()

/** What a take wants next. Each kind has one recorder on the server, one piece of screen and one hand of the campaign's technician. */
export const want = z.discriminatedUnion('kind', [
  /** Samples for so long; from `leastSeconds` on it ends as soon as the check can decide; `until` ends it once it has lasted so. */
  z.strictObject({
    kind: z.literal('capture'),
    ...sampled,
    seconds,
    leastSeconds: seconds.optional(),
    until: z
      .strictObject({
        stream: z.enum(streamNames),
        column: z.string(),
        least: z.number(),
        lastsS: z.number().nonnegative(),
        fromBelow: z.literal(true).optional().describe('counts only once it has been below'),
      })
      .optional(),
    says,
  }),
  /** A pose held in the hand: captured by itself once it is far enough from the first pose, unlike the others, and still. */
  z.strictObject({
    kind: z.literal('pose'),
    ...sampled,
    seconds,
    leastDeg: z.number().positive(),
    rollDeg: z.number(),
    pitchDeg: z.number(),
    says,
  }),
  /** One control moved by itself, `times` out of its rest: found by which channel moved. `back` ends at rest, `there` at the end. */
  z.strictObject({
    kind: z.literal('control'),
    ...sampled,
    seconds: seconds.describe('the longest that is waited'),
    leastUs: z.number().positive(),
    times: z.int().min(1),
    ends: z.enum(['back', 'there']),
    heldS: z.number().nonnegative().describe('how long each end is held'),
    events: z
      .array(z.enum(['mode']))
      .min(1)
      .readonly()
      .optional()
      .describe('board events that are kept beside; the first says how it stands as the step begins'),
    ignores: z.array(z.int().min(1).max(16)).readonly().optional().describe('channels that no hand moves, such as the strength'),
  }),
  /** Outputs turned under one permit for as long as a hand keeps it; the permit goes on to the next want of this kind. */
  z.strictObject({
    kind: z.literal('turn'),
    ...sampled,
    seconds,
    outputs: z
      .array(z.strictObject({ output, share: z.number().positive().max(1) }))
      .min(1)
      .readonly(),
    runUpS: z.number().nonnegative(),
    riseS: seconds
      .optional()
      .describe(
        'the command rises from zero to its share within this time; else it begins where motors begin, and rises within a second',
      ),
    says,
  }),
  /** Board events with their times, until one of them comes. The link may be gone for a part of it where that is said. */
  z.strictObject({
    kind: z.literal('watch'),
    ...sampled,
    seconds: seconds.describe('the longest that is waited'),
    until: z.array(z.string().min(1)).min(1).readonly().describe('events, as `what` or `what:detail`'),
    onlyAfter: z.string().min(1).optional().describe('they count only once this event came'),
    afterS: seconds.optional().describe('goes on for so long after that event'),
    mayLoseLink: z.boolean().optional(),
    lead: z
      .strictObject({ gate: z.string().min(1), words: z.string().min(1) })
      .optional()
      .describe('what to do next once the board would refuse to arm for this reason'),
    then: z
      .array(z.strictObject({ event: z.string().min(1), words: z.string().min(1) }))
      .readonly()
      .optional()
      .describe('what to do next once an event came'),
    offFirst: z
      .array(z.strictObject({ channel: z.int().min(1).max(16), low: z.number(), high: z.number() }))
      .readonly()
      .optional()
      .describe(
        'a refusal counts only once one of these channels was seen outside its band: the switch was off, and is put on again',
      ),
    inForce: settings.optional().describe('put in force for this step alone, and never saved'),
  }),
  /** What the board wrote into its own log since a segment began: events that nobody could be told of. */
  z.strictObject({
    kind: z.literal('log'),
    ...step,
    since: stepLabel,
    rows: z
      .array(z.enum([...flightStreams, 'imuBurst']))
      .readonly()
      .optional()
      .describe('streams of a flight that the board logged beside its events'),
  }),
  /** What the board answers when it is asked. */
  z.strictObject({ kind: z.literal('reports'), ...step, of: z.array(reportName).min(1).readonly() }),
  /** Asked of the technician, item by item. */
  z.strictObject({
    kind: z.literal('answers'),
    ...step,
    questions: z.array(question).readonly(),
    confirms: z.literal('props on').optional().describe('all of it being so, for the battery connection that is there'),
  }),
  /** Settings written as one act and read back. */
  z.strictObject({ kind: z.literal('write'), ...step, settings }),
  /** A sensor's calibration by the board, kept as one act. */
  z.strictObject({ kind: z.literal('calibrate'), ...step, sensor: sensorName }),
  /** ESC settings written, read back, and read back again after the battery was off. */
  z.strictObject({
    kind: z.literal('escs'),
    ...step,
    outputs: z.array(output).min(1).readonly(),
    settings: byName(z.number()),
  }),
  /** Waits until the bench is as wanted. */
  z.strictObject({ kind: z.literal('state'), ...step, state: wantedState }),
])

export type Want = z.infer<typeof want>
export type WantOf<Kind extends Want['kind']> = Extract<Want, { kind: Kind }>
/** A want of samples. */
export type Sampled = Extract<Want, { streams: unknown }>
export type Question = z.infer<typeof question>
export type WantedState = z.infer<typeof wantedState>
