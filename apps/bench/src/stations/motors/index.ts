import { limitFor } from '@taraf/core'
import { speedsLive } from '../escs/SpeedsLive'
import type { Panel } from '../panel'
import { OrderLive } from './OrderLive'
import { PropPlanLive } from './PropPlanLive'
import { ResponseLive } from './ResponseLive'
import { SmoothResult } from './SmoothResult'

const flat = () => false

export const motors: Readonly<Record<string, Panel>> = {
  'motors.order': { Live: OrderLive, turned: flat },
  'motors.start': {
    Live: speedsLive(
      'motors.start',
      ({ sheet }) =>
        `Each must turn from ${limitFor(sheet, 'start.least').max} of full command on, and at one command within ${limitFor(sheet, 'start.speeds').max} % of the others.`,
    ),
    turned: flat,
  },
  'motors.smooth': {
    Live: speedsLive(
      'motors.smooth',
      ({ sheet }) =>
        `Four thousand samples a second are taken of each. At most ${limitFor(sheet, 'smooth.atTurning').max} mm/s rms at its turning rate, ${limitFor(sheet, 'smooth.whole').max} as a whole.`,
    ),
    Result: SmoothResult,
    draws: ({ verdict }) => verdict !== 'refused',
    turned: flat,
  },
  'motors.heat': {
    Live: speedsLive(
      'motors.heat',
      ({ sheet }) => `None may be over ${limitFor(sheet, 'heat.above').max} C hotter than the others.`,
    ),
    turned: flat,
  },
  'motors.response': { Live: ResponseLive, turned: flat },
  'motors.propPlan': { Live: PropPlanLive, turned: flat },
}
