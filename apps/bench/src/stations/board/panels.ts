import { isOwn, limitFor, groupsOf } from '@taraf/core'
import type { Panel } from '../panel'
import { BaselineResult } from './BaselineResult'
import { Firmware } from './Firmware'
import { wanted } from './wanted'

const flat = () => false
const sockets = [1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12]

export const asReceived: Panel = {
  Live: wanted(
    () => [],
    'All settings with what each means, what runs, every socket and ESC: kept as they came, and never spoiled.',
  ),
  words: {
    target: 'Target',
    firmware: 'Firmware',
    settings: 'Settings',
    notFactory: 'Not as the factory sets them',
    unsaved: 'In force, not saved',
    escs: 'ESCs',
    'loss.act': 'Lost signal, as set',
  },
  turned: flat,
}

export const firmware: Panel = {
  Live: Firmware,
  words: { firmware: 'Runs', features: 'Built with' },
  turned: flat,
}

export const versions: Panel = {
  words: {},
  wordsOf: ({ sheet }) =>
    Object.fromEntries((sheet.versions ?? []).map(({ part }) => [`version of ${part}`, `Version of the ${part}`])),
  turned: flat,
}

export const identity: Panel = {
  Live: wanted(
    ({ board, sheet }) => [
      { label: 'board of this airframe', value: board },
      { label: 'target', value: sheet.board?.target ?? 'any' },
    ],
    'The board itself says who it is; what is printed on it is not asked.',
  ),
  words: { serial: 'Board', target: 'Target', firmware: 'Image that runs' },
  turned: flat,
}

export const baseline: Panel = {
  Live: wanted(
    ({ sheet }) =>
      groupsOf(Object.keys(sheet.settings).filter((name) => !isOwn(name))).map(([group, names]) => ({
        label: group,
        value: `${names.length}`,
      })),
    "Settings by group. What is this airframe's own (calibration, scales, trims, mounting) is never overwritten by a sheet.",
  ),
  Result: BaselineResult,
  words: { unknown: 'Unknown to this board', differing: 'Set otherwise than the sheet says', compared: 'Compared' },
  turned: flat,
}

export const rules: Panel = {
  Live: wanted(() => [], 'Settings that contradict each other are wrong, whatever the sheet says of each alone.'),
  words: {
    altitudeSensor: 'Altitude hold and its sensor',
    positionSensor: 'Position hold and its sensor',
    returnHomeSensor: 'Return home and its sensor',
    headingSensor: 'Heading and its sensor',
    lossSensor: 'Lost signal and its sensor',
    outputTwice: 'One output for each motor position',
    socketTwice: 'One socket for each use',
    signalPeriod: 'The signal keeps up with the loop',
    armingGate: 'Arming gate and low end',
    warnings: 'Order of the voltage warnings',
  },
  turned: flat,
}

export const boardSockets: Panel = {
  Live: wanted(
    ({ sheet }) => (sheet.board?.sockets ?? []).map(({ socket, use }) => ({ label: `socket ${socket}`, value: use })),
    'The transmitter must be on: good frames are counted for a second.',
    'receiver',
  ),
  words: Object.fromEntries(
    sockets.flatMap((n) => [
      [`socket${n}`, `Socket ${n} is set for`],
      [`frames${n}`, `Arriving at socket ${n}`],
    ]),
  ),
  turned: flat,
}

export const sensorsAnswer: Panel = {
  Live: wanted(
    ({ sheet }) => ['imu', ...(sheet.fitted ?? [])].map((name) => ({ label: name, value: 'answers' })),
    'One that is silent is looked for at its other bus address too.',
  ),
  words: { imu: 'Imu', baro: 'Barometer', compass: 'Compass', position: 'Position receiver' },
  turned: flat,
}

export const loop: Panel = {
  Live: wanted(
    ({ sheet }) => [
      { label: 'load, at most', value: `${limitFor(sheet, 'loop.load').max * 100} %` },
      { label: 'jitter, at most', value: `${limitFor(sheet, 'loop.jitter').max * 100} %` },
    ],
    'Leave on whatever runs in flight: the load of a quiet board proves nothing.',
  ),
  words: { rate: 'Rate of the loop', load: 'Load', jitter: 'Jitter of the period' },
  turned: flat,
}
