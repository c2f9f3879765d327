import type { Panel } from '../panel'
import { newest, streamLive } from './StreamLive'

const strength = (rows: readonly (readonly number[])[]): string =>
  Math.hypot(newest(rows, 0), newest(rows, 1), newest(rows, 2)).toFixed(1)

export const compassShift: Panel = {
  Live: streamLive('mag', [{ label: 'uT, the field as the compass reads it, uncorrected', value: strength }]),
  turned: () => false,
}
