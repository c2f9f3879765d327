import { loopReport, receiverReaches, socketPasses } from '../board/report'
import { newestVersions } from '../sound'
import { wrongSettings, type Fault } from './fault'

export const rightFirmware = { name: 'shoreline', version: '3.2.0', features: ['position', 'compass', 'video', 'gimbal'] }
export const loadMost = 0.7
export const jitterMost = 0.05

const firmware = (id: string, shows: string, wrong: Partial<typeof rightFirmware>, likelihood: number): Fault => ({
  id,
  station: 'board',
  where: 'flash of the board',
  shows,
  caughtBy: 'board.firmware',
  remedy: 'write the approved image',
  likelihood,
  inject: ({ airframe }) => void (airframe.board.firmware = { ...rightFirmware, ...wrong }),
  isIn: ({ airframe: { board } }) =>
    board.firmware.version !== rightFirmware.version || board.firmware.features.join() !== rightFirmware.features.join(),
  mend: () => ({ image: rightFirmware }),
})

/** A sensor that does not answer. */
const dead = (
  part: 'compass' | 'baro' | 'fix',
  name: 'compass' | 'barometer' | 'position receiver',
  caughtBy = 'board.sensors',
): Fault => ({
  id: `board.${part}Dead`,
  station: 'board',
  where: name,
  shows: part === 'fix' ? 'nothing comes from its socket' : 'it does not answer at either address',
  caughtBy,
  remedy: `replace the ${name}`,
  likelihood: 0.01,
  fits: (airframe) => airframe[part].fitted,
  inject: ({ airframe }) => void (airframe[part].dead = true),
  isIn: ({ airframe }) => airframe[part].dead,
  mend: () => ({ acts: [{ act: 'replace', part: name }] }),
})

/** A sensor that answers at the second bus address. */
const addressed = (part: 'compass' | 'baro', name: string): Fault => ({
  id: `board.${part}Address`,
  station: 'board',
  where: `address bridge of the ${name}`,
  shows: 'it does not answer at the first bus address, but at the second',
  caughtBy: 'board.sensors',
  remedy: `write ${part}.bus`,
  likelihood: 0.015,
  fits: (airframe) => airframe[part].fitted,
  inject: ({ airframe }) => void (airframe[part].address = 1),
  isIn: ({ board, airframe }) => !airframe[part].dead && !board.sensors.answers(part),
  mend: () => ({ settings: { [`${part}.bus`]: 1 } }),
})

