import { typeFacts } from '../sound'
import { rightFirmware } from './board'
import { wrongSettings, type Fault } from './fault'
import type { Habit } from '../airframe'

const arming = (
  id: string,
  where: string,
  shows: string,
  wrong: Record<string, number>,
  right: Record<string, number>,
  caughtBy = 'arming.refuses',
) => wrongSettings({ id: `arming.${id}`, station: 'arming', where, shows, caughtBy }, wrong, right)
const loss = (
  id: string,
  where: string,
  shows: string,
  wrong: Record<string, number>,
  right: Record<string, number>,
  caughtBy = 'failsafe.response',
) => wrongSettings({ id: `failsafe.${id}`, station: 'failsafe', where, shows, caughtBy }, wrong, right)

/** A bad copy of the right firmware: it reports as it should, is set as it should be, and does otherwise. */
const badCopy = (id: string, habit: Habit, shows: string, caughtBy: string): Fault => ({
  id: `arming.${id}`,
  station: 'arming',
  where: 'flash of the board',
  shows,
  caughtBy,
  remedy: 'write the approved image again',
  likelihood: 0.01,
  inject: ({ airframe: { board } }) => void (board.firmware = { ...board.firmware, habit }),
  isIn: ({ airframe: { board } }) => board.firmware.habit === habit,
  mend: () => ({ image: rightFirmware }),
})

export const armingFaults: readonly Fault[] = [
  badCopy('armsLater', 'arms once it may', 'it arms as throttle comes down, its switch being on', 'arming.refuses'),
  badCopy('deafInFlight', 'deaf in flight', 'its switch does not disarm it at flight throttle', 'arming.disarms'),
  badCopy('obeysLate', 'late', 'it obeys its switch five seconds late', 'arming.disarms'),
  badCopy('yawDisarms', 'yaw disarms', 'a full stick of yaw disarms it in flight', 'arming.disarms'),
  arming(
    'throttleGate',
    'throttle gate of arming',
    'it arms with the throttle up',
    { 'arm.throttleMost': 1150 },
    { 'arm.throttleMost': 1060 },
  ),
  arming('tiltGate', 'tilt limit of arming', 'it arms lying on its side', { 'arm.tiltMost': 180 }, { 'arm.tiltMost': 25 }),
  arming('lowBattery', 'battery limit of arming', 'it arms on an empty pack', { 'power.armCell': 0 }, { 'power.armCell': 3.4 }),
  arming(
    'uncalibrated',
    'calibration wanted for arming',
    'it arms straight after a clear',
    { 'arm.wantsCalibration': 0 },
    { 'arm.wantsCalibration': 1 },
  ),
  arming(
    'onAtPower',
    'switch of arming',
    'it arms as soon as power or radio comes, its switch being on',
    { 'arm.offFirst': 0 },
    { 'arm.offFirst': 1 },
  ),
  arming(
    'neverIdles',
    'idle time of arming',
    'it stays armed for ever',
    { 'arm.idleOff': 0 },
    { 'arm.idleOff': 10 },
    'arming.disarms',
  ),
  arming(
    'sticks',
    'disarming by sticks',
    'the sticks do not disarm it',
    { 'arm.sticksDisarm': 0 },
    { 'arm.sticksDisarm': 1 },
    'arming.disarms',
  ),
  arming(
    'idleStands',
    'idle of the motors',
    'they stand when armed, against the sheet',
    { 'motors.turnWhenArmed': 0 },
    { 'motors.turnWhenArmed': 1 },
    'arming.idle',
  ),
  {
    ...arming(
      'idleLow',
      'idle speed',
      'one motor stutters at idle',
      { 'motors.idle': 0.04 },
      { 'motors.idle': 0.06 },
      'motors.start',
    ),
    isIn: ({ board, airframe }) =>
      airframe.drives.some((drive) => drive !== null && drive.esc.startAt > board.settings.get('motors.idle')),
  },
]

export const failsafeFaults: readonly Fault[] = [
  {
    id: 'failsafe.lastValues',
    station: 'failsafe',
    where: 'receiver at loss',
    shows: 'it repeats the last values: the board never learns of the loss',
    caughtBy: 'radio.link',
    remedy: 'set the receiver silent at loss',
    likelihood: 0.05,
    inject: ({ airframe }) => void (airframe.receiver.atLoss = 'last'),
    isIn: ({ airframe }) => airframe.receiver.atLoss !== 'silent',
    mend: () => ({ acts: [{ act: 'loss', receiver: 'silent' }] }),
  },
  {
    id: 'failsafe.preset',
    station: 'failsafe',
    where: 'receiver at loss',
    shows: 'it sends a preset with throttle above idle: the loss is hidden',
    caughtBy: 'radio.link',
    remedy: 'set the receiver silent at loss',
    likelihood: 0.04,
    inject: ({ airframe }) => void Object.assign(airframe.receiver, { atLoss: 'preset' }),
    isIn: ({ airframe }) => airframe.receiver.atLoss !== 'silent',
    mend: () => ({ acts: [{ act: 'loss', receiver: 'silent' }] }),
  },
  loss(
    'lateNotice',
    'time of notice',
    'over a second until the loss is noticed',
    { 'loss.notice': 1800 },
    { 'loss.notice': 300 },
  ),
  loss('longWait', 'time of waiting', 'it flies on for seconds', { 'loss.wait': 6000 }, { 'loss.wait': 700 }),
  loss('cuts', 'act at loss', 'the motors stop in the air', { 'loss.act': 0 }, { 'loss.act': 1 }),
  loss(
    'throttleHigh',
    'throttle at loss',
    'above hover: it climbs out of reach',
    { 'loss.throttle': 0.6 },
    { 'loss.throttle': 0.35 },
  ),
  loss('throttleIdle', 'throttle at loss', 'at idle: it falls', { 'loss.throttle': 0.05 }, { 'loss.throttle': 0.35 }),
  loss(
    'keepsTilt',
    'levelling at loss',
    'it keeps the tilt that it had',
    { 'loss.levels': 0 },
    { 'loss.levels': 1 },
    'failsafe.levels',
  ),
  loss('lateBack', 'time of recovery', 'control comes back after over a second', { 'loss.back': 2500 }, { 'loss.back': 400 }),
  loss(
    'holdsSticks',
    'sticks while it waits',
    'the last sticks are held and a tilt is kept',
    { 'loss.hold': 0 },
    { 'loss.hold': 1 },
    'failsafe.waits',
  ),
  loss(
    'motorCut',
    'throttle down in flight',
    'a stick that is fully down in flight stops the motors',
    { 'loss.throttleCuts': 1 },
    { 'loss.throttleCuts': 0 },
    'failsafe.motorCut',
  ),
  {
    ...loss(
      'homeLow',
      'height of the way home',
      'it flies home lower than what stands in the way',
      { 'home.height': 12 },
      { 'home.height': 30 },
      'failsafe.returnHome',
    ),
    fits: ({ type }) => typeFacts(type).fliesHome === true,
    isIn: ({ board }) => board.settings.get('home.height') < 20,
  },
  {
    id: 'failsafe.fedByCable',
    station: 'failsafe',
    where: 'feed of the receiver',
    shows: 'on its battery alone the receiver is dark: the cable feeds it',
    caughtBy: 'failsafe.finalForm',
    remedy: 'feed the receiver from the regulator',
    likelihood: 0.03,
    inject: ({ airframe }) => void (airframe.power.receiverOnBattery = false),
    isIn: ({ airframe }) => !airframe.power.receiverOnBattery,
    mend: () => ({ acts: [{ act: 'battery', source: 'none' }, { act: 'feed receiver' }] }),
  },
]
