import type { JobView } from '@taraf/contract'
import { propPlanOf, type PlannedProp } from '@taraf/core/motors'
import { useSettingsQuery } from '../../store/boards'

/** Which prop goes where, by the sheet and by what the board is set to where it is linked. */
export const usePropPlan = (job: JobView | undefined): PlannedProp[] => {
  const { data } = useSettingsQuery(job?.id ?? '', { skip: job === undefined || job.bench === null })
  if (job === undefined) return []
  const settings = Object.fromEntries((data?.settings ?? []).map(({ name, value }) => [name, value]))
  return propPlanOf(job.sheet, settings)
}
