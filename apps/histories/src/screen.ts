import { randomUUID } from 'node:crypto'
import { request } from 'node:http'
import type { LiveTell, TakeTell } from '@taraf/contract'
import { elapsed } from '@taraf/takes'
import { WebSocket } from 'ws'
import { End } from './connection'
import type { Network } from './network'
import type { Part } from './part'
import type { ServerPart } from './serverPart'

/** Nobody waits longer for an answer before asking again, ms. */
const patienceMs = 6_000
const againS = 0.3
const liveAgainMs = 500

export interface Reply {
  readonly status: number
  readonly body: unknown
}
type Method = 'GET' | 'POST' | 'DELETE'

/** What somebody holds in their hand: it asks a server, asks again with the same key until it is answered, and hears its live feed. */
export class Screen {
  take: TakeTell | null = null
  /** Is told of each take that the feed tells of. */
  onTake: (tell: TakeTell) => void = () => {}
  private cookie = ''
  private feed: WebSocket | null = null
  private watched: { job?: string; bench?: string } | null = null

  constructor(
    private readonly network: Network,
    readonly part: Part,
    /** The server that it is at now. */
    private readonly server: () => ServerPart,
    private readonly who: { readonly login: string; readonly password: string },
  ) {}

  /** The same request, with the same key, until it is answered for good. */
  async until(method: Method, path: string, body?: unknown, key: string = randomUUID()): Promise<Reply> {
    for (;;) {
      const reply = await this.once(method, path, body, key)
      const type = (reply?.body as { type?: string } | null)?.type
      if (reply?.status === 401) await this.once('POST', '/session', this.who)
      else if (reply !== null && reply.status < 500 && reply.status !== 429 && type !== '/problems/in-progress') return reply
      else if (reply !== null && type === '/problems/board-refused') return reply
      else if (reply?.status === 500) throw new Error(`${method} ${path}: ${JSON.stringify(reply.body)}`)
      await elapsed(this.part.clock, againS)
    }
  }

  /** One request, once. Null where no answer came. */
  once(method: Method, path: string, body?: unknown, key: string = randomUUID()): Promise<Reply | null> {
    const { network, part } = this
    const server = this.server()
    return new Promise((resolve) => {
      const sent = method === 'GET' ? '' : JSON.stringify(body ?? {})
      const asked = request({
        method,
        path: `/api${path}`,
        headers: {
          host: 'shop',
          connection: 'close',
          cookie: this.cookie,
          ...(method === 'GET'
            ? {}
            : { 'content-type': 'application/json', 'content-length': Buffer.byteLength(sent), 'idempotency-key': key }),
        },
        createConnection: () => End.pair(network, part, server.part, 'web', (far) => server.accept(far)),
      })
      const late = part.clock.after(patienceMs, () => asked.destroy())
      const done = (reply: Reply | null) => {
        late()
        resolve(reply)
      }
      asked.on('error', () => done(null))
      asked.on('response', (response) => {
        let text = ''
        response.setEncoding('utf8')
        response.on('data', (part_: string) => (text += part_))
        response.on('error', () => done(null))
        response.on('close', () => response.complete || done(null))
        response.on('end', () => {
          this.cookie = response.headers['set-cookie']?.[0]?.split(';')[0] ?? this.cookie
          done({ status: response.statusCode ?? 0, body: text === '' ? null : JSON.parse(text) })
        })
      })
      asked.end(sent)
    })
  }

  /** Listens to a card and a bench from now on, and again after each lost connection. */
  watch(watched: { job?: string; bench?: string }): void {
    this.watched = watched
    if (this.feed === null) this.listen()
    else if (this.feed.readyState === WebSocket.OPEN) this.feed.send(JSON.stringify({ watch: watched }))
  }

  /** A sign of life of a control that is held down. */
  keep(job: string, press: string): void {
    if (this.feed?.readyState === WebSocket.OPEN) this.feed.send(JSON.stringify({ keep: { job, press } }))
  }

  private listen(): void {
    const { network, part } = this
    const server = this.server()
    const feed = new WebSocket('ws://shop/live', {
      headers: { cookie: this.cookie },
      perMessageDeflate: false,
      createConnection: () => End.pair(network, part, server.part, 'live', (far) => server.accept(far)),
    } as object)
    this.feed = feed
    const late = part.clock.after(patienceMs, () => feed.readyState === 0 && feed.terminate())
    feed.on('open', () => feed.send(JSON.stringify({ watch: this.watched ?? {} })))
    feed.on('message', (bytes: Buffer, binary: boolean) => {
      if (binary || this.feed !== feed) return
      const tell = JSON.parse(bytes.toString('utf8')) as LiveTell
      if (tell.tell !== 'take') return
      this.take = tell
      this.onTake(tell)
    })
    feed.on('error', () => {})
    feed.on('close', () => {
      late()
      if (this.feed !== feed) return
      this.feed = null
      part.clock.after(liveAgainMs, () => void this.signInAndListen())
    })
  }

  private async signInAndListen(): Promise<void> {
    await this.until('GET', '/session').catch(() => {})
    if (this.feed === null) this.listen()
  }
}
