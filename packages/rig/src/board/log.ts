/** One thing that happened on the board, in its own time since its start number `boot`. */
export interface BoardEvent {
  readonly t: number
  readonly what: string
  readonly detail?: Readonly<Record<string, unknown>>
}
export interface LoggedEvent extends BoardEvent {
  readonly entry: number
  readonly boot: number
}

const mostKept = 400

/** The board's own log: it outlives restarts, and its oldest entries give way. */
export class BoardLog {
  private readonly kept: LoggedEvent[] = []
  private count = 0

  add(boot: number, event: BoardEvent): void {
    this.kept.push({ ...event, boot, entry: this.count++ })
    if (this.kept.length > mostKept) this.kept.shift()
  }

  /** Entries from a number on, at most `most`. */
  read(from: number, most: number): LoggedEvent[] {
    return this.kept.filter((e) => e.entry >= from).slice(0, most)
  }
}
