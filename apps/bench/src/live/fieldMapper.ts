import { noMap, type Field, type FieldMap } from './fieldMap'

const rowsBetween = 12 // about a quarter of a second

/** A worker that fits. */
export interface Mapper {
  post(field: Field): void
  /** `failed` is called where it ended, or could not do what it was given: it gives nothing more. */
  listen(told: (map: FieldMap) => void, failed: () => void): void
  end(): void
}

/**
 * The newest map of a turn, fitted in a worker: one fit at a time, the next one with whatever has come meanwhile; a worker that
 * failed is replaced. What a take
 * before has left is forgotten as soon as its rows are.
 */
export class FieldMapper {
  private map = noMap
  private worker: Mapper | null = null
  private starting = false
  private busy = false
  private sent = 0

  constructor(private readonly start: () => Promise<Mapper>) {}

  /** @param rows field samples of the running take, oldest first */
  of(rows: readonly (readonly number[])[]): FieldMap {
    if (rows.length < this.sent) {
      this.map = noMap
      this.sent = 0
    }
    if (rows.length >= this.sent + rowsBetween) this.send(rows)
    return this.map
  }

  private send(rows: readonly (readonly number[])[]): void {
    if (this.busy) return
    if (this.worker === null) return this.begin()
    this.busy = true
    this.sent = rows.length
    const column = (i: number) => Float32Array.from(rows, (row) => row[i] ?? 0)
    this.worker.post({ x: column(0), y: column(1), z: column(2) })
  }

  private begin(): void {
    if (this.starting) return
    this.starting = true
    this.start().then(
      (worker) => {
        this.starting = false
        this.worker = worker
        worker.listen(
          (map) => {
            this.busy = false
            if (this.sent > 0) this.map = map
          },
          () => this.failed(worker),
        )
      },
      () => (this.starting = false),
    )
  }

  /** Another worker is started with the next rows. */
  private failed(worker: Mapper): void {
    if (this.worker !== worker) return
    worker.end()
    this.worker = null
    this.busy = false
  }
}
