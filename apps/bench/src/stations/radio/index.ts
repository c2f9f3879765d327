import type { Panel } from '../panel'
import { controlLive } from './controlLive'
import { LinkLive } from './LinkLive'
import { SteadinessLive } from './SteadinessLive'

const flat = () => false
const moved = (id: string): Panel => ({ Live: controlLive(id), turned: flat })

export const radio: Readonly<Record<string, Panel>> = {
  'radio.link': { Live: LinkLive, turned: flat },
  'radio.order': moved('radio.order'),
  'radio.ends': moved('radio.ends'),
  'radio.centre': moved('radio.centre'),
  'radio.steadiness': { Live: SteadinessLive, turned: flat },
}
