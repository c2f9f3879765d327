import type { Check } from '../check'
import { centre } from './centre'
import { ends } from './ends'
import { order } from './order'
import { steadiness } from './steadiness'

/** Station 5, in its order: proved here and on the rig, and not on the route yet. */
export const radio: readonly Check[] = [order, centre, ends, steadiness]
