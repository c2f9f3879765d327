import { z } from 'zod'

/** Where in the chain of the sensors a sample was taken: raw, with bias and scale, or turned into body axes. */
export const imuStage = z.enum(['raw', 'calibrated', 'body'])
export type ImuStage = z.infer<typeof imuStage>
