import type { Panel } from '../panel'
import { LossLive } from './LossLive'
import { LossResult } from './LossResult'

/** The panel of every check of this station, by its id. */
export const failsafe: Readonly<Record<string, Panel>> = {
  'failsafe.response': {
    Live: LossLive,
    Result: LossResult,
    draws: ({ verdict }) => verdict !== 'refused',
    turned: () => false,
  },
}
