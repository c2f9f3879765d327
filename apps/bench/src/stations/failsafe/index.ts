import type { Panel } from '../panel'
import { AloneLive } from './AloneLive'
import { lossLive } from './LossLive'
import { LossResult } from './LossResult'

const drawn = (check: string, how?: { bars: boolean }): Panel => ({
  Live: lossLive(check, how),
  Result: LossResult,
  draws: ({ verdict }) => verdict !== 'refused',
  turned: () => false,
})

/** The panel of every check of this station, by its id. */
export const failsafe: Readonly<Record<string, Panel>> = {
  'failsafe.response': drawn('failsafe.response'),
  'failsafe.levels': drawn('failsafe.levels', { bars: true }),
  'failsafe.waits': drawn('failsafe.waits', { bars: true }),
  'failsafe.bySwitch': drawn('failsafe.bySwitch'),
  'failsafe.returnHome': drawn('failsafe.returnHome'),
  'failsafe.motorCut': drawn('failsafe.motorCut', { bars: true }),
  'failsafe.finalForm': { Live: AloneLive, turned: () => false },
}
