import type { JobView } from '@taraf/contract'
import { missingNeeds, parkedFor, type Check } from '@taraf/core'

/** Why no take of a check can start on this card, whatever lies on the bench; or null. */
export const missingWords = (job: JobView, check: Check): string | null => {
  if (parkedFor(job.entries) !== null) return 'The job card is parked: take it up again first.'
  return missingNeeds(check, job.standings).length > 0 ? 'Another check comes first.' : null
}
