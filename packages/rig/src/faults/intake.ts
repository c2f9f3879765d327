import { someOutput, type Fault } from './fault'

export const restAmpsMost = 0.6

export const intakeFaults: readonly Fault[] = [
  {
    id: 'intake.short',
    station: 'intake',
    where: 'power leads at the frame',
    shows: 'the limiter holds the current down and the volts fall away at first power',
    caughtBy: 'intake.firstPower',
    remedy: 'find and clear the short before any battery goes on without the limiter',
    likelihood: 0.01,
    inject: ({ airframe }) => void (airframe.power.short = true),
    isIn: ({ airframe }) => airframe.power.short,
    mend: () => ({ acts: [{ act: 'clear short' }] }),
  },
  {
    id: 'intake.restCurrent',
    station: 'intake',
    where: 'a part that draws current with nothing turning',
    shows: 'rest current over its limit at first power',
    caughtBy: 'intake.firstPower',
    remedy: 'unplug part by part until it falls, repair that part',
    likelihood: 0.015,
    inject: ({ airframe: { power }, beyond }) => void (power.extraRestAmps = beyond(restAmpsMost, 0.01) - power.restAmps),
    isIn: ({ airframe: { power } }) => power.restAmps + power.extraRestAmps > restAmpsMost,
    mend: () => ({ acts: [{ act: 'clear short' }] }),
  },
  {
    id: 'intake.weakRegulator',
    station: 'intake',
    where: 'regulator of one lot',
    shows: 'the rail is right when cold and sags after minutes of battery power',
    caughtBy: 'intake.rails',
    remedy: 'replace the regulator; look at the others of its lot',
    likelihood: 0.02,
    inject: ({ airframe, random }) => void (airframe.power.railSagWarm = random.between(0.4, 0.9)),
    isIn: ({ airframe: { power } }) => power.railSagWarm > 0.2,
    mend: () => ({ acts: [{ act: 'replace', part: 'regulator' }] }),
  },
  {
    id: 'intake.videoAntenna',
    station: 'intake',
    where: 'video transmitter',
    shows: 'no antenna is seen on it; powered like this it burns out',
    caughtBy: 'intake.byEye',
    remedy: 'fit the antenna before any power',
    likelihood: 0.02,
    fits: ({ fitOut }) => fitOut.videoFitted,
    inject: ({ airframe }) => void (airframe.fitOut.videoAntenna = false),
    isIn: ({ airframe }) => !airframe.fitOut.videoAntenna,
    mend: () => ({ acts: [{ act: 'fit video antenna' }] }),
  },
  {
    id: 'intake.bentBell',
    station: 'intake',
    where: 'bell of one motor',
    shows: 'it rubs when turned by hand, turns slower than its neighbours and grows hot',
    caughtBy: 'intake.byEye',
    remedy: 'replace the motor',
    likelihood: 0.015,
    inject: (site) => {
      const drive = site.airframe.drives[someOutput(site) - 1]
      if (drive) drive.motor.rub = site.random.between(0.01, 0.02)
    },
    isIn: ({ airframe }) => airframe.drives.some((d) => d !== null && d.motor.rub > 0.002),
    mend: ({ airframe }) => ({
      acts: airframe.drives.flatMap((d, i) =>
        d !== null && d.motor.rub > 0.002 ? [{ act: 'replace motor' as const, output: i + 1 }] : [],
      ),
    }),
  },
  {
    id: 'intake.pastBoard',
    station: 'intake',
    where: 'a lamp fed straight from a receiver channel',
    shows: 'a lead from the receiver does not go to the board: disarm and failsafe do not reach it',
    caughtBy: 'intake.pastBoard',
    remedy: 'unplug it, or give it its own checks',
    likelihood: 0.01,
    inject: ({ airframe }) => void airframe.fitOut.pastBoard.push({ channel: 9, what: 'lamp' }),
    isIn: ({ airframe }) => airframe.fitOut.pastBoard.length > 0,
    mend: () => ({ acts: [{ act: 'unplug past the board' }] }),
  },
]
