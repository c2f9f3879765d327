import type { MixRow } from '@taraf/core/geometry'
import { radians, type Angles, type Vec3 } from '@taraf/core/rotation'
import type { BoardSettings } from '../board/settings'
import { stickRate } from './curves'

export interface Wanted {
  readonly roll: number
  readonly pitch: number
  readonly yaw: number
  /** 0 to 1. */
  readonly collective: number
  /** Sticks ask for angles instead of rates. */
  readonly levels: boolean
}

const axes = ['roll', 'pitch', 'yaw'] as const
const most = 0.35

/** Rate control with integrators, self-level around it, and the mixer: from what is wanted to the share of each position. */
export class Loops {
  private sums: [number, number, number] = [0, 0, 0]
  private before: Vec3 = [0, 0, 0]
  private gains: { p: number; i: number; d: number }[] = []
  private version = -1

  constructor(
    private readonly settings: BoardSettings,
    private readonly mix: readonly MixRow[],
  ) {}

  reset(): void {
    this.sums = [0, 0, 0]
  }

  /** The share of every position, 0 to 1 before idle is added. `mayGather` lets the integrators run. */
  step(wanted: Wanted, rate: Vec3, attitude: Angles, mayGather: boolean, dtS: number): number[] {
    this.refresh()
    const { settings } = this
    const asked = wanted.levels ? this.levelRates(wanted, attitude) : this.stickRates(wanted)
    const pushes = axes.map((_, i) => {
      const { p, i: gather, d } = this.gains[i] as { p: number; i: number; d: number }
      const error = (asked[i] as number) - (rate[i] as number)
      const sum = this.sums[i as 0 | 1 | 2]
      if (mayGather) this.sums[i as 0 | 1 | 2] = Math.max(-most, Math.min(most, sum + gather * error * dtS))
      const slope = ((rate[i] as number) - this.before[i as 0 | 1 | 2]) / dtS
      return Math.max(-most, Math.min(most, p * error + this.sums[i as 0 | 1 | 2] - d * slope))
    }) as [number, number, number]
    this.before = rate
    const mirrored = settings.isOn('motors.mirrored') ? -1 : 1
    const shares = this.mix.map(
      (row) => wanted.collective * row.collective + row.roll * pushes[0] + row.pitch * pushes[1] + row.yaw * pushes[2] * mirrored,
    )
    return withinRange(shares, settings.get('motors.most'))
  }

  private levelRates({ roll, pitch, yaw }: Wanted, attitude: Angles): number[] {
    const { settings } = this
    const lean = radians(settings.get('level.most'))
    const pull = settings.get('gain.level')
    return [
      pull * (roll * lean - attitude.roll),
      // Stick forward is wanted nose down.
      pull * (-pitch * lean - attitude.pitch),
      stickRate(settings, 'yaw', yaw),
    ]
  }

  private stickRates({ roll, pitch, yaw }: Wanted): number[] {
    const { settings } = this
    return [stickRate(settings, 'roll', roll), -stickRate(settings, 'pitch', pitch), stickRate(settings, 'yaw', yaw)]
  }

  private refresh(): void {
    if (this.version === this.settings.version) return
    this.version = this.settings.version
    const gain = (axis: string, part: string) => this.settings.get(`gain.${axis}.${part}`)
    this.gains = axes.map((axis) => ({ p: gain(axis, 'p'), i: gain(axis, 'i'), d: gain(axis, 'd') }))
  }
}

/** Keeps turning pushes whole where they fit: the collective gives way first, then all are pressed together. */
const withinRange = (shares: number[], top: number): number[] => {
  const high = Math.max(...shares)
  const low = Math.min(...shares)
  const spread = high - low
  if (spread > top) return shares.map((s) => ((s - low) * top) / spread)
  const shift = high > top ? top - high : low < 0 ? -low : 0
  return shift === 0 ? shares : shares.map((s) => s + shift)
}
