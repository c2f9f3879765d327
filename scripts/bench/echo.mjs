// The baseline: a process that does nothing but answer signs of life, on the same machine at the same time.
import { WebSocketServer } from 'ws'

const server = new WebSocketServer({ port: 0, host: '127.0.0.1', path: '/live', perMessageDeflate: false })
server.on('connection', (socket) =>
  socket.on('message', (message) => {
    const { ping } = JSON.parse(message)
    if (ping !== undefined) socket.send(JSON.stringify({ tell: 'pong', ping }))
  }),
)
server.on('listening', () => process.send({ port: server.address().port }))
process.on('disconnect', () => process.exit(0))
