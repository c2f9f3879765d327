import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http'
import { benchAct, benchLinkMaxBytes, type HandsState } from '@taraf/contract'
import { RigBench, actOn, handsOf, type BenchTime, type Rig } from '@taraf/rig'
import { WebSocketServer } from 'ws'
import { linkOver } from './socketLink'

/** The time that benches go by. */
export interface RigTime extends BenchTime {
  every(ms: number, call: () => void): () => void
  /** How often boards live on. */
  readonly tickMs: number
}
const machineTime: RigTime = {
  nowMs: () => Date.now(),
  every: (ms, call) => {
    const timer = setInterval(call, ms)
    return () => clearInterval(timer)
  },
  tickMs: 5,
}
/** While nobody takes its samples a board is looked at so often, s. */
const dozeS = 0.1

/**
 * Serves rigs by name: `ws /bench/<name>` speaks Bench Link, `GET` and `POST /hands/<name>` is the separate interface of
 * the simulated hands. A link that comes with a lease as new as the board knows, or newer, replaces the one before.
 */
export const rigServer = (rigs: ReadonlyMap<string, Rig>, time: RigTime = machineTime): { server: Server; stop: () => void } => {
  const benches = new Map([...rigs].map(([name, rig]) => [name, new RigBench(rig, time)]))
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
    sockets.handleUpgrade(request, socket, head, (peer) => linkOver(peer, bench))
  })
  const rest = time.every(time.tickMs, () => {
    for (const bench of benches.values()) bench.tick(bench.link === null ? dozeS : null)
  })
  return {
    server,
    stop: () => {
      rest()
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
