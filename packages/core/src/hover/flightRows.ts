import { flightColumns, flightStreams, streams, type Segment, type WantOf } from '@taraf/contract'
import { burstStream } from '../burst'

/** Rows of a flight as a board hands them out: times, and the columns one behind the other. */
export interface FlightPage {
  readonly t: Float64Array<ArrayBuffer>
  readonly values: Float32Array<ArrayBuffer>
}

type Burst = Parameters<typeof burstStream>[0] & { readonly endsAt: number }

/** The streams of a flight that are asked for, from the pages in which its rows were read, and its burst; its imu is in stage body. */
export const flightStreamsOf = (
  pages: readonly FlightPage[],
  burst: Burst | null,
  names: NonNullable<WantOf<'log'>['rows']>,
): Segment['streams'] => {
  const rows = pages.reduce((sum, { t }) => sum + t.length, 0)
  if (rows === 0) return {}
  const t = new Float64Array(rows)
  const columns = new Map<string, Float32Array<ArrayBuffer>>(flightColumns.map((name) => [name, new Float32Array(rows)]))
  let at = 0
  for (const page of pages) {
    t.set(page.t, at)
    flightColumns.forEach((name, k) =>
      columns.get(name)?.set(page.values.subarray(k * page.t.length, (k + 1) * page.t.length), at),
    )
    at += page.t.length
  }
  const found = flightStreams
    .filter((name) => names.includes(name))
    .map((name) => [
      name,
      {
        ...(name === 'imu' ? { stage: 'body' as const } : {}),
        t,
        ...Object.fromEntries(streams[name].columns.map((column) => [column, columns.get(column)])),
      },
    ])
  return {
    ...(Object.fromEntries(found) as Segment['streams']),
    ...(burst === null || burst.values.length === 0 ? {} : { imuBurst: burstStream(burst, burst.endsAt) }),
  }
}
