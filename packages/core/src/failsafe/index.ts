import type { Check } from '../check'
import { response } from './response'

/** Station 10, in its order. */
export const failsafe: readonly Check[] = [response]
