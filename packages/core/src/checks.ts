import type { Check } from './check'
import { arming } from './arming/index'
import { board } from './board/index'
import { escs } from './escs/index'
import { failsafe } from './failsafe/index'
import { hopAfter } from './hover/hop'
import { intake } from './intake/index'
import { motors } from './motors/index'
import { orientation } from './orientation/index'
import { radio } from './radio/index'
import { sensors } from './sensors/index'
import { switches } from './switches/index'

/** The checks of the bench, in the order of the work. */
const onBench: readonly Check[] = [
  ...intake,
  ...board,
  ...sensors,
  ...orientation,
  ...radio,
  ...switches,
  ...escs,
  ...motors,
  ...arming,
  ...failsafe,
]

/** All checks, in the order of the work: nothing flies before all of the bench stands. */
export const checks: readonly Check[] = [...onBench, hopAfter(onBench.map(({ id }) => id))]

export const checkById = (id: string): Check | undefined => checks.find((check) => check.id === id)
