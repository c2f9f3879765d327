import type { JobView } from '@taraf/contract'
import { checkById, missingNeeds, parkedFor, type Check } from '@taraf/core'

/** The check to do before this one: the first that it waits for, or the first that that one waits for; null where nothing is missing. */
export const firstNeed = (job: JobView, check: Check): Check | null => {
  if (parkedFor(job.entries) !== null) return null
  const [id] = missingNeeds(check, job.standings)
  const need = id === undefined ? undefined : checkById(id)
  return need === undefined ? null : (firstNeed(job, need) ?? need)
}

/** Why no take of a check can start on this card, whatever is on the bench; or null. */
export const missingWords = (job: JobView, check: Check): string | null => {
  if (parkedFor(job.entries) !== null) return 'The job card is parked: take it up again first.'
  return missingNeeds(check, job.standings).length > 0 ? 'Other checks come first.' : null
}
