import type { AddressInfo } from 'node:net'
import { fileURLToPath } from 'node:url'
import { buildServer } from './app'
import { configFrom } from './config'
import { openLog } from './log'

const webFolder = fileURLToPath(new URL('../../bench/dist', import.meta.url))
const config = configFrom({ TARAF_WEB: webFolder, ...process.env })
const log = openLog(config.logLevel)
const { server, start, stop } = buildServer(config, log)

server.on('error', (error: NodeJS.ErrnoException) => {
  const taken = error.code === 'EADDRINUSE'
  process.send?.({
    stop: taken ? `Port ${config.port} is taken by another program.` : `The server cannot listen: ${error.message}`,
    todo: taken
      ? `End that program, or choose another port: npm start -- --port ${config.port + 1}`
      : 'Look at the message above.',
  })
  process.exitCode = 1
  process.disconnect?.()
})
server.listen(config.port, config.host, () => {
  void start().then(() => process.send?.({ ready: (server.address() as AddressInfo).port }))
})

let ending = false
const end = () => {
  if (ending) return
  ending = true
  setTimeout(() => process.exit(0), 3_000).unref()
  void stop().finally(() => process.exit(0))
}
process.on('SIGTERM', end)
process.on('SIGINT', end)
process.on('disconnect', end)
