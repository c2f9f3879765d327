import { z } from 'zod'

/** An error of the server on the wire (RFC 9457). */
export const problem = z.object({
  type: z.string(),
  title: z.string(),
  status: z.int(),
  detail: z.string(),
  todo: z.string(),
  instance: z.string().optional(),
})
export type Problem = z.infer<typeof problem>
