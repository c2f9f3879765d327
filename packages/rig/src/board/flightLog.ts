import { flightColumns } from '@taraf/contract'

/** Longer than this is no hop, s: what comes after is not logged. */
const mostS = 120
const rowsHz = 200
const mostRows = mostS * rowsHz
const width = flightColumns.length

/** A short stretch of it at the full rate: raw samples, columns one behind the other. */
export interface FlightBurst {
  readonly endsAt: number
  readonly rateHz: number
  readonly values: Float32Array<ArrayBuffer>
}

/** What a board logs of a flight, row by row, since it was last armed for one: it outlives restarts. */
export class FlightLog {
  /** The start of the board in which it was begun. */
  boot = 0
  count = 0
  burst: FlightBurst | null = null
  private t = new Float64Array(0)
  private rows = new Float32Array(0)

  begin(boot: number): void {
    this.boot = boot
    this.count = 0
    this.burst = null
    if (this.t.length > 0) return
    this.t = new Float64Array(mostRows)
    this.rows = new Float32Array(mostRows * width)
  }

  /** Takes one row, its columns as the table of them says. */
  add(t: number, row: readonly number[]): void {
    if (this.count >= this.t.length) return
    this.t[this.count] = t
    this.rows.set(row, this.count * width)
    this.count += 1
  }

  /** Rows from a number on, at most `most`: times, and the columns one behind the other. */
  read(from: number, most: number): { t: Float64Array<ArrayBuffer>; values: Float32Array<ArrayBuffer> } {
    const n = Math.max(0, Math.min(most, this.count - from))
    const values = new Float32Array(n * width)
    for (let i = 0; i < n; i++) for (let k = 0; k < width; k++) values[k * n + i] = this.rows[(from + i) * width + k] as number
    return { t: this.t.slice(from, from + n), values }
  }
}
