import { anywhere } from './anywhere'
import { atArming, atFailsafe, atHover } from './armingAndLoss'
import type { Disturbance } from './disturbance'
import { atTheEscs } from './escs'
import { atTheMotors } from './motors'
import { atTheRadio } from './radio'

export { keptOtherwise } from './anywhere'
export type { Disturbance } from './disturbance'

/** All that can go wrong. A seed counts on their order. */
export const disturbances: readonly Disturbance[] = [
  ...atHover,
  ...atTheRadio,
  ...atTheEscs,
  ...atTheMotors,
  ...atArming,
  ...atFailsafe,
  ...anywhere,
]
