import type { Check } from '../check'
import { centre } from './centre'
import { ends } from './ends'
import { link } from './link'
import { order } from './order'
import { steadiness } from './steadiness'

/** Station 5, in its order. The centres come after the ends: changing one can move the other. */
export const radio: readonly Check[] = [link, order, ends, centre, steadiness]
