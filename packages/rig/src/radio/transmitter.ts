import type { Control } from '../board/definitions'

/** One channel of a model memory: what drives it, and how it is shaped. Travel is in percent for each side, 100 being 500 us. */
export interface ChannelSetup {
  source: { stick: Control } | { switch: string } | null
  trimUs: number
  subTrimUs: number
  travelLow: number
  travelHigh: number
  inverted: boolean
  /** Share of another channel's way that is added to this one. */
  mix: { from: number; share: number } | null
}

export interface TransmitterBuild {
  modelId: number
  channels: ChannelSetup[]
  switches: { name: string; positions: 2 | 3; at: number }[]
  /** The switch whose contact opens for a moment now and then. */
  badContact: string | null
  /** How far a worn stick gets, and where it really rests. */
  stickReach: Record<Control, { low: number; high: number; rest: number }>
  /** What the transmitter told the receiver to do at loss; null leaves it to the receiver. */
  lossPreset: number[] | null
  powerMw: number
  /** Travel beyond this cannot be set. */
  mostTravel: number
}

const fullUs = 500
/** A bad contact opens so often, and for so long, s. */
const [opensEveryS, openS] = [3, 0.06]

/** A transmitter in the technician's hands. Throttle stays where it is left; the other sticks centre themselves. */
export class Transmitter {
  on = false
  readonly sticks: Record<Control, number> = { roll: 0, pitch: 0, throttle: -1, yaw: 0 }

  constructor(readonly build: TransmitterBuild) {}

  /** The sixteen channels as sent at a time, us. */
  channels(t = openS): number[] {
    const shares = this.build.channels.map((channel) => this.shareOf(channel, t))
    return this.build.channels.map((channel, i) => {
      const { mix, trimUs, subTrimUs, travelLow, travelHigh, inverted } = channel
      const mixed = (shares[i] as number) + (mix === null ? 0 : mix.share * (shares[mix.from - 1] ?? 0))
      const share = inverted ? -mixed : mixed
      const travel = (share < 0 ? travelLow : travelHigh) / 100
      return Math.max(880, Math.min(2120, 1500 + trimUs + subTrimUs + share * travel * fullUs))
    })
  }

  private shareOf({ source }: ChannelSetup, t: number): number {
    if (source === null) return 0
    if ('switch' in source) {
      const found = this.build.switches.find((s) => s.name === source.switch)
      if (found === undefined) return 0
      const { name, at, positions } = found
      const isOpen = this.build.badContact === name && t % opensEveryS < openS
      return isOpen ? (at === 0 ? 1 : -1) : (2 * at) / (positions - 1) - 1
    }
    const { low, high, rest } = this.build.stickReach[source.stick]
    const at = this.sticks[source.stick]
    return at < 0 ? rest + (rest + low) * at : rest + (high - rest) * at
  }
}
