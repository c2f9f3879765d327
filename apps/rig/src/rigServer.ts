import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http'
import { benchAct, benchLinkMaxBytes, supersededCode, type HandsState } from '@taraf/contract'
import { actOn, handsOf, stepS, type Rig } from '@taraf/rig'
import { WebSocketServer } from 'ws'
import { BoardLink, type LinkHost } from './boardLink'

/** Held up for longer, the process has been suspended: what lies in between was never sampled. */
const longestCatchUpMs = 3_000

/**
 * One simulated airframe on one bench: its clock, its links and its hands. The board's clock is the bench's: everything that is measured
 * goes by it. It can run faster than others do, but never while anything may turn: what keeps people safe is counted in their time.
 */
class RigBench {
  private bootedAtMs = Date.now()
  private awayUntilMs = 0
  private boots: number
  private steppedAtMs = Date.now()
  private owedS = 0
  private pace = 1
  link: BoardLink | null = null
  /** Links that were made, the board's own among them. */
  readonly links = new Set<BoardLink>()

  constructor(readonly rig: Rig) {
    this.boots = rig.board.boots
  }

  /** Steps the rig up to now. After a pause of the whole process the samples in between are missing, as they would be. */
  tick(nowMs: number): void {
    this.noticeBoot(nowMs)
    if (nowMs < this.awayUntilMs) return
    const passedMs = nowMs - this.steppedAtMs
    this.steppedAtMs = nowMs
    if (passedMs > longestCatchUpMs) return this.rig.skip(passedMs / 1000)
    for (this.owedS += (passedMs / 1000) * this.paceNow; this.owedS >= stepS; this.owedS -= stepS) {
      const sample = this.rig.step(this.link?.stage ?? 'body')
      this.link?.sampled(sample)
      this.rig.frames.length = 0
    }
  }

  set times(times: number) {
    this.pace = times
  }

  private get paceNow(): number {
    const { board, turning } = this.rig
    return board.permits.current !== null || turning || board.arming.armed ? 1 : this.pace
  }

  /** The link runs over the cable; a board that starts takes no link yet. */
  get away(): boolean {
    return !this.rig.power.cable || Date.now() < this.awayUntilMs
  }

  /** The cable was taken out, or the power went: the link is gone with it. */
  afterHands(): void {
    this.noticeBoot(Date.now())
    if (!this.rig.power.cable) this.closeAll(1001, 'the cable is out')
  }

  /** The highest lease that a link came with: an older one never drives this board again. */
  private lease = 0

  readonly host: LinkHost = {
    admit: (link, lease) => {
      if (lease < this.lease) return false
      this.lease = lease
      if (this.link === link) return true
      this.link?.close(supersededCode, 'another link took over')
      if (this.link !== null) this.rig.board.linkClosed()
      this.link = link
      this.rig.frames.length = 0
      this.rig.board.events.length = 0
      return true
    },
    isAdmitted: (link) => this.link === link,
    bootedAtMs: (): number => this.bootedAtMs,
    restart: (): number => {
      const awayMs = (this.rig.restart() * 1000) / this.pace
      this.begin(Date.now() + awayMs)
      return awayMs
    },
  }

  /** The board started by itself: power came. */
  private noticeBoot(nowMs: number): void {
    if (this.rig.board.boots === this.boots) return
    this.closeAll(1012, 'restarting')
    this.begin(nowMs)
  }

  private closeAll(code: number, why: string): void {
    for (const link of this.links) link.close(code, why)
  }

  private begin(atMs: number): void {
    this.boots = this.rig.board.boots
    this.awayUntilMs = atMs
    this.bootedAtMs = atMs
    this.steppedAtMs = atMs
    this.owedS = 0
  }
}

/**
 * Serves rigs by name: `ws /bench/<name>` speaks Bench Link, `GET` and `POST /hands/<name>` is the separate interface of
 * the simulated hands. A link that comes with a lease as new as the board knows, or newer, replaces the one before.
 */
export const rigServer = (rigs: ReadonlyMap<string, Rig>): { server: Server; stop: () => void } => {
  const benches = new Map([...rigs].map(([name, rig]) => [name, new RigBench(rig)]))
  const benchAt = (url: string | undefined, kind: string) => {
    try {
      const path = decodeURIComponent(url ?? '')
      return path.startsWith(`/${kind}/`) ? benches.get(path.slice(kind.length + 2)) : undefined
    } catch {
      // A path that is none names no bench.
      return undefined
    }
  }
  const server = createServer((request, response) => {
    if (isBrowser(request)) return void response.writeHead(403).end()
    const bench = benchAt(request.url, 'hands')
    if (bench === undefined) return void response.writeHead(404).end()
    hands(bench, request, response)
  })
  const sockets = new WebSocketServer({ noServer: true, maxPayload: benchLinkMaxBytes, perMessageDeflate: false })
  server.on('upgrade', (request, socket, head) => {
    socket.on('error', () => socket.destroy())
    if (isBrowser(request)) return void socket.end('HTTP/1.1 403 Forbidden\r\nconnection: close\r\n\r\n')
    const bench = benchAt(request.url, 'bench')
    if (bench === undefined || bench.away) return socket.destroy()
    sockets.handleUpgrade(request, socket, head, (peer) => {
      const link = new BoardLink(peer, bench.rig, bench.host)
      bench.links.add(link)
      peer.on('close', () => {
        bench.links.delete(link)
        if (bench.link !== link) return
        bench.link = null
        bench.rig.board.linkClosed()
      })
    })
  })
  const timer = setInterval(() => {
    const now = Date.now()
    for (const bench of benches.values()) bench.tick(now)
  }, 5)
  return {
    server,
    stop: () => {
      clearInterval(timer)
      for (const peer of sockets.clients) peer.terminate()
      server.close()
    },
  }
}

/**
 * Boards and hands speak with servers alone. A browser says which page it acts for (RFC 6454, Fetch Metadata): whatever page that is, it
 * has no business here, even where a name was made to lead to this machine.
 */
const isBrowser = ({ headers }: IncomingMessage): boolean =>
  headers.origin !== undefined || headers['sec-fetch-site'] !== undefined

const hands = (bench: RigBench, request: IncomingMessage, response: ServerResponse): void => {
  const reply = (status: number, body: HandsState | { error: string }) =>
    void response.writeHead(status, { 'content-type': 'application/json' }).end(JSON.stringify(body))
  if (request.method === 'GET') return reply(200, handsOf(bench.rig))
  let text = ''
  request.setEncoding('utf8')
  request.on('data', (part: string) => {
    text += part
    if (text.length > 4096) request.destroy()
  })
  request.on('end', () => {
    let act
    try {
      act = benchAct.safeParse(JSON.parse(text))
    } catch {
      return reply(400, { error: 'not JSON' })
    }
    if (!act.success) return reply(400, { error: act.error.issues[0]?.message ?? 'unknown act' })
    if (act.data.act === 'pace') {
      bench.times = act.data.times
      return reply(200, handsOf(bench.rig))
    }
    const wrong = actOn(bench.rig, act.data)
    bench.afterHands()
    if (wrong !== null) return reply(409, { error: wrong })
    reply(200, handsOf(bench.rig))
  })
}
