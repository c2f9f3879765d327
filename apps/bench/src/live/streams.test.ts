import { streams, type StreamTell } from '@taraf/contract'
import { StreamTracks } from './streams'

const columns = streams.radio.columns.length
const block = (seq: number, ...times: number[]): StreamTell => ({
  tell: 'stream',
  stream: 'radio',
  seq,
  t: Float64Array.from(times),
  values: Float32Array.from({ length: columns * times.length }, (_, i) => (i < times.length ? (times[i] as number) : 0)),
})

test('the rows of the last seconds by the board’s clock, newest last', () => {
  const tracks = new StreamTracks()
  tracks.push(block(0, 1, 1.4, 1.8))
  tracks.push(block(1, 2.2, 2.6))
  expect(tracks.recent('radio', 1).map((row) => row[0])).toEqual([1.8, 2.2, 2.6].map(Math.fround))
  expect(tracks.rows('radio')).toHaveLength(5)
})

test('a new take begins anew, and a board that started anew is not mixed with what it said before', () => {
  const tracks = new StreamTracks()
  tracks.push(block(0, 100, 101))
  tracks.push(block(1, 0.5, 0.6))
  expect(tracks.recent('radio', 1).map((row) => row[0])).toEqual([0.5, 0.6].map(Math.fround))
  tracks.push(block(0, 7))
  expect(tracks.rows('radio')).toHaveLength(1)
  tracks.clear()
  expect(tracks.recent('radio', 1)).toEqual([])
})
