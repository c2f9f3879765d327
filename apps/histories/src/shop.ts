import { checkById, type Check } from '@taraf/core'
import { demoShop, rigOf, type RigOrder } from '@taraf/demo'
import { actOn, type Random } from '@taraf/rig'
import { elapsed, type JumpClock } from '@taraf/takes'
import { begins, benches, people, sheet, taken, type ShopBase } from './base'
import { DatabasePart } from './databasePart'
import { Network } from './network'
import { Part } from './part'
import type { Promised } from './promises'
import { RigPart } from './rigPart'
import { Screen } from './screen'
import { ServerPart, type Around } from './serverPart'
import { Strikes, drawStrikes, type Struck } from './strikes'
import { Worker } from './worker'

/** In so much of a history people work and things go wrong, ms. */
const windowMs = 12_000
/** Within so much after everything is well again every card must go on, s. */
const calmS = 20
/** How often somebody who sees danger stops all on the first bench. */
const stopsAll = 0.2
/** What the gyro of the second board is off by, rad/s: a take finds it, and what it says repairs it. */
const biasRadS = 0.016

/**
 * A whole shop: two servers on one database, two boards on their benches, a technician with a screen at each, and a lead who looks at all of it.
 * A strike ends a part, stops it, slows it, sets its date, or parts it from another; each is repaired after a while.
 */
export class Shop implements Around, Struck {
  readonly network: Network
  readonly database: DatabasePart
  readonly boards: readonly RigPart[]
  readonly promised: Promised = { notes: [], cards: [], takes: [] }
  /** Cards that could not go on once everything was well. */
  readonly stuck: string[] = []
  readonly verdicts: Record<string, number> = {}
  private readonly servers: ServerPart[] = []
  private readonly strikes: Strikes
  private readonly workers: readonly Worker[]
  /** What puts right what was struck, where its time has not come yet. */
  private readonly repairs = new Set<() => void>()

  constructor(
    private readonly base: ShopBase,
    private readonly time: JumpClock,
    private readonly random: Random,
    private readonly told: ((words: string) => void) | null,
  ) {
    this.strikes = new Strikes(time, drawStrikes(random, windowMs), this, told)
    this.network = new Network(time, this.strikes.fate)
    this.database = new DatabasePart(this.network, base.postgres)
    // Half of all shops have one bench: what goes wrong there is seen in half the time.
    const busy = benches.slice(0, 1 + random.below(2))
    this.boards = busy.map((name, i) => {
      const spoil: RigOrder['spoil'] = ({ imu }) => void (imu.gyroBias = [0, 0, i * biasRadS])
      const order = { type: 'N4', board: `TB-${i + 1}`, seed: random.below(1e6), spoil }
      return new RigPart(this.network, name, rigOf(order, demoShop(begins)))
    })
    for (const i of [0, 1]) this.startServer(i)
    this.workers = busy.map((_, i) => this.workerOf(i))
  }

  /** How many things went wrong. */
  get struck(): number {
    return this.strikes.fallen
  }

  /** Where everybody stands. */
  get stands(): string {
    return this.workers.map(({ tag, doing }) => `${tag}: ${doing}`).join('; ')
  }

  /** People work while things go wrong; then everything is well, and every card must go on. */
  async live(): Promise<void> {
    const { time } = this
    const isOver = () => time.nowMs() > windowMs
    const { workers } = this
    await Promise.all([...workers.map((worker) => worker.work(isOver, taken)), this.lookOn(isOver)])
    this.strikes.end()
    for (const repair of [...this.repairs]) repair()
    this.network.joinAll()
    await Promise.all(workers.map((worker) => this.goOn(worker)))
    await elapsed(time, 1)
  }

  close(): void {
    for (const { part } of this.servers) part.end()
  }

  rigNamed(name: string): RigPart {
    return this.boards.find((board) => board.name === name) as RigPart
  }

  serverNamed(name: string): ServerPart {
    return this.servers[Number(name.split('-')[1])] as ServerPart
  }

  end(part: Part, forMs: number): void {
    const server = this.servers.findIndex((one) => one.part === part)
    const board = this.boards.find((one) => one.part === part)
    if (server >= 0) {
      part.end()
      this.later(forMs, () => this.startServer(server))
    } else if (part === this.database.part) {
      part.end()
      this.later(forMs, () => this.database.begin())
    } else if (board !== undefined) {
      // A board has no process that ends: its cable comes out.
      actOn(board.rig, { act: 'cable', in: false })
      board.bench.afterHands()
      this.later(forMs, () => actOn(board.rig, { act: 'cable', in: true }))
    } else this.stop(part, forMs)
  }

  stop(part: Part, forMs: number): void {
    part.stop()
    this.later(forMs, () => part.goOn())
  }

  slow(part: Part, forMs: number): void {
    part.slowMs = Math.min(100, forMs)
    this.later(forMs, () => (part.slowMs = 0))
  }

  date(part: Part, byMs: number): void {
    part.shiftDate(byMs)
  }

  part(a: Part, b: Part, forMs: number): void {
    this.network.part(a, b)
    this.later(forMs, () => this.network.join(a, b))
  }

  private later(ms: number, repair: () => void): void {
    const once = () => {
      if (this.repairs.delete(once)) repair()
    }
    this.repairs.add(once)
    this.time.after(ms, once)
  }

  private startServer(i: number): void {
    this.servers[i] = new ServerPart(this, `server-${i}`, this.base.config(`server-${i}`))
  }

  private screenOf(i: number): Screen {
    const { login, password } = people[i] as (typeof people)[number]
    const part = new Part(`screen of ${login}`, this.time)
    return new Screen(this.network, part, () => this.serverNamed(`server-${i % 2}`), { login, password })
  }

  private workerOf(i: number): Worker {
    const at = { board: this.boards[i] as RigPart, tag: `T-${i + 1}`, bench: this.base.benchIds[i] ?? '', sheet }
    return new Worker(
      this.screenOf(i),
      at,
      this.random,
      this.promised,
      (verdict) => (this.verdicts[verdict] = (this.verdicts[verdict] ?? 0) + 1),
      this.told,
    )
  }

  /** The lead looks at the whole shop, stops all now and then, and writes on one of the cards. */
  private async lookOn(isOver: () => boolean): Promise<void> {
    const screen = this.screenOf(2)
    await screen.until('GET', '/session')
    screen.watch({})
    for (let n = 0; !isOver(); n++) {
      await elapsed(screen.part.clock, 1 + 4 * this.random.uniform())
      if (this.random.uniform() < stopsAll) await screen.until('POST', `/benches/${this.base.benchIds[0]}/stop`)
      const { job } = this.promised.cards[this.random.below(this.workers.length)] ?? {}
      if (job === undefined) continue
      const cause = `lead note ${n}`
      const done = await screen.until('POST', `/jobs/${job}/changes`, { change: { what: 'knock' }, cause })
      if (done.status === 201) this.promised.notes.push({ job, cause, seq: (done.body as { seq: number }).seq })
    }
  }

  /** A take of a card comes to its verdict soon after nothing goes wrong any more. */
  private async goOn(worker: Worker): Promise<void> {
    const untilMs = this.time.nowMs() + calmS * 1000
    for (;;) {
      const verdict = await worker.takeInCalm(checkById('sensors.gyroRest') as Check)
      if (verdict === 'pass' || verdict === 'fail') return
      if (this.time.nowMs() > untilMs)
        return void this.stuck.push(`stuck: the card of ${worker.tag} (${verdict ?? 'no verdict'})`)
    }
  }
}
