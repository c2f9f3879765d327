import { JumpClock } from '../src/jumpClock'

/** A clock that jumps as soon as no promise is left to go on. */
export const jumping = (begins = new Date('2026-11-02T09:00:00Z')): JumpClock =>
  new JumpClock(begins, () => new Promise((resolve) => setImmediate(resolve)))
