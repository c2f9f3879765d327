import type { Panel } from '../panel'
import { HopLive } from './HopLive'
import { HopResult } from './HopResult'

/** The panel of every check of this station, by its id. */
export const hover: Readonly<Record<string, Panel>> = {
  'hover.hop': { Live: HopLive, Result: HopResult, draws: ({ verdict }) => verdict !== 'refused', turned: () => false },
}
