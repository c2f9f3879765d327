import type { TeachPhase } from './teachWords'

const isHigh = (command: number): boolean => command > 0.98
const isLow = (command: number): boolean => command < 0.02
/** As long as an ESC listens to each end, at least (common practice). */
export const leastTaughtS = { upper: 2, lower: 1 } as const
/** Plugging in jolts the frame; after this long, what shakes it is a motor. */
const joltS = 1
const shakesAbove = 2

/**
 * Watches the script that teaches ESCs the ends of an analogue signal: high on every output, the battery in, high for a while, low for a
 * while. Whatever else comes ends it.
 */
export class TeachWatch {
  private phase: TeachPhase = 'high'
  private begun = false
  private since = 0
  private inAt: number | null = null

  /** @param commands of the outputs that drive a motor, shares of full. Returns what happens, or why it must end. */
  push(t: number, commands: readonly number[], battery: boolean): { phase: TeachPhase } | { wrong: string } {
    this.begun ||= commands.every(isHigh)
    if (!this.begun && !battery) return { phase: 'high' }
    if (!this.begun) return { wrong: 'the battery came in before high was sent' }
    if (battery && this.inAt === null) this.go('upper', (this.inAt = t))
    if (!battery && this.inAt !== null) return { wrong: 'the battery was taken out in the middle' }
    if (commands.every(isHigh) && this.phase !== 'lower') return { phase: this.phase }
    if (this.phase === 'high') return { wrong: 'the board sends high no longer, and no battery is in' }
    if (!commands.every(isLow)) return { wrong: 'an output was neither high nor low' }
    if (this.phase === 'upper') {
      if (t - this.since < leastTaughtS.upper)
        return { wrong: 'the board sent low too soon: the battery was out for a moment, or somebody stopped it' }
      this.go('lower', t)
    }
    return { phase: this.phase }
  }

  /** Why it must end: something shakes the frame while nothing may turn. @param deviation of the force from its mean, m/s2 rms */
  shaken(t: number, deviation: number): string | null {
    const jolts = this.inAt === null || t - this.inAt < joltS
    return !jolts && deviation > shakesAbove ? 'something shakes the airframe: a motor turns' : null
  }

  private go(phase: TeachPhase, t: number): void {
    this.phase = phase
    this.since = t
  }
}
