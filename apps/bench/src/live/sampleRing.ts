import { senseColumns, type SenseColumn, type SenseTell } from '@taraf/contract'

/** The newest samples of one bench, in columns of fixed length: written by the feed, read once a frame. */
export class SampleRing {
  readonly t: Float64Array
  private readonly columns: Record<SenseColumn, Float32Array>
  private written = 0

  constructor(readonly capacity: number) {
    this.t = new Float64Array(capacity)
    this.columns = Object.fromEntries(senseColumns.map((name) => [name, new Float32Array(capacity)])) as Record<
      SenseColumn,
      Float32Array
    >
  }

  /** Rows written since the start; a reader that kept the number before knows how many are new. */
  get count(): number {
    return this.written
  }

  push({ t, values }: Pick<SenseTell, 't' | 'values'>): void {
    for (let i = 0; i < t.length; i++) {
      const at = this.written % this.capacity
      this.t[at] = t[i] as number
      senseColumns.forEach((name, c) => (this.columns[name][at] = values[c * t.length + i] as number))
      this.written += 1
    }
  }

  clear(): void {
    this.written = 0
  }

  /** The newest value of a column, or null where there is none. */
  last(name: SenseColumn): number | null {
    return this.written === 0 ? null : (this.columns[name][(this.written - 1) % this.capacity] as number)
  }

  /** A copy of the newest rows of a column that lie within so many seconds of its end, oldest first. */
  recent(name: SenseColumn, seconds: number): Float32Array<ArrayBuffer> {
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
