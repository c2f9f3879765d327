import { angleBetween, degrees, length, radians, type Vec3 } from './rotation'

/** How a hold stands: what is wrong with it or nothing, how far it is tilted from the first pose, and what share is there. */
export interface HoldState {
  readonly fault: 'moving' | 'short' | 'same' | null
  readonly tiltDeg: number
  readonly share: number
}

// Common practice, and a little tighter than what the checks refuse afterwards.
const mostRate = radians(20)
const mostDrift = radians(2.5)
const sameWithin = radians(20)
const settleS = 0.12

/**
 * Watches an airframe that is brought into a pose by hand: says when it is tilted enough, unlike the poses before, and still;
 * a move starts it again. The frame of the vectors is the sensor's or the body's, always the same one.
 */
export class HoldWatch {
  private smooth: Vec3 | null = null
  private from: { t: number; force: Vec3 } | null = null
  private lastT: number | null = null

  /** `first` is the force of the first pose of the take, `before` those of all poses already held. */
  constructor(
    private readonly seconds: number,
    private readonly leastDeg: number,
    private readonly first: Vec3,
    private readonly before: readonly Vec3[],
  ) {}

  /** Takes a sample: s, m/s2, rad/s. `share` is 1 once the hold is whole; it falls to 0 when it starts again. */
  push(t: number, force: Vec3, rate: Vec3): HoldState {
    const keep = this.lastT === null ? 0 : Math.exp(-(t - this.lastT) / settleS)
    this.lastT = t
    const old = this.smooth ?? force
    const smooth: Vec3 = [
      keep * old[0] + (1 - keep) * force[0],
      keep * old[1] + (1 - keep) * force[1],
      keep * old[2] + (1 - keep) * force[2],
    ]
    this.smooth = smooth
    const tiltDeg = degrees(angleBetween(smooth, this.first))
    const fault = this.faultOf(smooth, rate, tiltDeg)
    if (fault !== null || this.from === null) this.from = fault === null ? { t, force: smooth } : null
    return { fault, tiltDeg, share: this.from === null ? 0 : Math.min(1, (t - this.from.t) / this.seconds) }
  }

  private faultOf(force: Vec3, rate: Vec3, tiltDeg: number): HoldState['fault'] {
    if (length(rate) > mostRate) return 'moving'
    if (this.from !== null && angleBetween(force, this.from.force) > mostDrift) return 'moving'
    if (tiltDeg < this.leastDeg) return 'short'
    return this.before.some((other) => angleBetween(force, other) < sameWithin) ? 'same' : null
  }
}

/** What to tell the technician about a hold, in a few words. */
export const holdWords = ({ fault, tiltDeg, share }: HoldState, leastDeg: number): string => {
  switch (fault) {
    case 'moving':
      return 'Hold it still.'
    case 'short':
      return `Tilt it further: ${tiltDeg.toFixed(0)} of ${leastDeg} deg.`
    case 'same':
      return 'This side was done already.'
    case null:
      return share < 1 ? 'Hold it so.' : 'Done.'
  }
}
