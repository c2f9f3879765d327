import { wrongSettings, type Fault } from './fault'

const band = (id: string, where: string, shows: string, wrong: Record<string, number>, right: Record<string, number>): Fault =>
  wrongSettings({ id, station: 'switches', where, shows, caughtBy: 'switches.table' }, wrong, right)

export const switchFaults: readonly Fault[] = [
  band(
    'switches.armedAtStart',
    'band of the arm switch',
    'armed in the position in which the transmitter is switched on',
    { 'switch.arm.low': 900, 'switch.arm.high': 1300 },
    { 'switch.arm.low': 1700, 'switch.arm.high': 2100 },
  ),
  band(
    'switches.noSelfLevel',
    'band of self-level',
    'no position of any switch reaches it',
    { 'switch.selfLevel.channel': 0 },
    { 'switch.selfLevel.channel': 6 },
  ),
  band(
    'switches.twoModes',
    'bands of self-level and rate',
    'two flight modes are asked for in one position',
    { 'switch.rate.low': 900 },
    { 'switch.rate.low': 1700 },
  ),
  band(
    'switches.nearEdge',
    'band of rate',
    'a position lies closer than 25 us to the edge of its band',
    { 'switch.rate.low': 1942 },
    { 'switch.rate.low': 1700 },
  ),
  band(
    'switches.noFailsafe',
    'failsafe by switch',
    'it is not reachable from any mode',
    { 'switch.failsafe.channel': 0 },
    { 'switch.failsafe.channel': 8 },
  ),
  band(
    'switches.sounderWithArm',
    'channel of the sounder',
    'sounder and arm go together',
    { 'switch.sounder.channel': 5 },
    { 'switch.sounder.channel': 7 },
  ),
  band(
    'switches.neverOff',
    'band of the sounder',
    'it is asked for in every position',
    { 'switch.sounder.low': 900 },
    { 'switch.sounder.low': 1700 },
  ),
  wrongSettings(
    {
      id: 'switches.gesture',
      station: 'switches',
      where: 'stick gestures',
      shows: 'a corner of the sticks starts a calibration',
      caughtBy: 'switches.gestures',
    },
    { 'gesture.calibrate': 1 },
    { 'gesture.calibrate': 0 },
  ),
]
