import type { Panel } from '../panel'
import { OrderLive } from './OrderLive'

export const motors: Readonly<Record<string, Panel>> = {
  'motors.order': { Live: OrderLive, turned: () => false },
}
