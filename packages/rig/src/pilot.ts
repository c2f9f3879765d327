import { inverse, apply, fromAngles } from '@taraf/core/rotation'
import type { Rig } from './rig'

/** A hop, in its parts: how high it is held, for how long it climbs and is held, and how fast it is let down. */
const heightM = 1.7
const climbS = 2.5
const heldS = 8.5
const sinkMps = 0.35
const tippedRad = 0.9
const longestS = 40
/** A pilot looks and moves a stick this often, s. */
const lookS = 0.05
/** Sticks that a hand corrects a place with, for each metre off and each metre a second. */
const [perM, perMps, mostStick] = [0.12, 0.16, 0.35]

/**
 * A pilot who flies a hop by eye: up to the height of a head, held in its place against whatever drift there is, and down. Throttle is felt
 * for: what holds it up is found by how it climbs and sinks, and is known to nobody before.
 */
export class Pilot {
  private since = 0
  private looked = Infinity
  private hover = 0.1
  private off: [number, number] = [0, 0]
  private landed = 0

  /** Takes one step of the rig; true once it stands on the ground with throttle down. */
  step(rig: Rig, dtS: number): boolean {
    this.since += dtS
    this.looked += dtS
    if (this.looked < lookS) return false
    const passed = Math.min(this.looked, lookS)
    this.looked = 0
    const { motion, transmitter } = rig
    // One that turns over, or that nothing lifts or brings down, is given up.
    if (Math.max(Math.abs(motion.angles.roll), Math.abs(motion.angles.pitch)) > tippedRad || this.since > longestS) {
      transmitter.sticks.throttle = -1
      return true
    }
    const goesDown = this.since > climbS + heldS
    const wanted = goesDown
      ? Math.max(-0.3, heightM - sinkMps * (this.since - climbS - heldS))
      : heightM * Math.min(1, this.since / climbS)
    const [height, climb] = [motion.heightM, -motion.velocity[2]]
    const wrong = wanted - height - 0.9 * climb
    // On the ground nothing answers: more throttle, slowly, until it lifts.
    this.hover = Math.max(0.02, Math.min(0.9, this.hover + (height < 0.02 && !goesDown ? 0.22 : 0.1 * wrong) * passed))
    const share = height < 0.02 && !goesDown ? this.hover : this.hover + 0.1 * wrong
    const isDown = goesDown && height < 0.04
    this.landed = isDown ? this.landed + passed : 0
    transmitter.sticks.throttle = isDown ? -1 : stickFor(share)
    this.steer(rig, passed)
    return this.landed > 1
  }

  /** Leans it back to its place, as it is seen from behind it. */
  private steer({ motion, transmitter }: Rig, passed: number): void {
    const back = apply(inverse(fromAngles({ roll: 0, pitch: 0, yaw: motion.angles.yaw })), [
      -perM * motion.position[0] - perMps * motion.velocity[0],
      -perM * motion.position[1] - perMps * motion.velocity[1],
      0,
    ])
    const clamp = (x: number) => Math.max(-mostStick, Math.min(mostStick, x))
    if (motion.heightM > 0.1)
      this.off = [clamp(this.off[0] + 0.25 * back[0] * passed), clamp(this.off[1] + 0.25 * back[1] * passed)]
    transmitter.sticks.pitch = clamp(back[0] + this.off[0])
    transmitter.sticks.roll = clamp(back[1] + this.off[1])
  }
}

/** Where throttle lies for a share of full command, on a transmitter as it is usually set. */
const stickFor = (share: number): number => Math.max(-0.98, Math.min(0.98, 2 * share - 1))
