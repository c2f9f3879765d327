import type { JobView, Settings } from '@taraf/contract'
import { propPlanOf, type PlannedProp } from '@taraf/core/motors'
import { useSettingsQuery } from '../../store/boards'

/** What the board is set to, where it is linked; nothing where it is not. */
export const useBoardSettings = (job: JobView | undefined): Settings => {
  const { data } = useSettingsQuery(job?.id ?? '', { skip: job === undefined || job.bench === null })
  return Object.fromEntries((data?.settings ?? []).map(({ name, value }) => [name, value]))
}

/** Which prop goes where, by the sheet and by what the board is set to where it is linked. */
export const usePropPlan = (job: JobView | undefined): PlannedProp[] => {
  const settings = useBoardSettings(job)
  return job === undefined ? [] : propPlanOf(job.sheet, settings)
}
