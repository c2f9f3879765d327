import {
  isBeside,
  senseColumn,
  streams as table,
  type ImuStage,
  type Segment,
  type SenseTell,
  type StreamName,
  type StreamTell,
} from '@taraf/contract'
import { meanAndDeviation, type Vec3 } from '@taraf/core'
import type { BoardLink } from '../link/boardLink'

/** Gathers from a link the streams that are asked for, and nothing else, until it is ended. */
export class Gather {
  private blocks: SenseTell[] = []
  private readonly beside: StreamTell[] = []
  private fromT: number

  constructor(
    private readonly link: BoardLink,
    private readonly stage: ImuStage,
    private readonly names: readonly StreamName[],
    /** Emitter of each block of the stage asked for, and of each of a stream asked for, once it is kept. */
    private readonly on: { readonly block?: (block: SenseTell) => void; readonly stream?: (block: StreamTell) => void },
  ) {
    this.fromT = link.lastT
    link.on('block', this.takeBlock)
    link.on('stream', this.takeStream)
  }

  private readonly takeBlock = (block: SenseTell): void => {
    if (block.stage !== this.stage) return
    this.blocks.push(block)
    this.on.block?.(block)
  }

  private readonly takeStream = (block: StreamTell): void => {
    if (!this.names.includes(block.stream)) return
    // A board that began again counts from zero.
    if (this.link.lastT < this.fromT) this.fromT = -Infinity
    // Rows that come when they like may have waited for their block to fill since the step before, and are none of this one.
    const mine = table[block.stream].rateHz === null ? rowsAfter(block, this.fromT) : block
    if (mine.t.length === 0) return
    this.beside.push(mine)
    this.on.stream?.(mine)
  }

  end(): void {
    this.link.off('block', this.takeBlock)
    this.link.off('stream', this.takeStream)
  }

  /** Forgets the samples so far: a hold begins again. */
  forget(): void {
    this.blocks = []
  }

  /** Seconds from the first sample to the newest. */
  get elapsed(): number {
    const [first, last] = [this.blocks[0], this.blocks[this.blocks.length - 1]]
    return (last?.t[last.t.length - 1] ?? 0) - (first?.t[0] ?? 0)
  }

  get lastT(): number {
    const last = this.blocks[this.blocks.length - 1]
    return last?.t[last.t.length - 1] ?? 0
  }

  streams(): Segment['streams'] {
    const found: Record<string, object> = {}
    const t = timesOf(this.blocks)
    for (const name of ['imu', 'attitude'] as const) {
      if (!this.names.includes(name)) continue
      const columns = table[name].columns.map((c) => [c, joined(this.blocks.map((b) => senseColumn(b, c)))])
      found[name] = { ...(name === 'imu' ? { stage: this.stage } : {}), t, ...Object.fromEntries(columns) }
    }
    for (const name of this.names.filter(isBeside)) {
      const mine = this.beside.filter((b) => b.stream === name)
      if (mine.length === 0) continue
      const columns = table[name].columns.map((column, c) => [
        column,
        joined(mine.map(({ t: rows, values }) => values.subarray(c * rows.length, (c + 1) * rows.length))),
      ])
      found[name] = { t: timesOf(mine), ...Object.fromEntries(columns) }
    }
    return found
  }
}

/** The rows of a block that are later than a time. */
const rowsAfter = (block: StreamTell, fromT: number): StreamTell => {
  const { length } = block.t
  const isLater = (i: number) => (block.t[i % length] as number) > fromT
  return {
    ...block,
    t: block.t.filter((_, i) => isLater(i)),
    values: block.values.filter((_, i) => isLater(i)),
  }
}

/** The mean specific force of a segment, m/s2. */
export const meanForce = ({ streams: { imu } }: Segment): Vec3 => {
  const meanOf = (column: ArrayLike<number> = []) =>
    Array.from(column).reduce((sum, v) => sum + v, 0) / Math.max(1, column.length)
  return [meanOf(imu?.ax), meanOf(imu?.ay), meanOf(imu?.az)]
}

/** How far the force strays from its mean within a block, all axes together, m/s2 rms. */
export const deviationOf = (block: SenseTell): number =>
  Math.hypot(
    ...(['ax', 'ay', 'az'] as const).map((name) => meanAndDeviation(Float32Array.from(senseColumn(block, name))).deviation),
  )

const timesOf = (blocks: readonly { t: Float64Array }[]): Float64Array<ArrayBuffer> =>
  inOne(
    blocks.map(({ t }) => t),
    (rows) => new Float64Array(rows),
  )

const joined = (parts: readonly Float32Array[]): Float32Array<ArrayBuffer> => inOne(parts, (rows) => new Float32Array(rows))

const inOne = <T extends Float64Array<ArrayBuffer> | Float32Array<ArrayBuffer>>(
  parts: readonly (Float64Array | Float32Array)[],
  make: (rows: number) => T,
): T => {
  const whole = make(parts.reduce((sum, part) => sum + part.length, 0))
  let at = 0
  for (const part of parts) {
    whole.set(part, at)
    at += part.length
  }
  return whole
}
