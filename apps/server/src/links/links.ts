import type { Cancel, Clock } from '@taraf/takes'
import type { Logger } from 'pino'
import type { Config } from '../config'
import type { Database } from '../database/database'
import { liesAheadSql, livesSql } from '../database/lives'
import type { Notices } from '../database/notices'
import { ProblemError } from '@taraf/contract'
import type { Dial } from '../ports'
import { BenchLink } from './benchLink'
import type { Servers } from './servers'

const renewMs = 2_000
/** A machine that is busy for some seconds renews it all the same. */
const leaseS = 8
/** A lease is let go of so long before it runs out for the others. */
const marginMs = 1_000
const watchMs = 100

interface Leased {
  readonly link: BenchLink
  readonly leaseNo: number
}

/**
 * The links to boards: which server keeps that of which bench. Whoever has a bench's lease opens its link; a crash of one loses none. A
 * lease has a number that rises whenever another server takes it over, and every link carries it: a board refuses an older one. A
 * server that cannot renew lets go before its lease runs out, by its own clock.
 */
export class Links {
  private readonly leased = new Map<string, Leased>()
  private readonly listeners: ((bench: string, link: BenchLink) => void)[] = []
  private readonly timers: Cancel[] = []
  private renewing: Promise<void> | null = null

  constructor(
    private readonly db: Database,
    private readonly config: Config,
    private readonly notices: Notices,
    private readonly servers: Servers,
    private readonly dial: Dial,
    private readonly clock: Clock,
    private readonly log: Logger,
  ) {}

  start(): void {
    this.timers.push(
      this.clock.every(renewMs, () => void this.renew()),
      this.clock.every(watchMs, () => this.letGoOfOld()),
    )
    this.notices.onChanged(() => void this.renew())
    this.notices.onStop(
      (bench) =>
        void this.linkOf(bench)
          ?.stopAll()
          .catch(() => {}),
    )
    this.notices.onWanted(
      (bench, server) =>
        void this.handOver(bench, server).catch((error: unknown) =>
          this.log.warn({ err: error, bench }, 'lease not handed over'),
        ),
    )
    void this.renew()
  }

  async stop(): Promise<void> {
    for (const cancel of this.timers.splice(0)) cancel()
    await this.renewing
    for (const { link } of this.leased.values()) link.close()
    this.leased.clear()
    await this.db.sequelize
      .query('UPDATE benches SET lease_until = now() WHERE server_id = $server', { bind: { server: this.servers.id } })
      .catch(() => {})
  }

  /** Is called for each link that this server opens. */
  onLink(listener: (bench: string, link: BenchLink) => void): void {
    this.listeners.push(listener)
  }

  linkOf(bench: string): BenchLink | null {
    return this.leased.get(bench)?.link ?? null
  }

  /** The link of a bench for work. Throws a problem where it is not up, or at another server: that one is asked to hand it over. */
  linkFor(bench: string, name: string): BenchLink {
    const link = this.linkOf(bench)
    if (link === null) {
      this.notices
        .want(bench, this.servers.id)
        .catch((error: unknown) => this.log.warn({ err: error, bench }, 'lease not asked for'))
      throw new ProblemError('bench-elsewhere', `${name} is linked to another server just now.`)
    }
    if (link.phase !== 'up') throw new ProblemError('link-lost', link.detail)
    return link
  }

  /** Stop all: whatever turns or is armed on a bench stops, by whichever server has its link. */
  async stopAll(bench: string): Promise<void> {
    const link = this.linkOf(bench)
    if (link === null) return this.notices.stop(bench)
    await link.stopAll()
  }

  /** Renews this server's leases, takes over those that ran out, and opens and closes links to match. */
  async renew(): Promise<void> {
    while (this.renewing !== null) await this.renewing
    this.renewing = this.renewOnce()
      .catch((error: unknown) => this.log.warn({ err: error }, 'leases not renewed'))
      .finally(() => (this.renewing = null))
    return this.renewing
  }

  private async renewOnce(): Promise<void> {
    const askedAtMs = this.clock.nowMs()
    const [rows] = (await this.db.sequelize.query(
      `UPDATE benches SET lease_until = now() + interval '${leaseS} s', server_id = $server,
         lease_no = CASE WHEN server_id = $server THEN lease_no ELSE lease_no + 1 END
       WHERE held_since IS NOT NULL AND (server_id = $server OR lease_until IS NULL OR NOT ${liesAheadSql('lease_until', leaseS)})
       RETURNING id, address, lease_no::int AS "leaseNo"`,
      { bind: { server: this.servers.id } },
    )) as [{ id: string; address: string; leaseNo: number }[], unknown]
    for (const [bench, { leaseNo, link }] of this.leased)
      if (link.isOver || !rows.some((row) => row.id === bench && row.leaseNo === leaseNo))
        this.letGo(bench, 'The bench was let go of.')
    const goodUntilMs = askedAtMs + leaseS * 1000 - marginMs
    for (const { id, address, leaseNo } of rows) {
      const known = this.leased.get(id)
      if (known !== undefined) {
        known.link.renewed(goodUntilMs)
        continue
      }
      const link = new BenchLink(this.resolve(address), this.dial, this.clock, leaseNo, goodUntilMs)
      this.leased.set(id, { link, leaseNo })
      for (const listener of this.listeners) listener(id, link)
    }
  }

  /** Gives the lease of a bench that nothing is done on to the server that asks for it. */
  private async handOver(bench: string, server: string): Promise<void> {
    const link = this.linkOf(bench)
    if (link === null || link.occupiedBy !== null || server === this.servers.id) return
    // Nothing begins on it meanwhile.
    const leave = link.occupy('a change of its server')
    try {
      const [rows] = await this.db.sequelize.query(
        `UPDATE benches SET server_id = $server, lease_no = lease_no + 1, lease_until = now() + interval '${leaseS} s'
         WHERE id = $bench AND server_id = $mine AND ${livesSql('$server')} RETURNING id`,
        { bind: { bench, server, mine: this.servers.id } },
      )
      if (rows.length === 0) return
      this.letGo(bench, 'Another server has work for this board.')
      await this.notices.changed(null)
    } finally {
      leave()
    }
  }

  /** By this server's own clock: what it could not renew in time may be another server's by now. */
  private letGoOfOld(): void {
    for (const [bench, { link }] of this.leased)
      if (this.clock.nowMs() > link.goodUntilMs) {
        this.log.warn({ bench }, 'the lease could not be renewed: the link is let go of')
        this.letGo(bench, 'This server could not renew its lease of the bench.')
      }
  }

  private letGo(bench: string, why: string): void {
    const { link } = this.leased.get(bench) ?? {}
    this.leased.delete(bench)
    link?.close(why)
  }

  private resolve(address: string): string {
    return address.startsWith('rig:')
      ? `${this.config.rigUrl ?? 'ws://127.0.0.1:9'}/bench/${encodeURIComponent(address.slice(4))}`
      : address
  }
}
