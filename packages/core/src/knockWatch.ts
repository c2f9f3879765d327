// Well over what setting an airframe down gently does, well under a fall from the bench (common practice).
const knockForce = 15 // m/s2 from one sample to the next
const knockQuietS = 3

/** Watches what a board feels for knocks: a jump of the force from one sample to the next. One knock is told once. */
export class KnockWatch {
  private before: readonly [number, number, number] | null = null
  private quietUntilS = -Infinity

  /** Whether this sample tells a knock. `nowS` is on any clock that runs on. */
  push(force: readonly [number, number, number], nowS: number): boolean {
    const { before } = this
    this.before = force
    if (before === null || nowS < this.quietUntilS) return false
    if (Math.hypot(force[0] - before[0], force[1] - before[1], force[2] - before[2]) < knockForce) return false
    this.quietUntilS = nowS + knockQuietS
    return true
  }

  /** A motor that turns shakes the board by itself: what is felt then is no knock. */
  pause(): void {
    this.before = null
  }
}
