import { Duplex } from 'node:stream'
import { Way, type Network, type Traffic } from './network'
import type { Part } from './part'

/** One end of a connection of bytes between two parts, as if it were a socket. */
export class End extends Duplex {
  readonly remoteAddress = '127.0.0.1'
  private way: Way | null = null
  private other: End | null = null
  private isLost = false

  /** Two ends that are joined. `opened` is called at the far part once it hears of it; it may refuse by destroying its end. */
  static pair(network: Network, from: Part, to: Part, traffic: Traffic, opened: (end: End) => void): End {
    const [near, far] = [new End(), new End()]
    const ways: Way[] = []
    // Each end learns of it as its part does.
    const cut = () => {
      for (const way of ways) way.close()
      network.time.after(1, () => from.hear(() => near.lose()))
      network.time.after(1, () => to.hear(() => far.lose()))
    }
    ways.push(new Way(network, from, to, traffic, true, cut), new Way(network, to, from, traffic, true, cut))
    near.join(ways[0] as Way, far)
    far.join(ways[1] as Way, near)
    from.onEnd(cut)
    to.onEnd(cut)
    if (to.isOver) cut()
    else
      (ways[0] as Way).send(
        () => opened(far),
        () => 'connects',
      )
    return near
  }

  setNoDelay = () => this
  setKeepAlive = () => this
  setTimeout = () => this
  ref = () => this
  unref = () => this

  override _read(): void {}

  override _write(chunk: Buffer, _encoding: BufferEncoding, done: () => void): void {
    const { other } = this
    this.way?.send(
      () => other?.arrive(chunk),
      () => told(chunk),
    )
    done()
  }

  override _final(done: () => void): void {
    const { other } = this
    this.way?.send(
      () => other?.arrive(null),
      () => 'ends',
    )
    done()
  }

  override _destroy(error: Error | null, done: (error: Error | null) => void): void {
    const { other } = this
    if (!this.isLost)
      this.way?.send(
        () => other?.lose(),
        () => 'closes',
      )
    done(error)
  }

  private join(way: Way, other: End): void {
    this.way = way
    this.other = other
  }

  private arrive(chunk: Buffer | null): void {
    if (!this.destroyed) this.push(chunk)
  }

  private lose(): void {
    this.isLost = true
    if (this.destroyed) return
    // An end that nobody took up yet has nobody to tell.
    const error = Object.assign(new Error('read ECONNRESET'), { code: 'ECONNRESET' })
    this.destroy(this.listenerCount('error') > 0 ? error : undefined)
  }
}

/** The begin of what was sent, as far as it is text. */
const told = (chunk: Buffer): string =>
  chunk
    .toString('latin1', 0, 400)
    .replace(/[^\x20-\x7e]+/g, ' ')
    .trim()
    .slice(0, 120)
