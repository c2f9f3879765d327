import type { Sampled } from '@taraf/contract'
import type { Clock } from './clock'
import type { BoardLink } from './link/boardLink'
import { untilStill } from './link/until'

/**
 * A permit that is held from the first step that wants it to the last: to be armed by the transmitter, or to teach ESCs their range.
 * Dropping it disarms the board, and everything stands.
 */
export class BenchPermit {
  private token: string | null = null

  constructor(
    private readonly link: BoardLink,
    private readonly clock: Clock,
  ) {}

  /** @param powerId the battery connection that props were confirmed off for, and never the one that happens to be there */
  async hold(kind: NonNullable<Sampled['permit']>, powerId: string, signal: AbortSignal): Promise<void> {
    const { link } = this
    // What the board told last may be older than the event that a step ended with: it is asked.
    if (this.token !== null) {
      const { state } = await link.ask({ ask: 'state' })
      if (state.permit === kind && state.motors === 'armed') return
    }
    // One that is not used does not last: a step that begins unarmed has all of its time.
    await this.drop()
    // What turned before comes to rest first.
    await untilStill(this.clock, link, signal)
    const { token } = await this.link.ask({ ask: 'permit', kind, props: kind === 'flight' ? 'on' : 'off', powerId })
    this.token = token
  }

  /** Everything stands, and the board is disarmed. A permit that the board no longer has is as good as dropped. */
  async drop(): Promise<void> {
    const { token } = this
    this.token = null
    if (token !== null) await this.link.ask({ ask: 'permit.drop', token }).catch(() => {})
  }
}
