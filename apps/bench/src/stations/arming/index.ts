import type { Panel } from '../panel'
import { armingLive } from './ArmingLive'
import { IdleLive } from './IdleLive'

const flat = () => false

export const arming: Readonly<Record<string, Panel>> = {
  'arming.refuses': {
    Live: armingLive(
      'arming.refuses',
      'Each is tried by itself: what it refuses for must be that one, and no other. Where it can be approached, the edge is measured.',
    ),
    turned: flat,
  },
  'arming.arms': { Live: armingLive('arming.arms', 'It must arm by its own way alone, and say so.'), turned: flat },
  'arming.disarms': {
    Live: armingLive('arming.disarms', 'Every way there is must stop it at once; left alone, it must stop by itself.'),
    turned: flat,
  },
  'arming.idle': { Live: IdleLive, turned: flat },
}
