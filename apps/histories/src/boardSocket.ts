import { EventEmitter } from 'node:events'
import { Way, type Network } from './network'
import type { Part } from './part'

const openMs = 1_000

/** The far end of a socket to a board. */
export interface BoardEar {
  take(bytes: Buffer): void
  closed(): void
}
export interface BoardMouth {
  send(bytes: Buffer, isSamples: boolean): void
  close(code: number): void
}

/** A server's end of a socket to a board: the part of a WebSocket that a link uses, whose messages may be lost, doubled and overtaken. */
export class BoardSocket extends EventEmitter {
  static readonly OPEN = 1
  readonly OPEN = 1
  readyState = 0
  readonly bufferedAmount = 0
  binaryType = 'nodebuffer'
  private readonly there: Way
  private ear: BoardEar | null = null

  /** @param accept takes the socket at the board; null where it takes none now */
  constructor(network: Network, from: Part, board: Part, accept: (mouth: BoardMouth) => BoardEar | null) {
    super()
    const cut = () => {
      there.close()
      samples.close()
      answers.close()
      this.leave(board)
      network.time.after(1, () => from.hear(() => this.end(1006)))
    }
    const there = new Way(network, from, board, 'ask', false, cut)
    const answers = new Way(network, board, from, 'ask', false, cut)
    const samples = new Way(network, board, from, 'samples', false, cut)
    this.there = there
    from.onEnd(cut)
    const mouth: BoardMouth = {
      send: (bytes, isSamples) =>
        (isSamples ? samples : answers).send(
          () => this.readyState === 1 && this.emit('message', bytes, true),
          () => (isSamples ? 'samples' : aboutBytes(bytes)),
        ),
      close: (code) => {
        this.ear = null
        answers.send(
          () => this.end(code),
          () => `closes with ${code}`,
        )
      },
    }
    from.clock.after(openMs, () => this.readyState === 0 && this.end(1006))
    there.send(
      () => {
        this.ear = accept(mouth)
        if (this.ear === null) return void mouth.close(1006)
        answers.send(
          () => this.open(),
          () => 'opens',
        )
      },
      () => 'connects',
    )
  }

  send(bytes: Uint8Array): void {
    this.there.send(
      () => this.ear?.take(Buffer.from(bytes)),
      () => aboutBytes(Buffer.from(bytes)),
    )
  }

  close(): void {
    this.terminate()
  }

  terminate(): void {
    if (this.readyState === 3) return
    const { ear } = this
    this.there.send(
      () => {
        this.ear = null
        ear?.closed()
      },
      () => 'closes',
    )
    queueMicrotask(() => this.end(1006))
  }

  private open(): void {
    if (this.readyState !== 0) return
    this.readyState = 1
    this.emit('open')
  }

  private end(code: number): void {
    if (this.readyState === 3) return
    this.readyState = 3
    this.emit('close', code)
  }

  /** The board learns that nobody is at the other end. */
  private leave(board: Part): void {
    const { ear } = this
    this.ear = null
    if (ear !== null) board.hear(() => ear.closed())
  }
}

const aboutBytes = (bytes: Buffer): string =>
  bytes
    .toString('latin1')
    .replace(/[^\x20-\x7e]+/g, ' ')
    .trim()
    .slice(0, 100)
