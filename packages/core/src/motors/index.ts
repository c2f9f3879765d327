import type { Check } from '../check'
import { heat } from './heat'
import { order } from './order'
import { propPlan } from './propPlan'
import { response } from './response'
import { smooth } from './smooth'
import { start } from './start'

/** Station 8, in its order. */
export const motors: readonly Check[] = [order, start, smooth, heat, response, propPlan]

export { propAnswers, propPlanOf, type PlannedProp } from './propPlan'
export { allTurned, drivenPositions } from './told'
