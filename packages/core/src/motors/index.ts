import type { Check } from '../check'
import { order } from './order'

/** Station 8, in its order. */
export const motors: readonly Check[] = [order]
