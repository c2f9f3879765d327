import { poseLive } from '../PoseLive'
import type { Panel } from '../panel'

export const sixPoses: Panel = {
  Live: poseLive('sensors.sixPoses'),
  words: {
    bias: 'Bias, by axis',
    scale: 'Scale, by axis',
    proof: 'Left in the oblique pose',
    inForce: 'Largest error with what the board has',
  },
  turned: () => false,
}
