import type { BenchView, Person } from '@taraf/contract'
import type { Config } from '../config'
import { isDuplicate, type Database } from '../database/database'
import type { Notices } from '../database/notices'
import { ProblemError } from '@taraf/contract'
import type { BenchLink } from '../links/benchLink'
import type { Links } from '../links/links'

/** The benches: who uses which, and for what job card. Their links are kept by whichever server has the lease. */
export class Benches {
  constructor(
    private readonly db: Database,
    private readonly config: Config,
    private readonly links: Links,
    private readonly notices: Notices,
  ) {}

  async list(): Promise<BenchView[]> {
    return this.select('ORDER BY b.name', {})
  }

  async heldFor(job: string): Promise<BenchView | null> {
    return (await this.select('WHERE b.held_job = $job', { job }))[0] ?? null
  }

  /** Gives a bench to a person for a job card, and opens its link. Whoever holds it already is named. */
  async hold(bench: string, job: string, by: Person): Promise<BenchView> {
    try {
      const [rows] = await this.db.sequelize.query(
        `UPDATE benches SET held_by = $by, held_job = $job, held_since = coalesce(held_since, now())
         WHERE id = $bench AND (held_by IS NULL OR (held_by = $by AND held_job = $job)) RETURNING id`,
        { bind: { bench, job, by: by.id } },
      )
      if (rows.length === 0) await this.refuseHold(bench)
    } catch (error) {
      if (isDuplicate(error)) throw new ProblemError('bench-busy', 'This job card is linked to another bench.')
      throw error
    }
    await this.links.renew()
    await this.notices.changed(null)
    return (await this.select('WHERE b.id = $bench', { bench }))[0] as BenchView
  }

  /** Lets go of a bench. Only who holds it, or a lead, can. */
  async release(bench: string, by: Person): Promise<void> {
    const [row] = await this.select('WHERE b.id = $bench', { bench })
    if (row === undefined) throw new ProblemError('not-found', 'There is no such bench.')
    if (row.heldBy !== null && row.heldBy.id !== by.id && by.role !== 'lead')
      throw new ProblemError('bench-held', `${row.heldBy.name} holds ${row.name}.`)
    await this.free('id = $value', bench)
    await this.notices.changed(null)
  }

  /** Frees whatever bench a job card holds, when it is handed over. */
  async releaseJob(job: string): Promise<void> {
    await this.free('held_job = $value', job)
    await this.notices.changed(null)
  }

  /** The link of a job card's bench, for somebody who holds it. */
  async linkFor(job: string, by: Person): Promise<{ bench: BenchView; link: BenchLink }> {
    const bench = await this.heldFor(job)
    if (bench === null) throw new ProblemError('not-linked', 'This needs the airframe on a bench.')
    if (bench.heldBy?.id !== by.id)
      throw new ProblemError('bench-held', `${bench.heldBy?.name ?? 'Somebody'} holds ${bench.name}.`)
    return { bench, link: this.links.linkFor(bench.id, bench.name) }
  }

  /** The card that a bench is used for, and by whom; null where it is free. */
  async userOf(bench: string): Promise<{ job: string; by: string } | null> {
    const row = (await this.db.benches.findByPk(bench))?.get({ plain: true })
    return row?.heldJob == null || row.heldBy === null ? null : { job: row.heldJob, by: row.heldBy }
  }

  /** Where a simulated bench's hands are, or null for a real one. */
  async handsUrl(bench: string): Promise<string | null> {
    const row = await this.db.benches.findOne({ where: { id: bench } })
    const address = row?.get('address') as string | undefined
    const { rigUrl, hands } = this.config
    return !hands || rigUrl === null || address === undefined || !address.startsWith('rig:')
      ? null
      : `${rigUrl.replace(/^ws/, 'http')}/hands/${encodeURIComponent(address.slice(4))}`
  }

  private async free(where: string, value: string): Promise<void> {
    await this.db.sequelize.query(
      `UPDATE benches SET held_by = NULL, held_job = NULL, held_since = NULL, server_id = NULL, lease_until = NULL WHERE ${where}`,
      { bind: { value } },
    )
    await this.links.renew()
  }

  private async refuseHold(bench: string): Promise<never> {
    const [row] = await this.select('WHERE b.id = $bench', { bench })
    if (row === undefined) throw new ProblemError('not-found', 'There is no such bench.')
    throw new ProblemError(
      'bench-held',
      `${row.heldBy?.name ?? 'Somebody'} holds ${row.name} for ${row.heldJob?.tag ?? 'another job card'}.`,
    )
  }

  private async select(where: string, bind: Record<string, string>): Promise<BenchView[]> {
    const rows = await this.db.select<{
      id: string
      name: string
      address: string
      by: string | null
      byName: string | null
      since: Date | null
      job: string | null
      tag: string | null
    }>(
      `SELECT b.id, b.name, b.address, b.held_by AS by, p.name AS "byName", b.held_since AS since, b.held_job AS job, a.tag
       FROM benches b LEFT JOIN people p ON p.id = b.held_by LEFT JOIN jobs j ON j.id = b.held_job
       LEFT JOIN airframes a ON a.id = j.airframe_id ${where}`,
      bind,
    )
    return rows.map((row) => ({
      id: row.id,
      name: row.name,
      heldBy: row.by === null ? null : { id: row.by, name: row.byName ?? '', since: row.since?.toISOString() ?? '' },
      heldJob: row.job === null ? null : { id: row.job, tag: row.tag ?? '' },
      hands: this.config.hands && row.address.startsWith('rig:'),
    }))
  }
}
