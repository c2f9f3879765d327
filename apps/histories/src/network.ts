import type { JumpClock } from '@taraf/takes'
import type { Part } from './part'

/** What is sent on a way between two parts: bytes of a connection that keeps their order, or messages of a link that may lose them. */
export type Traffic = 'web' | 'live' | 'peer' | 'ask' | 'samples' | 'database'

/** What becomes of one message. A connection of bytes cannot lose, double or overtake: there all but `late` cut it. */
export type Fate = { readonly lateMs: number } | 'arrives' | 'lost' | 'twice' | 'overtaken' | 'cut'

/** Decides what becomes of each message. `about` says in words what the message is, for somebody who follows a history step by step. */
export type Fates = (traffic: Traffic, from: Part, to: Part, about: () => string) => Fate

const leastMs = 0.2
const overtakenMs = 40

/** How parts hear each other: everything between two of them goes through here. */
export class Network {
  private readonly parted = new Map<string, (() => void)[]>()

  constructor(
    readonly time: JumpClock,
    readonly fates: Fates,
  ) {}

  /** Two parts do not hear each other until they are joined again; what they say meanwhile comes then. */
  part(a: Part, b: Part): void {
    if (!this.parted.has(nameOf(a, b))) this.parted.set(nameOf(a, b), [])
  }

  join(a: Part, b: Part): void {
    const held = this.parted.get(nameOf(a, b)) ?? []
    this.parted.delete(nameOf(a, b))
    for (const deliver of held) deliver()
  }

  joinAll(): void {
    const all = [...this.parted.values()]
    this.parted.clear()
    for (const held of all) for (const deliver of held) deliver()
  }

  areParted(a: Part, b: Part): boolean {
    return this.parted.has(nameOf(a, b))
  }

  deliver(from: Part, to: Part, call: () => void): void {
    const held = this.parted.get(nameOf(from, to))
    if (held === undefined) to.hear(call)
    else held.push(() => this.deliver(from, to, call))
  }
}

const nameOf = (a: Part, b: Part): string => [a.name, b.name].sort().join(' ')

/** One direction of a connection. What is sent arrives in its order, a moment later, unless a fate says otherwise. */
export class Way {
  private lastMs = 0
  private batch: { readonly atMs: number; readonly calls: (() => void)[] } | null = null
  private isCut = false

  /**
   * @param keepsOrder it carries the bytes of one connection
   * @param cut cuts the connection, for both of its ends
   */
  constructor(
    private readonly network: Network,
    private readonly from: Part,
    private readonly to: Part,
    private readonly traffic: Traffic,
    private readonly keepsOrder: boolean,
    private readonly cut: () => void,
  ) {}

  /** Nothing arrives on it any more. */
  close(): void {
    this.isCut = true
  }

  send(arrive: () => void, about: () => string): void {
    if (this.isCut || this.from.isOver) return
    const fate = this.network.fates(this.traffic, this.from, this.to, about)
    if (this.isCut) return
    if (fate === 'arrives') return this.put(arrive, 0)
    if (typeof fate === 'object') return this.put(arrive, fate.lateMs)
    if (this.keepsOrder || fate === 'cut') return this.cut()
    if (fate === 'lost') return
    if (fate === 'twice') {
      this.put(arrive, 0)
      return this.put(arrive, 0)
    }
    const { time } = this.network
    time.after(leastMs + overtakenMs, () => this.arrives(arrive))
  }

  private put(arrive: () => void, lateMs: number): void {
    const { time } = this.network
    const atMs = Math.max(this.lastMs, time.nowMs() + leastMs + lateMs)
    this.lastMs = atMs
    if (this.batch?.atMs === atMs) return void this.batch.calls.push(arrive)
    const batch = { atMs, calls: [arrive] }
    this.batch = batch
    time.after(atMs - time.nowMs(), () => {
      if (this.batch === batch) this.batch = null
      for (const call of batch.calls) this.arrives(call)
    })
  }

  private arrives(call: () => void): void {
    this.network.deliver(this.from, this.to, () => this.isCut || call())
  }
}
