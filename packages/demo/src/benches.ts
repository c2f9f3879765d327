import { radians, type Vec3 } from '@taraf/core/rotation'
import { drawnOrder, type Draw } from './draw'
import type { RigOrder } from './rigs'
import { benched } from './world'

const degrees = (x: number, y: number, z: number): Vec3 => [radians(x), radians(y), radians(z)]

/** Throttle at loss for an airframe half as heavy again: these climb out of reach. */
const climbing = 0.55

/** What is wrong with the airframe on each bench. */
const wrong: Readonly<Record<string, RigOrder['spoil']>> = {
  north: () => {},
  south: ({ imu, board, transmitter, drives, frame }, settings) => {
    settings['loss.throttle'] = climbing
    imu.gyroBias = degrees(1.4, -0.6, 0.1)
    board.seating = { roll: radians(1.9), pitch: radians(-1.2), yaw: radians(0.4) }
    Object.assign(board, { screws: 'loose', looseShake: degrees(0, 0.8, 0) })
    Object.assign(transmitter.channels[3] ?? {}, { travelLow: 78 })
    // It came from another frame, where a rotor was to stop at once.
    const esc = drives[2]?.esc
    // Two of its leads were soldered the other way round.
    Object.assign(drives[3] ?? {}, { leadsSwapped: true })
    // A prop of the set lay under a tool box.
    frame.propSet[1] = 'damaged'
    if (esc !== undefined) Object.assign(esc, { settings: { ...esc.settings, brake: 1 }, saved: { ...esc.saved, brake: 1 } })
  },
  window: ({ imu, drives }, settings) => {
    imu.gyroBias = degrees(0.1, 0.9, -2.2)
    // Left over from the build that this board came out of.
    Object.assign(settings, { 'curve.roll.rate': 900, 'curve.pitch.rate': 900, 'gain.roll.p': 0.3 })
    settings['switch.rate.low'] = 1942
    settings['loss.throttle'] = climbing
    Object.assign(drives[1]?.esc ?? {}, { plug: 'silent' })
    // Two motors in each other's output.
    const [first, , third] = drives
    // Its bell was dropped.
    if (third != null) third.motor.imbalance = 9e-6
    if (first != null && third != null) [first.position, third.position] = [third.position, first.position]
  },
  corner: ({ board, shop, receiver, fix }) => {
    // Quick ones: 150 frames a second, and a fix soon after the sky is open.
    receiver.frameMs = 1000 / 150
    fix.secondsToFix = 12
    board.seating = { roll: radians(-0.9), pitch: radians(2.4), yaw: 0 }
    shop.plate = { roll: radians(1.6), pitch: radians(0.8) }
  },
  lathe: ({ board }) => void Object.assign(board, { screws: 'loose', looseShake: degrees(0.6, 0, 0.5) }),
  'tide door': ({ imu }) => {
    imu.accelScale = [0.99, 1.012, 0.965]
    imu.accelBias = [0.12, -0.08, 0.1]
  },
  // One ESC goes by its own range, whatever it is taught.
  slipway: ({ drives }) => void Object.assign(drives[1]?.esc ?? {}, { learns: false, range: { low: 0.12, high: 0.9 } }),
}

export type BenchOrder = RigOrder & { readonly bench: string }

/** The benches of the demo, each with the order of the rig that is on it. */
export const demoBenches: readonly BenchOrder[] = benched.map(({ bench, type, board }, i) => ({
  bench,
  type,
  board,
  seed: 1 + i,
  ...(wrong[bench] === undefined ? {} : { spoil: wrong[bench] }),
}))

/**
 * The benches with an airframe of a campaign on the first that its type is built on, under the board that the records know
 * there: what a campaign met without hands can be met again with them.
 */
export const benchesReplaying = (seed: number, draw: Draw): readonly BenchOrder[] => {
  const order = drawnOrder(seed, draw)
  const at = demoBenches.findIndex((b) => b.type === order.type)
  return demoBenches.map((b, i) => (i === at ? { ...order, board: b.board, bench: b.bench } : b))
}
