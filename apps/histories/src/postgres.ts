import type { Socket } from 'node:net'
import pg from 'pg'

/** What a query is given so long for, of real time, before the database is asked whether it waits for a lock. */
const lockLookMs = 4
const idle = 'I'.charCodeAt(0)

/** A simple query (PostgreSQL 15, chapter 55, "Message Formats"). */
const simpleQuery = (sql: string): Buffer => {
  const text = Buffer.from(`${sql}\0`)
  const message = Buffer.alloc(5 + text.length)
  message.write('Q')
  message.writeInt32BE(4 + text.length, 1)
  text.copy(message, 5)
  return message
}

/** Messages as they come in pieces; each begins with a letter and its length. */
export class Messages {
  private kept: Buffer = Buffer.alloc(0)

  /** The whole messages that are there with these bytes. */
  take(bytes: Buffer): Buffer[] {
    const all = this.kept.length === 0 ? bytes : Buffer.concat([this.kept, bytes])
    const whole: Buffer[] = []
    let at = 0
    while (all.length - at >= 5) {
      const length = 1 + all.readInt32BE(at + 1)
      if (all.length - at < length) break
      whole.push(all.subarray(at, at + length))
      at += length
    }
    this.kept = all.subarray(at)
    return whole
  }
}
export const letterOf = (message: Buffer): string => String.fromCharCode(message[0] as number)

/** One process of the database, which serves one connection after the other. */
export class Backend {
  /** Told what comes though nobody asked: news of other sessions. */
  heard: (message: Buffer) => void = () => {}
  status = idle
  isGone = false
  private readonly messages = new Messages()
  private answer: Buffer[] = []
  private asked: ((answer: Buffer[]) => void) | null = null
  /** So many queries before the one whose answer is wanted. */
  private ahead = 0

  constructor(
    private readonly socket: Socket,
    readonly pid: number,
  ) {
    socket.on('data', (bytes: Buffer) => {
      for (const message of this.messages.take(bytes)) this.take(message)
    })
    socket.on('close', () => {
      this.isGone = true
      this.asked?.([])
    })
    socket.on('error', () => {})
  }

  get isBusy(): boolean {
    return this.asked !== null
  }

  /**
   * Sends one query, and hands back all that answers it, up to and with the message that says that it is ready.
   *
   * @param before a query that goes with it, whose answer nobody wants
   */
  ask(bytes: Buffer, before: Buffer | null = null): Promise<Buffer[]> {
    return new Promise((resolve) => {
      if (this.isGone) return resolve([])
      this.ahead = before === null ? 0 : 1
      this.asked = (answer) => {
        this.asked = null
        resolve(answer)
      }
      this.socket.write(before === null ? bytes : Buffer.concat([before, bytes]))
    })
  }

  say(sql: string): Promise<Buffer[]> {
    return this.ask(simpleQuery(sql))
  }

  end(): void {
    this.socket.destroy()
  }

  private take(message: Buffer): void {
    const letter = letterOf(message)
    if (letter === 'A') return this.heard(message)
    this.answer.push(message)
    if (letter !== 'Z') return
    this.status = message[5] as number
    const { answer } = this
    this.answer = []
    if (this.ahead > 0) this.ahead -= 1
    else this.asked?.(answer)
  }
}

/** A connection of a part of the shop to the database. */
export interface Session {
  backend: Backend | null
  /** It asked to be told of changes. */
  listens: boolean
  /** Its transaction tells the others of something once it is committed. */
  tells: boolean
  /** What it was told of by others, and has not been given yet. */
  readonly news: Buffer[]
  /** Is given the news. */
  readonly heard: (news: Buffer) => void
}

interface Blocked {
  readonly answering: Promise<Buffer[]>
  readonly done: (answer: Buffer[]) => Promise<void>
}

/**
 * A real PostgreSQL, asked one query after the other: the next one begins once the one before was answered, or is seen to wait for a lock. So the
 * same history asks it the same, in the same order, each time. Its `now()` is the time of the shop that is simulated.
 */
export class Postgres {
  private readonly sessions = new Set<Session>()
  private readonly free: Backend[] = []
  private readonly blocked = new Map<Backend, Blocked>()
  private readonly waiting: (() => Promise<void>)[] = []
  private working: Promise<void> | null = null
  private ticks = 0

  private constructor(
    private readonly url: string,
    private readonly watcher: pg.Client,
  ) {}

  /**
   * @param url of the server's role
   * @param watcherUrl of a superuser, who sees what waits for a lock
   */
  static async open(url: string, watcherUrl: string): Promise<Postgres> {
    const watcher = new pg.Client({ connectionString: watcherUrl })
    await watcher.connect()
    return new Postgres(url, watcher)
  }

  /** Something was asked whose answer has not come, and it waits for nothing but the database. */
  get isBusy(): boolean {
    return this.working !== null
  }

  async settled(): Promise<void> {
    await this.working
  }

