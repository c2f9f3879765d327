import type { Ask, BoardEvent } from '@taraf/contract'
import { decode, encode } from '@taraf/contract/wire'
import { BoardEnd, RigBench, type Rig } from '@taraf/rig'
import { BoardSocket, type BoardEar, type BoardMouth } from './boardSocket'
import type { Network } from './network'
import { Part } from './part'

const tickMs = 20
/** While nobody takes its samples it is looked at so often, s. */
const dozeS = 0.1
/** A motor that was driven for so long after the last sign of life of its permit has broken a promise, s. */
const mostUnkeptS = 0.3

/** A board on its bench as a part of the shop, and somebody who watches that it keeps what it promises. */
export class RigPart {
  readonly part: Part
  readonly bench: RigBench
  /** What it broke of its promises. */
  readonly broken: string[] = []
  private readonly listeners = new Set<(event: BoardEvent) => void>()
  private keptAt = -Infinity

  constructor(
    private readonly network: Network,
    readonly name: string,
    readonly rig: Rig,
  ) {
    this.part = new Part(`board ${name}`, network.time)
    this.bench = new RigBench(rig, this.part.clock)
    this.bench.beforeStep = () => {
      this.watch()
      return 'keep'
    }
    this.part.clock.every(tickMs, () => this.tick())
  }

  tick(): void {
    if (!this.part.isStopped) this.bench.tick(this.bench.link === null ? dozeS : null)
  }

  connect(from: Part): BoardSocket {
    return new BoardSocket(this.network, from, this.part, (mouth) => this.accept(mouth))
  }

  onEvent(listener: (event: BoardEvent) => void): void {
    this.listeners.add(listener)
  }

  offEvent(listener: (event: BoardEvent) => void): void {
    this.listeners.delete(listener)
  }

  private accept(mouth: BoardMouth): BoardEar | null {
    const { bench } = this
    if (bench.away) return null
    const end = new BoardEnd(
      {
        tell: (message) => this.tell(mouth, message),
        close: (code) => mouth.close(code),
      },
      this.rig,
      bench.host,
    )
    bench.links.add(end)
    return {
      take: (bytes) => {
        const ask = decode(bytes) as Ask
        this.tick()
        if (ask.ask === 'spin' || ask.ask === 'permit') this.keptAt = this.rig.clock
        end.answer(ask)
      },
      closed: () => bench.left(end),
    }
  }

  private tell(mouth: BoardMouth, message: object): void {
    const kind = 'tell' in message ? message.tell : null
    if (kind === 'event') for (const listener of this.listeners) listener((message as { event: BoardEvent }).event)
    mouth.send(Buffer.from(encode(message)), kind === 'sense' || kind === 'stream')
  }

  private watch(): void {
    const { board, clock } = this.rig
    if (clock < this.keptAt) this.keptAt = -Infinity
    if (!board.drives || board.arming.armed || board.permits.current?.kind === 'teach') return
    if (clock - this.keptAt > mostUnkeptS && this.broken.length < 3)
      this.broken.push(`${this.name}: motors driven ${(clock - this.keptAt).toFixed(2)} s after the last sign of life`)
  }
}
