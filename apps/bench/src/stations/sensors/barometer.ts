import type { Panel } from '../panel'
import { newest, streamLive } from './StreamLive'

export const barometer: Panel = {
  Live: streamLive('baro', [{ label: 'm, height by pressure now', value: (rows) => newest(rows, 0).toFixed(2) }]),
  words: { noise: 'Noise of the height', driftSigma: 'Uncertainty of the drift', drift: 'Drift of the height' },
  turned: () => false,
}
