import type { Check } from '../check'
import { gestures, table } from './checks'

/** Station 6, in its order. */
export const switches: readonly Check[] = [table, gestures]
