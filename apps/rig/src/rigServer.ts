import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http'
import { benchLinkMaxBytes, handAct, type HandsState } from '@taraf/contract'
import { stepS, type Rig } from '@taraf/rig'
import { WebSocketServer } from 'ws'
import { BoardLink } from './boardLink'

const restartMs = 1200
/** Held up for longer, the process has been suspended: what lies in between was never sampled. */
const longestCatchUpMs = 3_000

/** One simulated airframe on one bench: its clock, its link and its hands. */
class RigBench {
  private bootedAtMs = Date.now()
  private steps = 0
  private awayUntilMs = 0
  link: BoardLink | null = null

  constructor(readonly rig: Rig) {}

  /** Steps the rig up to now. After a pause of the whole process the samples in between are missing, as they would be. */
  tick(nowMs: number): void {
    if (nowMs < this.awayUntilMs) return
    const due = Math.floor((nowMs - this.bootedAtMs) / (stepS * 1000)) - this.steps
    const skipped = due * stepS * 1000 > longestCatchUpMs ? due : 0
    if (skipped > 0) this.rig.skip(skipped * stepS)
    for (let i = skipped; i < due; i++) {
      const sample = this.rig.step(this.link?.stage ?? 'body')
      this.link?.sampled(sample)
    }
    this.steps += Math.max(0, due)
  }

  get away(): boolean {
    return Date.now() < this.awayUntilMs
  }

  bootedAt = (): number => this.bootedAtMs

  restart = (): number => {
    this.rig.restart()
    this.awayUntilMs = Date.now() + restartMs
    this.bootedAtMs = this.awayUntilMs
    this.steps = 0
    return restartMs
  }
}

/**
 * Serves rigs by name: `ws /bench/<name>` speaks Bench Link, `GET` and `POST /hands/<name>` is the separate interface of
 * the simulated hands. The newest link to a bench replaces the one before.
 */
export const rigServer = (rigs: ReadonlyMap<string, Rig>): { server: Server; stop: () => void } => {
  const benches = new Map([...rigs].map(([name, rig]) => [name, new RigBench(rig)]))
  const benchAt = (url: string | undefined, kind: string) => {
    const path = decodeURIComponent(url ?? '')
    return path.startsWith(`/${kind}/`) ? benches.get(path.slice(kind.length + 2)) : undefined
  }
  const server = createServer((request, response) => {
    const bench = benchAt(request.url, 'hands')
    if (bench === undefined) return void response.writeHead(404).end()
    hands(bench.rig, request, response)
  })
  const sockets = new WebSocketServer({ noServer: true, maxPayload: benchLinkMaxBytes, perMessageDeflate: false })
  server.on('upgrade', (request, socket, head) => {
    const bench = benchAt(request.url, 'bench')
    if (bench === undefined || bench.away) return socket.destroy()
    sockets.handleUpgrade(request, socket, head, (peer) => {
      bench.link?.close(4001, 'another link took over')
      const link = new BoardLink(peer, bench.rig, bench.bootedAt, bench.restart)
      bench.link = link
      peer.on('close', () => {
        if (bench.link === link) bench.link = null
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

const hands = (rig: Rig, request: IncomingMessage, response: ServerResponse): void => {
  const reply = (status: number, body: HandsState | { error: string }) =>
    void response.writeHead(status, { 'content-type': 'application/json' }).end(JSON.stringify(body))
  if (request.method === 'GET') return reply(200, rig.hands())
  let text = ''
  request.setEncoding('utf8')
  request.on('data', (part: string) => {
    text += part
    if (text.length > 4096) request.destroy()
  })
  request.on('end', () => {
    let act
    try {
      act = handAct.safeParse(JSON.parse(text))
    } catch {
      return reply(400, { error: 'not JSON' })
    }
    if (!act.success) return reply(400, { error: act.error.issues[0]?.message ?? 'unknown act' })
    rig.act(act.data)
    reply(200, rig.hands())
  })
}
