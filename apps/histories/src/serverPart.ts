import { buildServer } from '@taraf/server'
import type { Config } from '@taraf/server/config'
import { packEvidence } from '@taraf/server/files/packEvidence'
import type { Ports } from '@taraf/server/ports'
import type { Work } from '@taraf/server/work/work'
import { pino, type Logger } from 'pino'
import { WebSocket } from 'ws'
import { End } from './connection'
import type { DatabasePart } from './databasePart'
import type { Network } from './network'
import { Part } from './part'
import type { RigPart } from './rigPart'
import './sameEachTime'

const none = () => Promise.reject(new Error('no files are read in a history'))
/** Passwords in plain, and evidence packed in this thread: neither is what a history is about. */
export const plainPasswords = {
  hash: (password: string) => Promise.resolve(`plain ${password}`),
  verify: (hash: string, password: string) => Promise.resolve(hash === `plain ${password}`),
}
const work = (): Work => ({
  passwords: plainPasswords,
  files: { named: none, preview: none, register: none, settings: none, picture: none, image: none },
  evidence: { pack: (document) => Promise.resolve(packEvidence(document)) },
  close: () => Promise.resolve(),
})

/** Where a server finds the other parts. */
export interface Around {
  readonly network: Network
  readonly database: DatabasePart
  rigNamed(name: string): RigPart
  serverNamed(name: string): ServerPart
}

/** A server of the shop: the whole of it, but for its port and its processes. */
export class ServerPart {
  readonly part: Part
  private readonly built: ReturnType<typeof buildServer>

  constructor(around: Around, name: string, config: Config, log: Logger = pino({ level: 'silent' })) {
    const { network } = around
    const part = new Part(name, network.time)
    this.part = part
    const dial: Ports['dial'] = (address, options) => {
      const { hostname, pathname } = new URL(address)
      if (hostname === 'rig') return around.rigNamed(pathname.split('/').at(-1) ?? '').connect(part) as unknown as WebSocket
      const createConnection = () => {
        const other = around.serverNamed(hostname)
        const end = End.pair(network, part, other.part, 'peer', (far) => other.accept(far))
        part.clock.after(options.handshakeTimeout ?? 1_000, () => socket.readyState === 0 && socket.terminate())
        return end
      }
      const socket = new WebSocket(address, { ...options, handshakeTimeout: undefined, createConnection } as object)
      return socket
    }
    this.built = buildServer(config, log, { clock: part.clock, dial, wire: () => around.database.connect(part), work })
    part.hear(() => void this.built.start())
  }

  accept(end: End): void {
    this.built.server.emit('connection', end)
  }
}
