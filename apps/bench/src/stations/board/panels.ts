import { isOwn, limitFor, groupsOf } from '@taraf/core'
import type { Panel } from '../panel'
import { BaselineResult } from './BaselineResult'
import { Firmware } from './Firmware'
import { wanted } from './wanted'

const flat = () => false

export const asReceived: Panel = {
  Live: wanted(
    () => [],
    'All settings with what each means, what runs, every socket and ESC: kept as they came, and never spoiled.',
  ),
  turned: flat,
}

export const firmware: Panel = {
  Live: Firmware,
  turned: flat,
}

export const versions: Panel = {
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
  turned: flat,
}

export const rules: Panel = {
  Live: wanted(() => [], 'Settings that contradict each other are wrong, even where each is as the sheet says.'),
  turned: flat,
}

export const boardSockets: Panel = {
  Live: wanted(
    ({ sheet }) => (sheet.board?.sockets ?? []).map(({ socket, use }) => ({ label: `socket ${socket}`, value: use })),
    'The transmitter must be on: good frames are counted for a second.',
    'receiver',
  ),
  turned: flat,
}

export const sensorsAnswer: Panel = {
  Live: wanted(
    ({ sheet }) => ['imu', ...(sheet.fitted ?? [])].map((name) => ({ label: name, value: 'answers' })),
    'One that is silent is looked for at its other bus address too.',
  ),
  turned: flat,
}

export const loop: Panel = {
  Live: wanted(
    ({ sheet }) => [
      { label: 'load, at most', value: `${limitFor(sheet, 'loop.load').max * 100} %` },
      { label: 'jitter, at most', value: `${limitFor(sheet, 'loop.jitter').max * 100} %` },
    ],
    'Leave everything on that runs in flight: the load of an idle board proves nothing.',
  ),
  turned: flat,
}
