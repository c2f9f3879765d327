import type { Check } from '../check'
import { data } from './data'
import { found } from './found'
import { range } from './range'
import { settings } from './settings'
import { signal } from './signal'

/** Station 7, in its order. */
export const escs: readonly Check[] = [found, settings, signal, range, data]
