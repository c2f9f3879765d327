import { z } from 'zod'
import { boardSetting, foundEscs, identity, loopTiming, socketList } from './board'

/** What a board can be asked during a take. */
export const reportName = z.enum(['identity', 'settings', 'sockets', 'sensors', 'escs', 'loop'])

const address = z.int().nonnegative()
/** What a board answered when a take asked it. */
export const reports = z.strictObject({
  identity: identity.optional(),
  settings: z.array(boardSetting).optional().describe('all of them, with what each means'),
  escs: foundEscs.optional(),
  sockets: z
    .array(z.strictObject({ t: z.number().describe('seconds since the first listing'), sockets: socketList }))
    .min(2)
    .optional()
    .describe('listings some time apart: what arrived between them is alive'),
  sensors: z
    .array(
      z.strictObject({
        name: z.string(),
        found: z.boolean(),
        address: address.describe('where the board was told to look'),
        foundAt: address.optional().describe('the other bus address, where it answered when that was tried'),
      }),
    )
    .optional(),
  loop: loopTiming.optional(),
})

export type ReportName = z.infer<typeof reportName>
export type Reports = z.infer<typeof reports>
