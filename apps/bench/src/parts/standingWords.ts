import type { JobView } from '@taraf/contract'
import { checkById, whyAbsent } from '@taraf/core'
import { entryWords } from './entryWords'
import { takesOf } from './findings'

/** Why a check is worth what it is. */
export const standingWords = (job: JobView, check: string): string => {
  const { state, take, by } = job.standings[check] ?? { state: 'open' as const }
  const cause = job.entries.find((e) => e.seq === by)
  if (state === 'stale' && cause !== undefined) return `spoiled by entry ${cause.seq}: ${entryWords(cause)}`
  if (state === 'aside' && cause?.body.kind === 'aside') return `set aside: ${cause.body.reason}`
  if (take !== undefined) return `by take ${take}`
  const definition = checkById(check)
  if (state === 'absent') return (definition && whyAbsent(definition, job.sheet)) ?? 'the sheet does not need it'
  // All of its takes were refused, or something would stand.
  const [refused] = takesOf(job, check)
  return refused === undefined ? 'not run yet' : `proved nothing yet: take ${refused.seq} was refused`
}
