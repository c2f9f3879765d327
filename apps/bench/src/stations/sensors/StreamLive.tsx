import type { BesideName } from '@taraf/contract'
import { tracks } from '../../live/feed'
import { useFrames } from '../../live/useFrames'
import { Column, Reading, Row, Words } from '../../parts/type'

export interface StreamReading {
  readonly label: string
  readonly value: (rows: readonly (readonly number[])[]) => string
}

/** The newest of a stream that the board sends only during a take, large first. */
export const streamLive = (stream: BesideName, readings: readonly [StreamReading, ...StreamReading[]]) => {
  const StreamLive = () => {
    useFrames()
    const rows = tracks.rows(stream)
    return (
      <Column gap="$2">
        {readings.map(({ label, value }, i) => (
          <Row key={label} alignItems="baseline">
            <Reading size={i === 0 ? 'decides' : 'large'}>{rows.length === 0 ? '–' : value(rows)}</Reading>
            <Words kind="faint">{label}</Words>
          </Row>
        ))}
        {rows.length === 0 && <Words kind="small">The board sends this while a take runs.</Words>}
      </Column>
    )
  }
  return StreamLive
}

export const newest = (rows: readonly (readonly number[])[], column: number): number => rows[rows.length - 1]?.[column] ?? NaN
