import '../noEval'
import { liveTell, type LiveTell, type SenseTell, type StreamTell } from '@taraf/contract'
import { api } from '../store/api'
import { benchLeft, connected, imageTold, linkTold, takeTold, type Store } from '../store/store'
import { SampleRing } from './sampleRing'
import { StreamTracks } from './streams'

interface Watched {
  job: string | null
  bench: string | null
}

const firstAgainMs = 300
const longestAgainMs = 3_000
const pingEveryMs = 2_000
/** A connection can die without a word: one that answers nothing for so long is taken for lost, and what it told is no longer shown as now. */
const silentMs = 5_000

/** The samples of the bench that is watched. */
export const ring = new SampleRing(2048)
export const tracks = new StreamTracks()

/**
 * The screen's end of the live feed: comes back by itself, asks again for what it watched, puts samples into the ring
 * and everything else into the store.
 */
export class Feed {
  private socket: WebSocket | null = null
  private watched: Watched = { job: null, bench: null }
  private again = firstAgainMs
  private running = false
  /** From the board to this page, ms: half of there and back, measured by a ping now and then. */
  wayMs: number | null = null
  /** When the newest samples arrived, by this page's own clock. */
  arrivedAtMs = 0
  private ping = { number: 0, sentAtMs: 0 }
  /** Since when something was asked and nothing was heard. */
  private silentSinceMs: number | null = null
  private pinging: ReturnType<typeof setInterval> | null = null
  /** The start of the board's clock, ms since the epoch, from the newest link. */
  bootedAtMs: number | null = null

  constructor(private readonly store: Store) {}

  start(): void {
    if (this.running) return
    this.running = true
    this.pinging = setInterval(() => this.measure(), pingEveryMs)
    window.addEventListener('offline', this.offline)
    this.connect()
  }

  stop(): void {
    this.running = false
    if (this.pinging !== null) clearInterval(this.pinging)
    window.removeEventListener('offline', this.offline)
    this.socket?.close()
  }

  watch(watched: Watched): void {
    if (watched.job === this.watched.job && watched.bench === this.watched.bench) return
    if (watched.bench !== this.watched.bench) {
      ring.clear()
      tracks.clear()
      this.store.dispatch(benchLeft())
    }
    if (watched.job !== this.watched.job) {
      this.store.dispatch(takeTold(null))
      this.store.dispatch(imageTold(null))
    }
    this.watched = watched
    this.ask()
  }

  /** A sign of life of a control that is held down. Nothing is sent later what could not be sent now. */
  keep(job: string, press: string): void {
    if (this.socket?.readyState === WebSocket.OPEN) this.socket.send(JSON.stringify({ keep: { job, press } }))
  }

  private connect(): void {
    if (!this.running) return
    const socket = new WebSocket(`${location.protocol === 'https:' ? 'wss' : 'ws'}://${location.host}/live`)
    socket.binaryType = 'arraybuffer'
    this.socket = socket
    this.silentSinceMs = null
    socket.onopen = () => {
      this.again = firstAgainMs
      this.store.dispatch(connected(true))
      // What was told while nobody listened is not told again: read it again.
      this.store.dispatch(api.util.invalidateTags(['Job', 'Benches', 'Airframes', 'Airframe', 'Today']))
      this.ask()
    }
    socket.onmessage = ({ data }: MessageEvent<string | ArrayBuffer>) => {
      if (this.socket !== socket) return
      this.silentSinceMs = null
      if (typeof data === 'string') this.told(liveTell.parse(JSON.parse(data)))
      else void this.sampled(new Uint8Array(data))
    }
    socket.onclose = ({ code }) => {
      // One that was given up says so again when the browser notices.
      if (this.socket === socket) this.lost(code)
    }
  }

  private lost(code: number): void {
    this.socket = null
    if (!this.running) return
    this.store.dispatch(connected(false))
    this.store.dispatch(linkTold(null))
    if (code === 4401) this.store.dispatch(api.util.invalidateTags(['Me']))
    setTimeout(() => this.connect(), this.again)
    this.again = Math.min(this.again * 1.7, longestAgainMs)
  }

  private readonly offline = (): void => this.giveUp()

  /** The browser itself waits for a dead connection for minutes. */
  private giveUp(): void {
    const { socket } = this
    if (socket?.readyState !== WebSocket.OPEN) return
    this.lost(1006)
    socket.close()
  }

  private measure(): void {
    if (this.socket?.readyState !== WebSocket.OPEN) return
    if (this.silentSinceMs !== null && performance.now() - this.silentSinceMs >= silentMs) return this.giveUp()
    this.silentSinceMs ??= performance.now()
    this.ping = { number: this.ping.number + 1, sentAtMs: performance.now() }
    this.socket.send(JSON.stringify({ ping: this.ping.number }))
  }

  private ask(): void {
    const { job, bench } = this.watched
    if (this.socket?.readyState !== WebSocket.OPEN) return
    this.socket.send(JSON.stringify({ watch: { ...(job === null ? {} : { job }), ...(bench === null ? {} : { bench }) } }))
  }

  private told(tell: LiveTell): void {
    switch (tell.tell) {
      case 'link':
        if (tell.bench !== this.watched.bench) return
        if (tell.bootedAtMs !== this.bootedAtMs || tell.phase !== 'up') ring.clear()
        this.bootedAtMs = tell.bootedAtMs
        tracks.lossPhase(tell.state?.lossPhase ?? 'none')
        return void this.store.dispatch(linkTold(tell))
      case 'take':
        if (tell.job !== this.watched.job) return
        if (tell.phase === 'stored') this.store.dispatch(api.util.invalidateTags([{ type: 'Job', id: tell.job }]))
        return void this.store.dispatch(takeTold(tell))
      case 'image':
        if (tell.job === this.watched.job) this.store.dispatch(imageTold(tell))
        return
      case 'pong':
        if (tell.ping === this.ping.number) this.wayMs = (performance.now() - this.ping.sentAtMs + (tell.boardMs ?? 0)) / 2
        return
      case 'changed':
        this.store.dispatch(
          api.util.invalidateTags(tell.job === null ? ['Job', 'Benches'] : [{ type: 'Job', id: tell.job }, 'Benches']),
        )
        return void this.store.dispatch(api.util.invalidateTags(['Airframes', 'Airframe', 'Today']))
    }
  }

  private async sampled(bytes: Uint8Array): Promise<void> {
    this.arrivedAtMs = performance.now()
    const { decodeSequence } = await import('@taraf/contract/wire')
    for (const block of decodeSequence(bytes) as (SenseTell | StreamTell)[])
      if (block.tell === 'stream') tracks.push(block)
      else ring.push(block)
  }
}
