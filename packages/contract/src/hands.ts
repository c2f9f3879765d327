import { z } from 'zod'

/** What simulated hands can do at the rig. A real bench has no such interface. */
export const handAct = z.discriminatedUnion('act', [
  z.strictObject({ act: z.literal('lay'), way: z.enum(['forward', 'reversed']) }),
  z.strictObject({ act: z.literal('tilt'), rollDeg: z.number().min(-180).max(180), pitchDeg: z.number().min(-90).max(90) }),
  z.strictObject({ act: z.literal('knock') }),
  z.strictObject({ act: z.literal('fasten') }),
])
export const handsState = z.strictObject({
  held: z.enum(['plate', 'hand']),
  way: z.enum(['forward', 'reversed']),
  rollDeg: z.number(),
  pitchDeg: z.number(),
  moving: z.boolean(),
  boardScrews: z.enum(['tight', 'loose']),
})
export type HandAct = z.infer<typeof handAct>
export type HandsState = z.infer<typeof handsState>
