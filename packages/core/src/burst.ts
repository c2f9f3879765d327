import { streams, type Streams } from '@taraf/contract'

/** The samples of a burst as a stream: `values` holds its columns one behind the other, the last row was sampled at `endsAt`, s. */
export const burstStream = (
  { rateHz, values }: { readonly rateHz: number; readonly values: Float32Array },
  endsAt: number,
): NonNullable<Streams['imuBurst']> => {
  const { columns } = streams.imuBurst
  const rows = values.length / columns.length
  return {
    stage: 'raw',
    t: Float64Array.from({ length: rows }, (_, i) => endsAt - (rows - 1 - i) / rateHz),
    ...Object.fromEntries(columns.map((name, c) => [name, values.slice(c * rows, (c + 1) * rows)])),
  } as NonNullable<Streams['imuBurst']>
}
