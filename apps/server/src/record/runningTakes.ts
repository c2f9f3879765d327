import type { TakeBody } from '@taraf/contract'
import { refusal } from '@taraf/core'
import type { Transaction } from 'sequelize'
import type { Database } from '../database/database'
import { ProblemError } from '@taraf/contract'
import { livesSql } from '../database/lives'
import type { Cards, LockedJob } from './cards'
import { lockChain } from './chain'

/** What the record will say of a take that its server did not live to end. */
export interface RunningTake {
  readonly job: string
  readonly by: string
  readonly check: string
  readonly checkVersion: number
  readonly began: number
  readonly bench: string
  readonly board: string
  readonly requestKey: string | null
}

const cutOff = 'The server ended during the take; nothing of it could be kept'

/** The takes that run now, whichever server runs them: a card on which one runs is not signed and not parked. */
export class RunningTakes {
  constructor(
    private readonly db: Database,
    private readonly serverId: string,
  ) {}

  /** Notes that a take runs. Throws a problem where one runs already. */
  begin(take: RunningTake): Promise<void> {
    return this.db.within(async (transaction) => {
      await lockChain(this.db, take.job, transaction)
      await wantNoTake(this.db, take.job, transaction)
      const { job, by, check, checkVersion, began, bench, board, requestKey } = take
      await this.db.sequelize.query(
        `INSERT INTO running_takes (job_id, server_id, by, check_id, check_version, began, bench, board, request_key)
         VALUES ($job, $server, $by, $check, $checkVersion, $began, $bench, $board, $requestKey)`,
        { bind: { job, server: this.serverId, by, check, checkVersion, began, bench, board, requestKey }, transaction },
      )
    })
  }

  /**
   * It ended: in the transaction that keeps it, or without a trace where nothing is kept. False where it had ended before: it was kept, and the
   * answer of the database was lost; or another server took this one for gone, and put a refused take in its place.
   */
  async end(job: string, transaction: Transaction | null = null): Promise<boolean> {
    const [rows] = await this.db.sequelize.query(
      'DELETE FROM running_takes WHERE job_id = $job AND server_id = $server RETURNING job_id',
      { bind: { job, server: this.serverId }, transaction },
    )
    return rows.length > 0
  }

  /** The entry that a take which had ended before stands as; null where it left none. */
  async keptAs({ id, transaction }: LockedJob, requestKey: string): Promise<number | null> {
    const [entry] = await this.db.select<{ seq: number }>(
      'SELECT seq FROM job_entries WHERE job_id = $job AND request_key = $requestKey',
      { job: id, requestKey },
      transaction,
    )
    return entry?.seq ?? null
  }

  /** Whether another server runs a take of the card. */
  async isElsewhere(job: string): Promise<boolean> {
    const found = await this.db.select('SELECT 1 FROM running_takes WHERE job_id = $job AND server_id <> $server', {
      job,
      server: this.serverId,
    })
    return found.length > 0
  }

  /**
   * Appends a refused take for each one whose server is gone, and for those of this server that ended without being kept. Returns the cards on
   * which a take of this server is noted.
   */
  async sweep(cards: Cards, runsHere: (job: string) => boolean): Promise<ReadonlySet<string>> {
    const lost = await this.db.select<{ job: string; server: string }>(
      `SELECT job_id AS job, server_id AS server FROM running_takes WHERE server_id = $server OR NOT ${livesSql('server_id')}`,
      { server: this.serverId },
    )
    for (const { job, server } of lost)
      if (server !== this.serverId || !runsHere(job)) await cards.change(job, this.refuse(server))
    return new Set(lost.flatMap(({ job, server }) => (server === this.serverId ? [job] : [])))
  }

  private refuse =
    (server: string) =>
    async (locked: LockedJob): Promise<void> => {
      const [rows] = (await this.db.sequelize.query(
        `DELETE FROM running_takes WHERE job_id = $job AND server_id = $server
         RETURNING by, check_id AS "check", check_version AS "checkVersion", began, bench, board, request_key AS "requestKey"`,
        { bind: { job: locked.id, server }, transaction: locked.transaction },
      )) as [
        (Pick<TakeBody, 'check' | 'checkVersion' | 'began' | 'bench' | 'board'> & Pick<RunningTake, 'by' | 'requestKey'>)[],
        unknown,
      ]
      const said = { verdict: 'refused' as const, findings: refusal(cutOff, 'Run it again.'), evidenceSha256: null }
      for (const { by, requestKey, ...take } of rows) await locked.append(by, { kind: 'take', ...take, ...said }, requestKey)
    }
}

/** Throws a problem where a take of the card runs, on any server. */
export const wantNoTake = async (db: Database, job: string, transaction: Transaction | null = null): Promise<void> => {
  const [running] = await db.select('SELECT 1 FROM running_takes WHERE job_id = $job', { job }, transaction)
  if (running !== undefined) throw new ProblemError('bench-busy', 'A take is running; stop it or wait for its verdict.')
}
