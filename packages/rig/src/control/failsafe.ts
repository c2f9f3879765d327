import { lossActs } from '../board/definitions'
import type { BoardSettings } from '../board/settings'

export const lossPhases = ['none', 'notice', 'wait', 'act', 'end', 'recover'] as const
export type LossPhase = (typeof lossPhases)[number]

/**
 * Loss of signal through its phases. Notice: frames stay out, the last ones hold. Wait: the loss is known, sticks are held as
 * set. Act: what the settings say. End: disarmed. Recover: frames are back, control follows after a time.
 */
export class Failsafe {
  phase: LossPhase = 'none'
  private lastFrameT: number | null = null
  private backSince: number | null = null
  private phaseSince = 0

  constructor(private readonly settings: BoardSettings) {}

  /** A good frame arrived. */
  hear(t: number): void {
    this.lastFrameT = t
  }

  restart(): void {
    this.phase = 'none'
    this.lastFrameT = null
    this.backSince = null
  }

  /** Never heard, or silent for longer than the board waits before it calls it a loss. */
  isLost(t: number): boolean {
    return this.lastFrameT === null || t - this.lastFrameT > this.settings.get('loss.notice') / 1000
  }

  /** Returns the phase entered, or null where it stays. `asked` is failsafe by switch. */
  step(t: number, armed: boolean, asked: boolean): LossPhase | null {
    const before = this.phase
    const quietS = this.lastFrameT === null ? Infinity : t - this.lastFrameT
    const s = this.settings
    if (before === 'none' && this.lastFrameT === null) return null
    const lost = quietS > s.get('loss.notice') / 1000
    const quiet = quietS > 0.1
    switch (before) {
      case 'none':
        if (asked && armed) this.enter('act', t)
        else if (quiet) this.enter('notice', t)
        break
      case 'notice':
        if (lost) this.enter('wait', t)
        else if (!quiet) this.enter('none', t)
        break
      case 'wait':
      case 'act':
      case 'end':
        if (!quiet && !asked) {
          this.backSince = t
          this.enter('recover', t)
        } else if (before === 'wait' && t - this.phaseSince >= s.get('loss.wait') / 1000) this.enter('act', t)
        else if (before === 'act' && this.isOver(t, armed)) this.enter('end', t)
        break
      case 'recover':
        if (quiet) this.enter('wait', t)
        else if (asked && armed) this.enter('act', t)
        else if (t - (this.backSince ?? t) >= s.get('loss.back') / 1000) this.enter('none', t)
    }
    return this.phase === before ? null : this.phase
  }

  /** What the sticks do to the craft now: theirs, held, or the act's. */
  get control(): 'sticks' | 'held' | 'act' {
    return this.phase === 'none' || this.phase === 'notice'
      ? 'sticks'
      : this.phase === 'wait' || this.phase === 'recover'
        ? 'held'
        : 'act'
  }

  get act(): (typeof lossActs)[number] {
    return lossActs[this.settings.get('loss.act')] ?? 'cut'
  }

  private isOver(t: number, armed: boolean): boolean {
    return !armed || this.act === 'cut' || t - this.phaseSince >= this.settings.get('loss.end')
  }

  private enter(phase: LossPhase, t: number): void {
    this.phase = phase
    this.phaseSince = t
  }
}
