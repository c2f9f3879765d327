import { randomUUID } from 'node:crypto'
import { hostname } from 'node:os'
import type { Cancel, Clock } from '@taraf/takes'
import type { Logger } from 'pino'
import type { Config } from '../config'
import type { Database } from '../database/database'
import { aliveS, liesAheadSql } from '../database/lives'
import { isPeerToken, peerToken } from './peerToken'

const renewMs = 2_000

/** The servers on one database: each says every two seconds that it lives, and where the others find it. */
export class Servers {
  readonly id = randomUUID()
  private stopRenewing: Cancel = () => {}
  private address = ''

  constructor(
    private readonly db: Database,
    private readonly config: Config,
    private readonly clock: Clock,
    private readonly log: Logger,
  ) {}

  /** @param port that this server listens on */
  async start(port: number): Promise<void> {
    this.address = this.config.peerAddress ?? `ws://${this.config.host}:${port}`
    // Whoever had this address before is gone: it could not be listened on twice.
    await this.db.sequelize
      .query(`DELETE FROM servers WHERE (address = $address AND host = $host) OR NOT ${liesAheadSql('alive_until', aliveS)}`, {
        bind: { address: this.address, host: hostname() },
      })
      .catch((error: unknown) => this.log.warn({ err: error }, 'servers before this one not forgotten'))
    await this.renew()
    this.stopRenewing = this.clock.every(renewMs, () => void this.renew())
  }

  async stop(): Promise<void> {
    this.stopRenewing()
    await this.db.sequelize.query('DELETE FROM servers WHERE id = $id', { bind: { id: this.id } }).catch(() => {})
  }

  /** Where the server is found that has the link of a bench; null where none has, or this one. */
  async peerOf(bench: string): Promise<string | null> {
    const [row] = await this.db.select<{ address: string }>(
      `SELECT s.address FROM benches b JOIN servers s ON s.id = b.server_id
       WHERE b.id = $bench AND s.id <> $id AND ${liesAheadSql('s.alive_until', aliveS)}`,
      { bench, id: this.id },
    )
    return row?.address ?? null
  }

  token(): string {
    return peerToken(this.config.sessionSecret, this.clock.date())
  }

  isPeer(token: string): boolean {
    return isPeerToken(this.config.sessionSecret, token, this.clock.date())
  }

  private async renew(): Promise<void> {
    await this.db.sequelize
      .query(
        `INSERT INTO servers (id, address, host, alive_until) VALUES ($id, $address, $host, now() + interval '${aliveS} s')
         ON CONFLICT (id) DO UPDATE SET alive_until = excluded.alive_until`,
        { bind: { id: this.id, address: this.address, host: hostname() } },
      )
      .catch((error: unknown) => this.log.warn({ err: error }, 'this server could not say that it lives'))
  }
}