export const boardFaults: readonly Fault[] = [
  {
    id: 'board.receiverVersion',
    station: 'board',
    where: 'firmware of the receiver',
    shows: 'it shows a version that the sheet does not approve',
    caughtBy: 'board.versions',
    remedy: 'bring the receiver to the approved version',
    likelihood: 0.02,
    inject: ({ airframe }) => void (airframe.fitOut.versions.receiver = '2.1'),
    isIn: ({ airframe }) => airframe.fitOut.versions.receiver !== newestVersions.receiver,
    mend: () => ({ acts: [{ act: 'update part', part: 'receiver' }] }),
  },
  firmware('board.oldFirmware', 'version older than the sheet allows', { version: '3.0.1' }, 0.03),
  firmware('board.badFirmware', 'a version known to be bad: its replies fail on every ESC', { version: '3.3.0' }, 0.02),
  firmware('board.poorImage', 'the image was built without what the sheet needs', { features: ['video'] }, 0.02),
  {
    id: 'board.otherTarget',
    station: 'board',
    where: 'the board itself',
    shows: 'it says another target than the sheet: an older make',
    caughtBy: 'board.identity',
    remedy: 'replace the board',
    likelihood: 0.005,
    inject: ({ airframe }) => void (airframe.board.target = 'TIDEBOARD-3'),
    isIn: ({ airframe }) => airframe.board.target !== 'TIDEBOARD-4',
    mend: () => ({ acts: [{ act: 'replace', part: 'board' }] }),
  },
  wrongSettings(
    {
      id: 'board.leftOver',
      station: 'board',
      where: 'settings from an earlier build',
      shows: 'stick curves and gains far from the sheet',
      caughtBy: 'board.baseline',
    },
    { 'curve.roll.rate': 900, 'curve.pitch.rate': 900, 'gain.roll.p': 0.3 },
    { 'curve.roll.rate': 400, 'curve.pitch.rate': 400, 'gain.roll.p': 0.06 },
  ),
  wrongSettings(
    {
      id: 'board.receiverSocket',
      station: 'board',
      where: 'use of socket 1',
      shows: 'no good frames from the receiver',
      caughtBy: 'board.sockets',
    },
    { 'socket.1.use': 0 },
    { 'socket.1.use': 1 },
  ),
  wrongSettings(
    {
      id: 'board.otherSocket',
      station: 'board',
      where: 'uses of two sockets',
      shows: 'position is looked for at a socket where nothing is',
      caughtBy: 'board.sockets',
      fits: ({ fix }) => fix.fitted,
    },
    { 'socket.2.use': 0, 'socket.4.use': 2 },
    { 'socket.2.use': 2, 'socket.4.use': 0 },
  ),
  {
    id: 'board.socketLoose',
    station: 'board',
    where: "the receiver's plug at the board",
    shows: 'the receiver hears, the board gets nothing',
    caughtBy: 'board.sockets',
    remedy: 'reseat the plug of socket 1',
    likelihood: 0.02,
    inject: ({ airframe }) => void Object.assign(airframe.board.sockets[0] ?? {}, { plug: 'loose' }),
    isIn: ({ airframe }) => airframe.board.sockets.some((s) => s.plug === 'loose'),
    mend: () => ({ acts: [{ act: 'reseat socket', socket: 1 }] }),
  },
  {
    id: 'board.socketWires',
    station: 'board',
    where: "wires in the position receiver's plug",
    shows: 'position is set up and silent: its two data wires are exchanged',
    caughtBy: 'board.sockets',
    remedy: 'exchange the two data wires of socket 2',
    likelihood: 0.015,
    fits: ({ fix }) => fix.fitted,
    inject: ({ airframe }) => void Object.assign(airframe.board.sockets[1] ?? {}, { plug: 'wires swapped' }),
    isIn: ({ airframe, board }) =>
      airframe.board.sockets[1]?.plug === 'wires swapped' && !socketPasses(airframe, board.settings, 2),
    mend: () => ({ acts: [{ act: 'rewire socket', socket: 2 }] }),
  },
  {
    id: 'board.plugMoved',
    station: 'board',
    where: "the receiver's plug",
    shows: 'it sits in socket 5 instead of 1',
    caughtBy: 'board.sockets',
    remedy: 'move the plug from socket 5 to 1',
    likelihood: 0.01,
    inject: ({ airframe: { board } }) => {
      Object.assign(board.sockets[4] ?? {}, board.sockets[0])
      Object.assign(board.sockets[0] ?? {}, { plugged: 'nothing', plug: 'home' })
    },
    isIn: ({ airframe, board }) => airframe.board.sockets[0]?.plugged === 'nothing' && !receiverReaches(airframe, board.settings),
    mend: () => ({ acts: [{ act: 'move plug', from: 5, to: 1 }] }),
  },
  dead('compass', 'compass'),
  dead('baro', 'barometer'),
  dead('fix', 'position receiver', 'board.sockets'),
  addressed('compass', 'compass'),
  addressed('baro', 'barometer'),
  {
    ...wrongSettings(
      {
        id: 'board.loopTooFast',
        station: 'board',
        where: 'loop rate',
        shows: 'the loop asks for commands faster than the signal carries them, and its load is over the limit',
        caughtBy: 'board.rules',
      },
      { 'loop.rate': 3 },
      { 'loop.rate': 2 },
    ),
    isIn: ({ airframe, board }) => loopReport(airframe, board.settings).load > loadMost,
  },
  {
    id: 'board.jitter',
    station: 'board',
    where: 'clock of the board',
    shows: 'the period of the loop varies by more than its limit',
    caughtBy: 'board.loop',
    remedy: 'replace the board',
    likelihood: 0.005,
    inject: ({ airframe, beyond }) => void (airframe.board.extraJitter = beyond(jitterMost, 0.002)),
    isIn: ({ airframe, board }) => loopReport(airframe, board.settings).jitter > jitterMost,
    mend: () => ({ acts: [{ act: 'replace', part: 'board' }] }),
  },
]
