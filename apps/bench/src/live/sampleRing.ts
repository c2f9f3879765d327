import { senseColumns, type SenseTell } from '@taraf/contract'

type Name = (typeof senseColumns)[number]

/** The newest samples of one bench, in columns of fixed length: written by the feed, read once a frame. */
export class SampleRing {
  readonly t: Float64Array
  private readonly columns: Record<Name, Float32Array>
  private written = 0

  constructor(readonly capacity: number) {
    this.t = new Float64Array(capacity)
    this.columns = Object.fromEntries(senseColumns.map((name) => [name, new Float32Array(capacity)])) as Record<
      Name,
      Float32Array
    >
  }

  /** Rows written since the start; a reader that kept the number before knows how many are new. */
  get count(): number {
    return this.written
  }

  push(block: SenseTell): void {
    for (let i = 0; i < block.t.length; i++) {
      const at = this.written % this.capacity
      this.t[at] = block.t[i] as number
      for (const name of senseColumns) this.columns[name][at] = block[name][i] as number
      this.written += 1
    }
  }

  clear(): void {
    this.written = 0
  }

  /** The newest value of a column, or null where there is none. */
  last(name: Name): number | null {
    return this.written === 0 ? null : (this.columns[name][(this.written - 1) % this.capacity] as number)
  }

  /** A copy of the newest rows of a column that lie within so many seconds of its end, oldest first. */
  recent(name: Name, seconds: number): Float32Array<ArrayBuffer> {
    const held = Math.min(this.written, this.capacity)
    const end = this.timeAt(this.written - 1)
    let rows = 0
    while (rows < held && end - this.timeAt(this.written - 1 - rows) <= seconds) rows += 1
    const copy = new Float32Array(rows)
    for (let i = 0; i < rows; i++) copy[i] = this.columns[name][(this.written - rows + i) % this.capacity] as number
    return copy
  }

  /** Board time of a row, by its number since the start. */
  timeAt(row: number): number {
    return this.t[row % this.capacity] as number
  }
}
