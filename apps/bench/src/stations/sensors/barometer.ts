import type { Panel } from '../panel'
import { newest, streamLive } from './StreamLive'
import { fixed } from '../../parts/fixed'

export const barometer: Panel = {
  Live: streamLive('baro', [{ label: 'm, height by pressure now', value: (rows) => fixed(newest(rows, 0), 2) }]),
  turned: () => false,
}
