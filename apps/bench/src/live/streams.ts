import { streams, type BesideName, type StreamTell } from '@taraf/contract'

const most = 6000
const mostPhases = 60

interface Kept {
  readonly t: number[]
  readonly rows: number[][]
}
/** Rows of a stream, with the time of each, s. */
export interface Track {
  readonly t: readonly number[]
  readonly rows: readonly (readonly number[])[]
}

/** The rows of the streams beside the imu that the bench sent since the take began, newest last. */
export class StreamTracks {
  private readonly tracks = new Map<BesideName, Kept>()
  /** When each phase of a loss of signal began, by the clock of the outputs, newest last. */
  readonly phases: { readonly t: number; readonly phase: string }[] = []

  push({ stream, seq, t, values }: StreamTell): void {
    if (seq === 0) this.tracks.delete(stream)
    const track = this.tracks.get(stream) ?? { t: [], rows: [] }
    const columns = streams[stream].columns.length
    for (let i = 0; i < t.length; i++) {
      track.t.push(t[i] as number)
      track.rows.push(Array.from({ length: columns }, (_, c) => values[c * t.length + i] as number))
    }
    if (track.rows.length > most) {
      track.t.splice(0, track.t.length - most)
      track.rows.splice(0, track.rows.length - most)
    }
    this.tracks.set(stream, track)
  }

  rows(stream: BesideName): readonly (readonly number[])[] {
    return this.tracks.get(stream)?.rows ?? []
  }

  /** The rows of the last so many seconds, by the board's clock. */
  recent(stream: BesideName, seconds: number): readonly (readonly number[])[] {
    return this.timed(stream, seconds).rows
  }

  /** The same, with the time of each, s. */
  timed(stream: BesideName, seconds: number): Track {
    const { t, rows } = this.tracks.get(stream) ?? { t: [], rows: [] }
    const since = (t[t.length - 1] ?? 0) - seconds
    let from = t.length
    while (from > 0 && (t[from - 1] as number) > since && (t[from - 1] as number) <= since + seconds) from -= 1
    return { t: t.slice(from), rows: rows.slice(from) }
  }

  /** The phase of loss that the board is in. */
  lossPhase(phase: string): void {
    if (this.phases[this.phases.length - 1]?.phase === phase) return
    this.phases.push({ t: this.tracks.get('outputs')?.t.at(-1) ?? 0, phase })
    if (this.phases.length > mostPhases) this.phases.shift()
  }

  clear(): void {
    this.phases.length = 0
    this.tracks.clear()
  }
}
