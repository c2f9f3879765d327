// The baseline: a bare relay of the same Bench Link bytes. It reads each bench and passes every message on to who watches.
import { WebSocket, WebSocketServer } from 'ws'
import { encode } from 'cbor-x'

const [rigUrl, count] = process.argv.slice(2)
const server = new WebSocketServer({ port: 0, host: '127.0.0.1', perMessageDeflate: false })
const watchers = new Map()
server.on('connection', (socket, request) => watchers.set(request.url.slice(1), socket))
for (let i = 1; i <= Number(count); i++) {
  const bench = `row-${i}`
  const link = new WebSocket(`${rigUrl}/bench/${bench}`, { perMessageDeflate: false })
  link.on('open', () => link.send(encode({ id: 1, ask: 'sense', stage: 'body', rateHz: 200, rows: 2 })))
  link.on('message', (bytes) => watchers.get(bench)?.send(bytes))
}
server.on('listening', () => process.send({ port: server.address().port }))
process.on('disconnect', () => process.exit(0))