  session(heard: Session['heard']): Session {
    const session: Session = { backend: null, listens: false, tells: false, news: [], heard }
    this.sessions.add(session)
    return session
  }

  /** Asks one query at a time of the shop; what answers it is delivered, but where it waits for a lock, before the next one is asked. */
  query(session: Session, bytes: Buffer, at: Date, deliver: (answer: Buffer[]) => void): void {
    const text = bytes.toString('latin1')
    if (text.includes('LISTEN')) session.listens = true
    if (text.includes('pg_notify')) session.tells = true
    this.put(async () => {
      const backend = (session.backend ??= await this.backendFor(session))
      // A transaction has one time, that of its begin; no two of them have the same.
      const time = backend.status === idle ? simpleQuery(`SET taraf.now = '${this.timeAt(at)}'`) : null
      await this.run(backend, backend.ask(bytes, time), async (answer) => {
        if (session.tells && backend.status === idle) {
          session.tells = false
          await this.tellListeners()
        }
        deliver(answer)
      })
    })
  }

  /** The connection is gone: what it had begun is undone. */
  leave(session: Session): void {
    if (!this.sessions.delete(session)) return
    this.put(async () => {
      const { backend } = session
      if (backend === null) return
      backend.heard = () => {}
      if (this.blocked.delete(backend)) {
        await this.watcher.query('SELECT pg_terminate_backend($1, 5000)', [backend.pid])
        backend.end()
      } else {
        if (backend.status !== idle) await backend.say('ROLLBACK')
        await backend.say('DISCARD ALL')
        this.free.push(backend)
      }
      await this.goOnWithBlocked()
    })
  }

  /** Ends all connections of a history. */
  async clear(): Promise<void> {
    for (const session of [...this.sessions]) this.leave(session)
    await this.settled()
    this.ticks = 0
  }

  async close(): Promise<void> {
    await this.clear()
    for (const backend of this.free) backend.end()
    await this.watcher.end()
  }

  private timeAt(at: Date): string {
    this.ticks = (this.ticks + 1) % 1000
    return at.toISOString().replace('Z', `${String(this.ticks).padStart(3, '0')}Z`)
  }

  private put(run: () => Promise<void>): void {
    this.waiting.push(run)
    this.working ??= this.work()
  }

  private async work(): Promise<void> {
    for (let next = this.waiting.shift(); next !== undefined; next = this.waiting.shift()) await next()
    this.working = null
  }

  /** Waits for an answer; what waits for a lock is answered later, when somebody lets go of it. */
  private async run(backend: Backend, answering: Promise<Buffer[]>, done: Blocked['done']): Promise<void> {
    const answer = await this.answerOf(backend, answering)
    if (answer === null) return void this.blocked.set(backend, { answering, done })
    await done(answer)
    await this.goOnWithBlocked()
  }

  private async goOnWithBlocked(): Promise<void> {
    for (let went = true; went && this.blocked.size > 0;) {
      went = false
      for (const [backend, { answering, done }] of [...this.blocked]) {
        if (await this.waitsForLock(backend)) continue
        const answer = await this.answerOf(backend, answering)
        if (answer === null) continue
        this.blocked.delete(backend)
        await done(answer)
        went = true
      }
    }
  }

  /** Null where it waits for a lock. */
  private async answerOf(backend: Backend, answering: Promise<Buffer[]>): Promise<Buffer[] | null> {
    for (;;) {
      let timer: NodeJS.Timeout | undefined
      const late = new Promise<null>((resolve) => (timer = setTimeout(() => resolve(null), lockLookMs)))
      const answer = await Promise.race([answering, late])
      clearTimeout(timer)
      if (answer !== null) return answer
      if (await this.waitsForLock(backend)) return null
    }
  }

  private async waitsForLock({ pid }: Backend): Promise<boolean> {
    const { rows } = await this.watcher.query('SELECT 1 FROM pg_locks WHERE NOT granted AND pid = $1', [pid])
    return rows.length > 0
  }

  /** A session that listens has heard of a commit once its next query is answered. */
  private async tellListeners(): Promise<void> {
    for (const { listens, backend } of this.sessions) if (listens && backend?.isBusy === false) await backend.say('')
    // PostgreSQL tells them in any order: they are given it in their own.
    for (const { news, heard } of this.sessions) if (news.length > 0) heard(Buffer.concat(news.splice(0)))
  }

  private async backendFor({ news }: Session): Promise<Backend> {
    const backend = this.free.pop() ?? (await this.begin())
    backend.heard = (message) => void news.push(message)
    return backend
  }

  /** The library signs in; from then on its socket is spoken to directly. */
  private async begin(): Promise<Backend> {
    const client = new pg.Client({ connectionString: this.url })
    await client.connect()
    const { connection, processID } = client as unknown as { connection: { stream: Socket }; processID: number }
    connection.stream.removeAllListeners()
    return new Backend(connection.stream, processID)
  }
}
