import { liveTell, type LiveTell } from '@taraf/contract'
import type { Cancel, Clock } from '@taraf/takes'
import type { Logger } from 'pino'
import type { WebSocket } from 'ws'
import { linkTellOf } from '../links/linkTell'
import type { Dial } from '../ports'
import type { Servers } from '../links/servers'

export const peerHeader = 'x-taraf-peer'
const lookMs = 500

/** A bench whose link another server has, and the card that it is held for. */
export interface Elsewhere {
  readonly bench: string
  readonly job: string | null
}

interface Peer {
  readonly address: string
  readonly job: string | null
  readonly socket: WebSocket
  /** What was told last of each kind, for a screen that comes late. */
  readonly last: Map<LiveTell['tell'], LiveTell>
}

/** What screens of this server are told of benches that another server has the link of: it is asked there, as a screen would. */
export class Peers {
  private readonly peers = new Map<string, Peer>()
  private readonly stopLooking: Cancel
  private looking = false

  constructor(
    private readonly servers: Servers,
    private readonly heard: {
      /** The benches that screens here watch and that have no link here. */
      readonly wanted: () => readonly Elsewhere[]
      readonly tell: (bench: string, tell: LiveTell) => void
      readonly frame: (bench: string, bytes: Buffer) => void
    },
    private readonly dial: Dial,
    clock: Clock,
    private readonly log: Logger,
  ) {
    this.stopLooking = clock.every(lookMs, () => void this.look())
  }

  /** What was told last of a bench. */
  lastOf(bench: string): readonly LiveTell[] {
    return [...(this.peers.get(bench)?.last.values() ?? [])]
  }

  close(): void {
    this.stopLooking()
    for (const bench of [...this.peers.keys()]) this.leave(bench)
  }

  /** Asks whichever server has the link of each bench that is wanted, and no other. */
  async look(): Promise<void> {
    if (this.looking) return
    this.looking = true
    try {
      const wanted = new Map(this.heard.wanted().map((one) => [one.bench, one]))
      for (const bench of [...this.peers.keys()]) if (!wanted.has(bench)) this.leave(bench)
      for (const { bench, job } of wanted.values()) {
        const address = await this.servers.peerOf(bench)
        const peer = this.peers.get(bench)
        if (peer?.address === address && peer?.job === job) continue
        this.leave(bench)
        if (address !== null) this.join(bench, job, address)
      }
    } catch (error) {
      this.log.warn({ err: error }, 'other servers not asked')
    } finally {
      this.looking = false
    }
  }

  private join(bench: string, job: string | null, address: string): void {
    const socket = this.dial(`${address}/live`, {
      headers: { [peerHeader]: this.servers.token() },
      handshakeTimeout: 1_000,
      perMessageDeflate: false,
    })
    const peer: Peer = { address, job, socket, last: new Map() }
    this.peers.set(bench, peer)
    const isMine = () => this.peers.get(bench) === peer
    socket.on('open', () => socket.send(JSON.stringify({ watch: { bench, ...(job === null ? {} : { job }) } })))
    socket.on('message', (bytes: Buffer, binary: boolean) => {
      if (!isMine()) return
      if (binary) return this.heard.frame(bench, bytes)
      const told = liveTell.safeParse(JSON.parse(bytes.toString('utf8')))
      // What changed on a card is told by the database itself.
      if (!told.success || told.data.tell === 'changed' || told.data.tell === 'pong') return
      peer.last.set(told.data.tell, told.data)
      this.heard.tell(bench, told.data)
    })
    socket.on('error', () => {}) // 'close' follows
    socket.on('close', () => {
      if (!isMine()) return
      this.leave(bench)
      this.heard.tell(bench, linkTellOf(bench, null))
    })
  }

  private leave(bench: string): void {
    const peer = this.peers.get(bench)
    this.peers.delete(bench)
    peer?.socket.terminate()
  }
}
