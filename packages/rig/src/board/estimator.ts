import { turn, type Angles, type Vec3 } from '@taraf/core/rotation'
import type { ForceAndRate } from './sensors'

const pullHeldS = 0.5
// In the air the specific force points along the props' axis however it leans: it is trusted slowly.
const pullFlyingS = 10
/** Closer to straight up or down the turn about the vertical cannot be told from roll: yaw is held. */
const leastLevel = 1e-6

/** The board's own attitude: turn rates integrated, down drawn to the specific force, quickly while the motors stand. */
export class Estimator {
  /** Where down is in body axes, as a unit vector; null until the first sample. */
  private down: Vec3 | null = null
  private yaw = 0

  reset(): void {
    this.down = null
    this.yaw = 0
  }

  step({ force, rate }: ForceAndRate, flying: boolean, dtS: number): Angles {
    const strength = lengthOf(force)
    const [x, y, z] = this.down ?? (strength === 0 ? straightDown : pointed(-force[0], -force[1], -force[2]))
    const pull = this.down === null || strength === 0 ? 0 : dtS / (flying ? pullFlyingS : pullHeldS)
    // A direction that stands still in the world turns in the body against its rate: d' = d x w.
    const down = pointed(
      x + (y * rate[2] - z * rate[1]) * dtS + pull * (-force[0] / (strength || 1) - x),
      y + (z * rate[0] - x * rate[2]) * dtS + pull * (-force[1] / (strength || 1) - y),
      z + (x * rate[1] - y * rate[0]) * dtS + pull * (-force[2] / (strength || 1) - z),
    )
    this.down = down
    return this.turned(down, rate, dtS)
  }

  /** What steps over a time at rest come to: down goes to the force, yaw drifts with the rate that the gyro shows. */
  rest({ force, rate }: ForceAndRate, seconds: number): Angles {
    const strength = lengthOf(force)
    if (this.down === null || strength === 0) return this.step({ force, rate }, false, 0)
    const pull = 1 - Math.exp(-seconds / pullHeldS)
    const [x, y, z] = this.down
    const down = pointed(
      x + pull * (-force[0] / strength - x),
      y + pull * (-force[1] / strength - y),
      z + pull * (-force[2] / strength - z),
    )
    this.down = down
    return this.turned(down, rate, seconds)
  }

  private turned(down: Vec3, rate: Vec3, seconds: number): Angles {
    const level = down[1] * down[1] + down[2] * down[2]
    if (level > leastLevel) this.yaw = turn(this.yaw + ((rate[1] * down[1] + rate[2] * down[2]) / level) * seconds)
    return { roll: Math.atan2(down[1], down[2]), pitch: Math.atan2(-down[0], Math.sqrt(level)), yaw: this.yaw }
  }
}

const straightDown: Vec3 = [0, 0, 1]
const lengthOf = (v: Vec3): number => Math.sqrt(v[0] * v[0] + v[1] * v[1] + v[2] * v[2])
const pointed = (x: number, y: number, z: number): Vec3 => {
  const by = 1 / (Math.sqrt(x * x + y * y + z * z) || 1)
  return [x * by, y * by, z * by]
}
