import type { Random } from '../random'
import type { Transmitter } from './transmitter'

export interface ReceiverBuild {
  kind: 0 | 1 | 2
  firmware: string
  boundTo: number | null
  /** Binding takes one step, or two with the power off between. */
  bindSteps: 1 | 2
  frameMs: number
  atLoss: 'silent' | 'preset' | 'last'
  preset: number[]
  /** Noise of each channel, us rms, and how often a frame is missed in good reception. */
  jitterUs: number
  dropOuts: number
  quality: number
  /** Channel on which it tells its strength; 0 for none. */
  strengthChannel: number
  antenna: boolean
  lead: boolean
  telemetry: boolean
}

/** One frame as it leaves the receiver: sixteen channels in us, and the quality from 0 to 1. */
export interface RadioFrame {
  readonly t: number
  readonly channels: readonly number[]
  readonly quality: number
}

/** A receiver: a frame for the board at its own rate, and what it does when it hears nothing. */
export class Receiver {
  private nextT = 0
  private last: readonly number[] | null = null
  /** Hears its transmitter now. */
  hears = false
  /** Of binding in two steps: it waits for its power to go off and on, and then to be bound again. */
  bindStep: 'none' | 'waits' | 'restarted' = 'none'
  /** Another transmitter on the same model: whichever comes first is heard. */
  rival: Transmitter | null = null
  /** A drop-out that somebody or something causes, until this time. */
  blockedUntil = -Infinity

  constructor(
    readonly build: ReceiverBuild,
    private readonly random: Random,
  ) {}

  /** The frame due up to now, or null: at most one a call, the newest. */
  due(t: number, powered: boolean, transmitter: Transmitter): RadioFrame | null {
    if (t < this.nextT) return null
    const every = this.build.frameMs / 1000
    this.nextT = this.nextT + every < t - every ? t + every : this.nextT + every
    if (!powered) {
      this.hears = false
      return null
    }
    const frame = this.frame(t, transmitter)
    return this.build.lead ? frame : null
  }

  /** Its power is gone: what it last heard is forgotten. */
  powerCut(): void {
    this.last = null
    this.hears = false
    if (this.bindStep === 'waits') this.bindStep = 'restarted'
  }

  /** After a jump or a restart the clock starts again. */
  restartClock(t: number): void {
    this.nextT = t
    this.blockedUntil = -Infinity
  }

  private frame(t: number, transmitter: Transmitter): RadioFrame | null {
    const { build, random } = this
    const inReach =
      transmitter.on && build.boundTo === transmitter.build.modelId && transmitter.build.powerMw > 0 && build.antenna
    this.hears = inReach && t >= this.blockedUntil && random.uniform() >= build.dropOuts
    if (this.hears) {
      this.last = (this.rival !== null && random.uniform() < 0.5 ? this.rival : transmitter).channels(t)
      return this.sent(t, this.last, Math.max(0, Math.min(1, build.quality + 0.01 * random.normal())))
    }
    if (inReach && t >= this.blockedUntil) return null
    switch (build.atLoss) {
      case 'silent':
        return null
      case 'preset':
        return this.last === null ? null : this.sent(t, transmitter.build.lossPreset ?? build.preset, 0)
      case 'last':
        return this.last === null ? null : this.sent(t, this.last, 0)
    }
  }

  private sent(t: number, channels: readonly number[], quality: number): RadioFrame {
    const { jitterUs, strengthChannel } = this.build
    const noisy = channels.map((us, i) =>
      i + 1 === strengthChannel ? 1000 + 1000 * quality : jitterUs === 0 ? us : us + jitterUs * this.random.normal(),
    )
    return { t, channels: noisy, quality }
  }
}
