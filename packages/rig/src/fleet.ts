import type { RigFaults } from './faults'
import { sound } from './faults'
import { Rig } from './rig'

const deg = Math.PI / 180

/** The benches of the demo: what lies on each and what is wrong with it. */
export const demoBenches: readonly { bench: string; board: string; faults: Partial<RigFaults> }[] = [
  { bench: 'north', board: 'FB-2041', faults: {} },
  {
    bench: 'south',
    board: 'FB-2047',
    faults: {
      gyroBias: [1.4 * deg, -0.6 * deg, 0.1 * deg],
      seating: { roll: 1.9 * deg, pitch: -1.2 * deg, yaw: 0.4 * deg },
      looseScrews: [0, 0.8 * deg, 0],
    },
  },
  { bench: 'window', board: 'FB-2052', faults: { gyroBias: [0.1 * deg, 0.9 * deg, -2.2 * deg] } },
  {
    bench: 'corner',
    board: 'FB-2058',
    faults: { seating: { roll: -0.9 * deg, pitch: 2.4 * deg, yaw: 0 }, plate: { roll: 1.6 * deg, pitch: 0.8 * deg } },
  },
  { bench: 'lathe', board: 'FB-2063', faults: { looseScrews: [0.6 * deg, 0, 0.5 * deg] } },
  { bench: 'tide door', board: 'FB-2070', faults: { accelScale: [0.99, 1.012, 0.965], accelBias: [0.12, -0.08, 0.1] } },
]

export const demoRig = (board: string, faults: Partial<RigFaults>, seed: number, gravity: number): Rig =>
  new Rig({
    seed,
    gravity,
    identity: { board, target: 'TIDEBOARD-4', firmware: { name: 'shoreline', version: '3.2.0' } },
    faults: { ...sound, ...faults },
  })
