import { randomUUID } from 'node:crypto'
import type { BenchView, LinkTell, Person } from '@taraf/contract'
import type { Logger } from 'pino'
import type { Config } from '../config'
import { isDuplicate, type Database } from '../database'
import { ProblemError } from '../http/problem'
import type { Notices } from '../live/notices'
import { BenchLink } from './benchLink'
import type { BenchRow } from './model'

const renewMs = 2_000
const leaseS = 6

interface Held {
  readonly job: string
  readonly link: BenchLink
}

/**
 * The benches: who holds which for what job card, and which server keeps its link. A hold is stored; the link follows it
 * to whichever server has the lease, so that a crash of one loses neither.
 */
export class Benches {
  private readonly serverId = randomUUID()
  private readonly held = new Map<string, Held>()
  private readonly linkListeners: ((bench: string, link: BenchLink) => void)[] = []
  private timer: NodeJS.Timeout | null = null
  private renewing: Promise<void> | null = null

  constructor(
    private readonly db: Database,
    private readonly config: Config,
    private readonly notices: Notices,
    private readonly log: Logger,
  ) {}

  start(): void {
    this.timer = setInterval(() => void this.renew(), renewMs)
    this.notices.onChanged(() => void this.renew())
    this.notices.onStop(
      (bench) =>
        void this.held
          .get(bench)
          ?.link.ask({ ask: 'stop' })
          .catch(() => {}),
    )
    void this.renew()
  }

  async stop(): Promise<void> {
    if (this.timer !== null) clearInterval(this.timer)
    this.timer = null
    await this.renewing
    for (const { link } of this.held.values()) link.close()
    this.held.clear()
    await this.db.benches.update({ leaseUntil: new Date(0) }, { where: { serverId: this.serverId } }).catch(() => {})
  }

  /** Is called for each link that this server opens. */
  onLink(listener: (bench: string, link: BenchLink) => void): void {
    this.linkListeners.push(listener)
  }

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
        `UPDATE benches SET held_by = $by, held_job = $job, held_since = now(), server_id = $server, lease_until = now() + interval '${leaseS} s'
         WHERE id = $bench AND (held_by IS NULL OR (held_by = $by AND held_job = $job)) RETURNING id`,
        { bind: { bench, job, by: by.id, server: this.serverId } },
      )
      if (rows.length === 0) await this.refuseHold(bench)
    } catch (error) {
      if (isDuplicate(error)) throw new ProblemError('bench-busy', 'This job card is linked to another bench.')
      throw error
    }
    await this.renew()
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
    const held = this.held.get(bench.id)
    if (held === undefined) throw new ProblemError('bench-elsewhere', `${bench.name} is linked to another server just now.`)
    if (held.link.phase !== 'up') throw new ProblemError('link-lost', held.link.detail)
    return { bench, link: held.link }
  }

  /** Stop all: whatever turns or is armed on a bench stops, by whichever server has its link. */
  async stopAll(bench: string): Promise<void> {
    const held = this.held.get(bench)
    if (held === undefined) return this.notices.stop(bench)
    await held.link.ask({ ask: 'stop' })
  }

  linkOf(bench: string): BenchLink | null {
    return this.held.get(bench)?.link ?? null
  }

  jobOf(bench: string): string | null {
    return this.held.get(bench)?.job ?? null
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
    await this.renew()
  }

  private async refuseHold(bench: string): Promise<never> {
    const [row] = await this.select('WHERE b.id = $bench', { bench })
    if (row === undefined) throw new ProblemError('not-found', 'There is no such bench.')
    throw new ProblemError(
      'bench-held',
      `${row.heldBy?.name ?? 'Somebody'} holds ${row.name} for ${row.heldJob?.tag ?? 'another job card'}.`,
    )
  }

  /** Renews this server's leases, takes over those that ran out, and opens and closes links to match. */
  private async renew(): Promise<void> {
    while (this.renewing !== null) await this.renewing
    this.renewing = this.renewOnce()
      .catch((error: unknown) => this.log.warn({ err: error }, 'leases not renewed'))
      .finally(() => (this.renewing = null))
    return this.renewing
  }

  private async renewOnce(): Promise<void> {
    const [rows] = (await this.db.sequelize.query(
      `UPDATE benches SET server_id = $server, lease_until = now() + interval '${leaseS} s'
       WHERE held_job IS NOT NULL AND (server_id = $server OR lease_until IS NULL OR lease_until < now())
       RETURNING id, address, held_job AS "heldJob"`,
      { bind: { server: this.serverId } },
    )) as [Pick<BenchRow, 'id' | 'address' | 'heldJob'>[], unknown]
    for (const [bench, { job, link }] of this.held)
      if (!rows.some((row) => row.id === bench && row.heldJob === job)) {
        this.held.delete(bench)
        link.close()
      }
    for (const { id, address, heldJob } of rows)
      if (!this.held.has(id) && heldJob !== null) {
        const link = new BenchLink(this.resolve(address))
        this.held.set(id, { job: heldJob, link })
        for (const listener of this.linkListeners) listener(id, link)
      }
  }

  private resolve(address: string): string {
    return address.startsWith('rig:')
      ? `${this.config.rigUrl ?? 'ws://127.0.0.1:9'}/bench/${encodeURIComponent(address.slice(4))}`
      : address
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

/** How a link stands, as the screens are told. */
export const linkTellOf = (bench: string, link: BenchLink | null): LinkTell => ({
  tell: 'link',
  bench,
  phase: link?.phase ?? 'none',
  detail: link?.detail ?? 'The bench is not linked.',
  board: link?.identity?.board ?? null,
  bootedAtMs: link?.bootedAtMs ?? null,
  state: link?.phase === 'up' ? link.state : null,
  lostBlocks: link?.lostBlocks ?? 0,
  loader: link?.phase === 'up' && link.identity?.loader === true,
  powerSince: link?.powerSince?.toISOString() ?? null,
})
