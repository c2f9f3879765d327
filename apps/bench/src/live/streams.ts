import { streams, type BesideName, type StreamTell } from '@taraf/contract'

const most = 6000

/** The rows of the streams beside the imu that the bench sent since the take began, newest last. */
export class StreamTracks {
  private readonly tracks = new Map<BesideName, number[][]>()

  push({ stream, seq, t, values }: StreamTell): void {
    if (seq === 0) this.tracks.delete(stream)
    const rows = this.tracks.get(stream) ?? []
    const columns = streams[stream].columns.length
    for (let i = 0; i < t.length; i++) rows.push(Array.from({ length: columns }, (_, c) => values[c * t.length + i] as number))
    if (rows.length > most) rows.splice(0, rows.length - most)
    this.tracks.set(stream, rows)
  }

  rows(stream: BesideName): readonly (readonly number[])[] {
    return this.tracks.get(stream) ?? []
  }

  clear(): void {
    this.tracks.clear()
  }
}
