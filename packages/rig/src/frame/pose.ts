import { fromAngles, multiply, type Angles, type Rotation } from '@taraf/core/rotation'

const moveS = 1.2
/** What a hand that is followed is ahead by, at most: ten degrees. */
const nearRad = Math.PI / 18
const turnS = 44
const rollTurns = 21

/**
 * Where the hands have put the airframe: laid on the plate either way round, or held at a tilt. A move takes 1.2 s and
 * starts and ends at rest (smoothstep in each angle, half turns about the vertical).
 */
export class Pose {
  held: 'plate' | 'hand' = 'plate'
  way: 'forward' | 'reversed' = 'forward'
  private from: Angles = { roll: 0, pitch: 0, yaw: 0 }
  private to: Angles = this.from
  private share = 1
  /** Seconds into a turn through all directions. */
  private turning: number | null = null

  private readonly plate: Rotation

  constructor({ roll, pitch }: { roll: number; pitch: number }) {
    this.plate = fromAngles({ roll, pitch, yaw: 0 })
  }

  /** Taken up as it stands or lies somewhere else: what is done next begins there. */
  takeUp(angles: Angles): void {
    this.from = angles
    this.to = angles
    this.turning = null
    this.share = 1
  }

  lay(way: 'forward' | 'reversed'): void {
    this.begin({ roll: 0, pitch: 0, yaw: way === 'forward' ? 0 : Math.PI })
    this.held = 'plate'
    this.way = way
  }

  /** Held at these angles; a yaw left out stays as it is. */
  hold(angles: { roll: number; pitch: number; yaw?: number }): void {
    this.begin({ yaw: this.to.yaw, ...angles })
    this.held = 'hand'
  }

  /** Dragged: the angles are there soon, as a hand that is followed moves; from afar it takes as long as any move. */
  drag(angles: { roll: number; pitch: number; yaw?: number }): void {
    this.hold(angles)
    const { from, to } = this
    const far = Math.max(Math.abs(to.roll - from.roll), Math.abs(to.pitch - from.pitch), Math.abs(to.yaw - from.yaw))
    if (far < nearRad) this.share = 0.6
  }

  /** Turned slowly through all directions in the hands, as a compass wants it: nose from down to up while it rolls round. */
  turnAllWays(): void {
    this.begin(this.angles)
    this.held = 'hand'
    this.turning = 0
  }

  step(dtS: number): void {
    if (this.turning !== null) {
      this.turning += dtS
      if (this.turning < turnS) return
      this.to = this.turnedAt(turnS)
      this.from = this.to
      this.share = 1
      this.turning = null
    }
    if (this.share < 1) this.share = Math.min(1, this.share + dtS / moveS)
  }

  get moving(): boolean {
    return this.share < 1 || this.turning !== null
  }

  /** Body to world (north, east, down). On the plate its tilt is added; between hand and plate nothing jumps. */
  attitude(): Rotation {
    return multiply(this.plate, fromAngles(this.angles))
  }

  get angles(): Angles {
    if (this.turning !== null) return this.turnedAt(this.turning)
    const s = this.share * this.share * (3 - 2 * this.share)
    const { from, to } = this
    return {
      roll: from.roll + (to.roll - from.roll) * s,
      pitch: from.pitch + (to.pitch - from.pitch) * s,
      yaw: from.yaw + (to.yaw - from.yaw) * s,
    }
  }

  /** Starts and ends at the angles that it was held at; the nose goes down, up and back, and it rolls round all the while. */
  private turnedAt(seconds: number): Angles {
    const share = seconds / turnS
    return {
      roll: this.from.roll + 2 * Math.PI * rollTurns * share,
      pitch: this.from.pitch - (Math.PI / 2) * 0.97 * Math.sin(2 * Math.PI * share),
      yaw: this.from.yaw,
    }
  }

  private begin(to: Angles): void {
    this.from = this.angles
    this.turning = null
    this.to = to
    this.share = 0
  }
}
