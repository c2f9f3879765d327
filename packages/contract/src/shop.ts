import { z } from 'zod'
import { role } from './http'
import { overall } from './job'

const hash = z.hex().length(64)

/** A person as they are from here on. What their password is kept as is named by its hash alone. */
const person = z.strictObject({
  kind: z.literal('person'),
  id: z.uuid(),
  login: z.string(),
  name: z.string(),
  role,
  withdrawn: z.boolean(),
  passwordSha256: hash.describe('SHA-256 of the kept Argon2id text'),
})
const sheet = z.strictObject({
  kind: z.literal('sheet'),
  id: z.uuid(),
  type: z.string(),
  version: z.int(),
  sha256: hash.describe('SHA-256 of the body in canonical form (RFC 8785)'),
})
/** Airframes as they are from here on; what a card says of a board that was built in later goes on from this. */
const airframes = z.strictObject({
  kind: z.literal('airframes'),
  airframes: z.array(z.strictObject({ id: z.uuid(), tag: z.string(), board: z.string(), sheet: z.uuid() })).min(1),
})
const opened = z.strictObject({
  kind: z.literal('opened'),
  job: z.uuid(),
  number: z.int(),
  airframe: z.uuid(),
  tag: z.string(),
  board: z.string(),
  sheet: z.uuid(),
  openedBy: z.uuid(),
  openedAt: z.iso.datetime({ offset: true }),
})
/** A card that was there before the shop kept this chain: what it held then is taken as it was found. */
const adopted = z.strictObject({
  kind: z.literal('adopted'),
  job: z.uuid(),
  length: z.int().nonnegative(),
  head: hash.nullable(),
})
const closed = z.strictObject({ kind: z.literal('closed'), job: z.uuid(), length: z.int().min(1), head: hash, overall })

export const shopBody = z.discriminatedUnion('kind', [person, sheet, airframes, opened, adopted, closed])

/**
 * One link of the shop's own chain: who works here, which sheets and airframes there are, and when each job card was opened and closed, so
 * that one that is missing shows. `by` is null where a command of the set-up did it.
 */
export const shopEntry = z.strictObject({
  format: z.literal(1),
  no: z.int().min(1),
  at: z.iso.datetime({ offset: true }),
  by: z.string().nullable(),
  body: shopBody,
})

export type ShopBody = z.infer<typeof shopBody>
export type ShopEntry = z.infer<typeof shopEntry>
