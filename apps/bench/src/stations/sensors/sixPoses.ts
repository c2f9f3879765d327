import { poseLive } from '../PoseLive'
import type { Panel } from '../panel'

export const sixPoses: Panel = {
  Live: poseLive('sensors.sixPoses'),
  turned: () => false,
}
