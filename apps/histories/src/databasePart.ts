import { End } from './connection'
import type { Network } from './network'
import { Messages, letterOf, type Postgres, type Session } from './postgres'
import { Part } from './part'

const message = (letter: string, body: Buffer): Buffer => {
  const length = Buffer.alloc(4)
  length.writeInt32BE(4 + body.length)
  return Buffer.concat([Buffer.from(letter), length, body])
}
const word = (value: number): Buffer => {
  const bytes = Buffer.alloc(4)
  bytes.writeInt32BE(value)
  return bytes
}
/** Signed in and ready (PostgreSQL 15, chapter 55, "Start-up"): who connects here is the shop's own server. */
const welcome = Buffer.concat([
  message('R', word(0)),
  message('S', Buffer.from('client_encoding\0UTF8\0')),
  message('K', Buffer.concat([word(1), word(1)])),
  message('Z', Buffer.from('I')),
])

/** The database as a part of the shop: what is kept outlives it, connections do not. */
export class DatabasePart {
  part: Part

  constructor(
    private readonly network: Network,
    private readonly postgres: Postgres,
  ) {
    this.part = new Part('database', network.time)
  }

  /** A new connection of a part. */
  connect(from: Part): End & { connect(): void } {
    const near = End.pair(this.network, from, this.part, 'database', (far) => this.serve(far))
    return Object.assign(near, { connect: () => void from.clock.after(0, () => near.emit('connect')) })
  }

  /** It was ended, and is back. */
  begin(): void {
    this.part = new Part('database', this.network.time)
  }

  private serve(end: End): void {
    const { part } = this
    const session = this.postgres.session((heard) => end.write(heard))
    end.on('error', () => {})
    end.on('close', () => this.postgres.leave(session))
    part.onEnd(() => this.postgres.leave(session))
    let isWelcome = false
    const messages = new Messages()
    let query: Buffer[] = []
    end.on('data', (bytes: Buffer) => {
      if (!isWelcome) {
        isWelcome = true
        return void end.write(welcome)
      }
      for (const one of messages.take(bytes)) {
        const letter = letterOf(one)
        if (letter === 'X') return void end.end()
        query.push(one)
        if (letter !== 'Q' && letter !== 'S') continue
        this.ask(session, Buffer.concat(query), end)
        query = []
      }
    })
  }

  private ask(session: Session, query: Buffer, end: End): void {
    const { part } = this
    this.postgres.query(session, query, part.clock.date(), (answer) => {
      if (!part.isOver && !end.destroyed) end.write(Buffer.concat(answer))
    })
  }
}
