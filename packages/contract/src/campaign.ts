import { z } from 'zod'

/** A share with its 95 % interval. */
const share = z.strictObject({ rate: z.number(), low: z.number(), high: z.number() })

/** What a campaign prints: `docs/formats/README.md`. */
export const campaignReport = z.strictObject({
  format: z.literal('taraf-campaign/1'),
  seed: z.int(),
  airframes: z.int(),
  soundAirframes: z.int(),
  falseAlarms: z.int(),
  nearLimit: z.int(),
  faults: z.record(
    z.string(),
    z.strictObject({
      injected: z.int(),
      caught: z.int(),
      missed: z.int(),
      blamedElsewhere: z.int(),
      mendedFirst: z.int(),
      caughtRate: share,
    }),
  ),
  disturbed: z
    .record(z.string(), z.strictObject({ drawn: z.int(), noticed: z.int(), missed: z.int(), madeWorse: z.int() }))
    .describe('what went wrong during takes, by kind: missed where the airframe was handed over with something untrue of it'),
  handedOver: z.int(),
  stuck: z.int(),
  incidents: z.int(),
  takesPerAirframe: z.number(),
  simulatedMinutesPerAirframe: z.number(),
  wallSeconds: z.number(),
  escaped: z.array(z.int()),
  alarmSeeds: z
    .array(z.strictObject({ seed: z.int(), checks: z.array(z.string()) }))
    .describe('sound airframes of which a check found something'),
  missedSeeds: z
    .array(z.strictObject({ seed: z.int(), fault: z.string(), caught: z.boolean() }))
    .describe('faults that were not caught, or not repaired by the first remedy although nothing went wrong'),
  stuckSeeds: z.array(z.strictObject({ seed: z.int(), why: z.string() })),
  rates: z.strictObject({ falseAlarms: share, handedOver: share, caught: share, mendedFirst: share }),
})
export type CampaignReport = z.infer<typeof campaignReport>
export type Share = z.infer<typeof share>
