import { drained, packVolts, type PackBuild } from './pack'

export interface PowerBuild {
  pack: PackBuild
  /** Volts of pack or supply for one volt at the board's sensing pin, and millivolts at the pin for one ampere, as wired. */
  trueVoltRatio: number
  trueMvPerAmp: number
  trueAmpOffset: number
  /** What the airframe draws with nothing turning, and what a fault adds to it. */
  restAmps: number
  extraRestAmps: number
  short: boolean
  /** Volts of the board's own rail, and how far it sags when the regulator is warm. */
  railVolts: number
  railSagWarm: number
  /** The receiver is fed when only the cable is in. */
  receiverOnCable: boolean
  /** The receiver is fed by the regulator: without, it is dark when only the battery is in. */
  receiverOnBattery: boolean
  /** The video transmitter's heat, K per second without wind at full power. */
  videoHeat: number
}

export type Source = 'none' | 'pack' | 'supply'
const limiterAmps = 1.5
const shortOhm = 0.05
const videoCoolS = 90

/** Where the power comes from, and what it does: battery, cable, limiter, supply. */
export class Power {
  cable = true
  source: Source = 'none'
  limiter = false
  supplyVolts = 16
  /** Raised at each battery connection. */
  connections = 0
  amps = 0
  volts = 0
  usedMah = 0
  /** What the charger put back when the pack was last charged. */
  chargedMah = 0
  videoC = 20
  /** Seconds that the battery has been on. */
  onS = 0

  constructor(readonly build: PowerBuild) {}

  get battery(): boolean {
    return this.source !== 'none'
  }

  get boardOn(): boolean {
    return this.cable || (this.battery && this.volts > 4)
  }

  get kind(): 'none' | 'cable' | 'battery' | 'both' {
    return this.cable ? (this.battery ? 'both' : 'cable') : this.battery ? 'battery' : 'none'
  }

  get receiverOn(): boolean {
    const { receiverOnBattery, receiverOnCable } = this.build
    return (this.battery && receiverOnBattery) || (this.cable && receiverOnCable)
  }

  /** Plugs a battery or supply in or out; true where a connection was made. */
  connect(source: Source): boolean {
    const made = source !== 'none' && this.source !== source
    this.source = source
    if (made) {
      this.connections += 1
      this.onS = 0
    }
    this.settle(0)
    return made
  }

  /** One step under the motors' current. `wind` is whether air moves over the airframe. */
  step(motorAmps: number, video: boolean, wind: boolean, dtS: number): void {
    this.settle(motorAmps)
    if (this.battery) this.onS += dtS
    if (this.source === 'pack') this.build.pack.charge = drained(this.build.pack, this.amps, dtS)
    this.usedMah += (this.amps * dtS) / 3.6
    const target = 20 + (video && this.battery ? this.build.videoHeat * videoCoolS * (wind ? 0.25 : 1) : 0)
    this.videoC += (target - this.videoC) * (1 - Math.exp(-dtS / videoCoolS))
  }

  /** The board's rail, V: it falls with the heat of a bad regulator. */
  get rail(): number {
    if (!this.boardOn) return 0
    const warm = Math.min(1, this.onS / 120)
    return this.build.railVolts - (this.battery ? this.build.railSagWarm * warm : 0)
  }

  /** Volts and amperes at the battery's plug for what is drawn. */
  private settle(motorAmps: number): void {
    if (!this.battery) {
      this.amps = 0
      this.volts = 0
      return
    }
    const { pack, restAmps, extraRestAmps, short } = this.build
    const open = this.source === 'pack' ? packVolts(pack, 0) : this.supplyVolts
    const wanted = restAmps + extraRestAmps + motorAmps + (short ? open / shortOhm : 0)
    const most = this.limiter ? limiterAmps : Infinity
    this.amps = Math.min(wanted, most)
    // A limiter gives up volts in the measure in which more is wanted than it lets through.
    const full = this.source === 'pack' ? packVolts(pack, this.amps) : this.supplyVolts
    this.volts = wanted > most ? (full * most) / wanted : full
  }
}
