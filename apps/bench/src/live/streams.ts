import { streams, type BesideName, type StreamTell } from '@taraf/contract'

const most = 6000

interface Track {
  readonly t: number[]
  readonly rows: number[][]
}

/** The rows of the streams beside the imu that the bench sent since the take began, newest last. */
export class StreamTracks {
  private readonly tracks = new Map<BesideName, Track>()

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
    const { t, rows } = this.tracks.get(stream) ?? { t: [], rows: [] }
    const since = (t[t.length - 1] ?? 0) - seconds
    let from = t.length
    while (from > 0 && (t[from - 1] as number) > since && (t[from - 1] as number) <= since + seconds) from -= 1
    return rows.slice(from)
  }

  clear(): void {
    this.tracks.clear()
  }
}
