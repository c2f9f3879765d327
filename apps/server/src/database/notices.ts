import { EventEmitter } from 'node:events'
import type { Duplex } from 'node:stream'
import pg from 'pg'
import type { Clock } from '@taraf/takes'
import type { Logger } from 'pino'
import type { Transaction } from 'sequelize'
import type { Database } from './database'

const channel = 'taraf_changed'
const stopChannel = 'taraf_stop'
const peopleChannel = 'taraf_people'
const wantedChannel = 'taraf_wanted'
const againMs = 500

/**
 * News between servers on one database: a commit that changed a job card or the hold of a bench is told to all of them
 * (LISTEN and NOTIFY). The payload is a job's id, or nothing where any may be concerned.
 */
export class Notices {
  private readonly emitter = new EventEmitter().setMaxListeners(0)
  private client: pg.Client | null = null
  private closed = false

  constructor(
    private readonly db: Database,
    private readonly url: string,
    private readonly wire: (() => Duplex) | undefined,
    private readonly clock: Clock,
    private readonly log: Logger,
  ) {}

  /** Tells of a change when the transaction commits, or at once without one. */
  async changed(job: string | null, transaction: Transaction | null = null): Promise<void> {
    await this.db.sequelize.query('SELECT pg_notify($channel, $job)', { bind: { channel, job: job ?? '' }, transaction })
  }

  /** Asks whichever server has the link of a bench to stop everything on it. */
  async stop(bench: string): Promise<void> {
    await this.db.sequelize.query('SELECT pg_notify($channel, $bench)', { bind: { channel: stopChannel, bench } })
  }

  /** Asks whichever server has the link of a bench to hand it to another one, whose people have work there. */
  async want(bench: string, server: string): Promise<void> {
    await this.db.sequelize.query('SELECT pg_notify($channel, $wanted)', {
      bind: { channel: wantedChannel, wanted: `${bench} ${server}` },
    })
  }

  onWanted(listener: (bench: string, server: string) => void): void {
    this.emitter.on('wanted', listener)
  }

  onStop(listener: (bench: string) => void): void {
    this.emitter.on('stop', listener)
  }

  /** Somebody's name, role or password was changed, or they were withdrawn. */
  onPerson(listener: (id: string) => void): void {
    this.emitter.on('person', listener)
  }

  onChanged(listener: (job: string | null) => void): void {
    this.emitter.on('changed', listener)
  }

  /** Listens until closed; comes back by itself, and then tells that anything may have changed. */
  async listen(): Promise<void> {
    if (this.closed) return
    const client = new pg.Client({ connectionString: this.url, keepAlive: true, stream: this.wire })
    this.client = client
    const again = () => {
      if (this.client !== client || this.closed) return
      this.client = null
      this.clock.after(againMs, () => void this.listen())
    }
    client.on('error', again)
    client.on('end', again)
    client.on('notification', ({ channel: on, payload = '' }) => {
      if (on === stopChannel) this.emitter.emit('stop', payload)
      else if (on === peopleChannel) this.emitter.emit('person', payload)
      else if (on === wantedChannel) this.emitter.emit('wanted', ...payload.split(' '))
      else this.emitter.emit('changed', payload === '' ? null : payload)
    })
    try {
      await client.connect()
      await client.query(`LISTEN ${channel}; LISTEN ${stopChannel}; LISTEN ${peopleChannel}; LISTEN ${wantedChannel}`)
      this.emitter.emit('changed', null)
    } catch (error) {
      this.log.warn({ err: error }, 'cannot listen to the database yet')
      again()
    }
  }

  async close(): Promise<void> {
    this.closed = true
    await this.client?.end().catch(() => {})
  }
}
