import { defineCheck } from '../check'
import { want } from '../take'
import { onTheWay } from './sticks'
import { steadinessFindings } from './steadinessFindings'

/** Ten seconds with everything at rest. */
export const steadiness = defineCheck({
  id: 'radio.steadiness',
  version: 2,
  station: 'radio',
  title: 'Radio steadiness',
  proves: 'At rest the channels do not shake, and no frames are lost.',
  words: {
    ...Object.fromEntries(Array.from({ length: 16 }, (_, i) => [`ch${i + 1}Noise`, `Noise of channel ${i + 1}`])),
    gaps: 'Gaps of two frames or more',
    lost: 'Frames lost',
    longestGap: 'Longest gap',
  },
  needs: ['radio.link'],
  reads: {
    settings: ['radio.*.channel', 'radio.strengthChannel', 'radio.kind', 'switch.*.channel', 'switch.*.withChannel'],
    parts: [...onTheWay, 'receiver antenna'],
    acts: ['transmitter', 'knock'],
    image: true,
  },
  stages: null,
  *take() {
    yield* want.capture({
      label: 'rest',
      ask: 'Leave sticks and switches alone, throttle fully down.',
      seconds: 10,
      streams: ['radio'],
      state: { transmitter: true, disarmed: true },
    })
  },
  evaluate: steadinessFindings,
})
