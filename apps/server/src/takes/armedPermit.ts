import type { BenchLink } from '../links/benchLink'
import { ProblemError } from '../http/problem'
import { until } from './recorders/until'

const stillWaitMs = 10_000

/**
 * The permit under which a board may be armed by its own transmitter, held from the first step that wants it to the last. Whoever drops it
 * disarms the board.
 */
export class ArmedPermit {
  private token: string | null = null

  constructor(private readonly link: BenchLink) {}

  /** @param powerId the battery connection that props were confirmed off for, and never the one that happens to be there */
  async hold(powerId: string, signal: AbortSignal): Promise<void> {
    const { link } = this
    if (this.token !== null && link.state?.permit === 'armed-bench') return
    // What turned before comes to rest first.
    const late = AbortSignal.timeout(stillWaitMs)
    await until({ link, signal: AbortSignal.any([signal, late]) }, () => link.state?.motors === 'still').catch(
      (error: unknown) => {
        throw late.aborted ? new ProblemError('bench-busy', 'The motors do not come to rest.') : error
      },
    )
    const { token } = await this.link.ask({ ask: 'permit', kind: 'armed-bench', props: 'off', powerId })
    this.token = token
  }

  /** Everything stands, and the board is disarmed. A permit that the board no longer has is as good as dropped. */
  async drop(): Promise<void> {
    const { token } = this
    this.token = null
    if (token !== null) await this.link.ask({ ask: 'permit.drop', token }).catch(() => {})
  }
}
