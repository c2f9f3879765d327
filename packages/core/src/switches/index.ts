import type { Check } from '../check'
import { gestures, table } from './findings'

/** Station 6, in its order: proved here and on the rig, and not on the route yet. */
export const switches: readonly Check[] = [table, gestures]
