import type { HandAct, HandsState } from '@taraf/contract'
import { degrees, fromAngles, multiply, radians, type Angles, type Rotation } from '@taraf/core/rotation'

const moveS = 1.2

/**
 * Where the hands have put the airframe: laid on the plate either way round, or held at a tilt. A move takes 1.2 s and
 * starts and ends at rest (smoothstep in each angle, half turns about the vertical).
 */
export class Pose {
  private held: HandsState['held'] = 'plate'
  private way: HandsState['way'] = 'forward'
  private from: Angles = { roll: 0, pitch: 0, yaw: 0 }
  private to: Angles = this.from
  private share = 1
  private readonly plate: Rotation

  constructor(plate: { roll: number; pitch: number }) {
    this.plate = fromAngles({ ...plate, yaw: 0 })
  }

  act(act: Extract<HandAct, { act: 'lay' | 'tilt' }>): void {
    this.from = this.now()
    this.share = 0
    if (act.act === 'lay') {
      this.held = 'plate'
      this.way = act.way
      this.to = { roll: 0, pitch: 0, yaw: act.way === 'forward' ? 0 : Math.PI }
    } else {
      this.held = 'hand'
      this.to = { roll: radians(act.rollDeg), pitch: radians(act.pitchDeg), yaw: this.to.yaw }
    }
  }

  step(dtS: number): void {
    this.share = Math.min(1, this.share + dtS / moveS)
  }

  get moving(): boolean {
    return this.share < 1
  }

  get inHand(): boolean {
    return this.held === 'hand'
  }

  /** Body to world (north, east, down). On the plate its tilt is added; between hand and plate nothing jumps. */
  attitude(): Rotation {
    const angles = fromAngles(this.now())
    return multiply(this.plate, angles)
  }

  state(): Omit<HandsState, 'boardScrews'> {
    const { roll, pitch } = this.now()
    return { held: this.held, way: this.way, rollDeg: degrees(roll), pitchDeg: degrees(pitch), moving: this.moving }
  }

  private now(): Angles {
    const s = this.share * this.share * (3 - 2 * this.share)
    const between = (a: number, b: number) => a + (b - a) * s
    return {
      roll: between(this.from.roll, this.to.roll),
      pitch: between(this.from.pitch, this.to.pitch),
      yaw: between(this.from.yaw, this.to.yaw),
    }
  }
}
