/**
 * How long motors have turned without cooling, s: it grows while any turns, and goes back at the same pace while all stand. Without props no
 * air moves over them.
 */
export class TurningClock {
  private warmS = 0
  private last: { readonly t: number; readonly turning: boolean } | null = null

  /** From a time on, s, any motor turns, or all stand. */
  push(t: number, turning: boolean): void {
    this.warmS = this.at(t)
    this.last = { t, turning }
  }

  /** They had turned for so long before, s, as it was kept elsewhere. */
  add(warmS: number): void {
    this.warmS += warmS
  }

  /** What it shows at a time, s. */
  at(t: number): number {
    if (this.last === null) return this.warmS
    const passed = Math.max(0, t - this.last.t)
    return Math.max(0, this.warmS + (this.last.turning ? passed : -passed))
  }
}
