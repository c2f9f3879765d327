import type { Check } from '../check'
import { arms } from './arms'
import { disarms } from './disarms'
import { idle } from './idle'
import { refuses } from './refuses'

/** Station 9, in its order. */
export const arming: readonly Check[] = [refuses, arms, disarms, idle]
