import {
  benchLinkVersion,
  socketUses,
  type Ask,
  type AskName,
  type AnswerOf,
  type AskBody,
  type RefusalType,
} from '@taraf/contract'
import { loopReport, sensorReport } from './board/report'
import { escSettingRanges } from './drive/drive'
import type { Rig } from './rig'

/** What the link and its process do for an ask, beside what the rig does. */
export interface Host {
  readonly bootedAtMs: () => number
  readonly restart: () => number
  /** Answers later. */
  readonly later: () => void
}
export interface Refused {
  readonly refusal: RefusalType
  readonly detail: string
}
type Answers = { [Name in AskName]: (rig: Rig, ask: Extract<Ask, { ask: Name }>, host: Host) => AnswerOf<Name> | Refused | null }

const refused = (refusal: RefusalType, detail: string): Refused => ({ refusal, detail })
const details: Partial<Record<string, string>> = {
  held: 'another permit is held; nothing was changed',
  'power-changed': 'the battery connection named is not the one that is there; confirm props again',
  token: 'this token holds nothing; all that turned was stopped',
  props: 'this permit wants props as it says: off on the bench, on for flight',
  'no-battery': 'this permit wants another state of the battery',
  signal: 'the signal to the ESCs counts: it has no ends to be taught',
  'not-loading': 'no image was begun',
  address: 'the address lies outside what the target has, or the block is too long',
  identity: 'the image has no identity block where it must be; the board stays in its loader',
  hash: 'what was written does not have this hash; the board stays in its loader',
  target: 'the image is for another target; the board stays in its loader',
}
const because = (type: string): Refused => refused(type as RefusalType, details[type] ?? type)

/** Asks that nothing may turn for, and those that a board in its loader still answers. */
const wantsStill: ReadonlySet<AskName> = new Set([
  'settings.write',
  'settings.save',
  'settings.clear',
  'restart',
  'calibrate',
  'image.begin',
  'escs.write',
])
const inLoader: ReadonlySet<AskName> = new Set([
  'hello',
  'identity',
  'state',
  'restart',
  'stop',
  'image.map',
  'image.begin',
  'image.write',
  'image.read',
  'image.end',
  'log.read',
])

/** Answers an ask, refuses it, or null where the answer comes later or by itself. */
export const answerAsk = (rig: Rig, ask: Ask, host: Host): object | Refused | null => {
  if (wantsStill.has(ask.ask) && (rig.turning || rig.board.arming.armed || rig.board.drives))
    return refused('turning', 'motors turn or the board is armed; nothing was changed')
  if (rig.board.loader.loading && !inLoader.has(ask.ask)) return refused('loader', 'the board is in its loader; write an image')
  return (answers[ask.ask] as (rig: Rig, ask: Ask, host: Host) => object | null)(rig, ask, host)
}

/** Answers asks of a rig that nothing stands between: without a link, a process, or time of its own. */
export const answererOf =
  (rig: Rig) =>
  (ask: AskBody): object | Refused | null => {
    const host: Host = { bootedAtMs: () => 0, restart: () => rig.restart(), later: () => {} }
    return answerAsk(rig, { id: 0, ...ask } as Ask, host)
  }

const answers: Answers = {
  hello: (rig, { version }, { bootedAtMs }) =>
    version === benchLinkVersion
      ? { version: benchLinkVersion, speaker: 'simulated board', bootedAtMs: bootedAtMs(), state: rig.state() }
      : refused('version', `version ${version} is not spoken here, version ${benchLinkVersion} is`),
  identity: ({ board }) => board.identity,
  state: (rig) => ({ state: rig.state() }),
  'settings.list': ({ board }) => ({ settings: board.settings.list() }),
  'settings.write': ({ board }, { values }) => {
    const wrong = board.settings.write(values)
    return wrong === null ? {} : refused('out-of-range', `${wrong}; nothing was written`)
  },
  'settings.save': ({ board }) => {
    board.settings.save()
    return {}
  },
  'settings.clear': ({ board }) => {
    board.settings.clear()
    return {}
  },
  restart: (_rig, _ask, { restart }) => ({ backInMs: restart() }),
  sense: () => ({}),
  burst: (rig, { seconds }, { later }) => {
    if (!rig.beginBurst(seconds)) return refused('busy', 'a burst is running')
    later()
    return null
  },
  calibrate: ({ board }, _ask, { later }) => {
    if (!board.beginCalibration()) return refused('busy', 'a calibration is running')
    later()
    return null
  },
  permit: ({ board, power }, { kind, props, powerId }) => {
    const found = board.grant(kind, props, powerId, power)
    return 'token' in found ? found : because(found.refused)
  },
  'permit.drop': ({ board }, { token }) => {
    if (board.permits.current?.token !== token) return because('token')
    board.stop('permit dropped')
    return {}
  },
  spin: ({ board }, { token, values }) => {
    const wrong = board.turn(token, Object.fromEntries(values.map(({ output, share }) => [output, share])))
    return wrong === null ? {} : because(wrong)
  },
  stop: ({ board }) => {
    board.stop('stop all')
    return {}
  },
  'image.map': ({ board }) => ({ ...board.loader.map }),
  'image.begin': ({ board }) => {
    board.loader.begin()
    return {}
  },
  'image.write': ({ board }, { address, data }) => {
    const wrong = board.loader.write(address, data)
    return wrong === null ? {} : because(wrong)
  },
  'image.read': ({ board }, { address, length }) => {
    const found = board.loader.read(address, length)
    return typeof found === 'string' ? because(found) : { data: Uint8Array.from(found) }
  },
  'image.end': (rig, { sha256 }) => {
    const found = rig.startImage(sha256)
    return typeof found === 'string' ? because(found) : { firmware: { ...found, features: [...found.features] } }
  },
  'escs.list': (rig) => ({
    escs: rig.escs(),
    ranges: Object.fromEntries(Object.entries(escSettingRanges).map(([name, [min, max, unit]]) => [name, { min, max, unit }])),
  }),
  'escs.write': (rig, { outputs, settings }) => {
    const done = rig.writeEscs(outputs, settings)
    return typeof done === 'string' ? refused('out-of-range', `${done}; nothing was written`) : { written: done }
  },
  'sockets.list': ({ board, goodFrames }) => ({
    sockets: goodFrames.map((count, i) => ({
      socket: i + 1,
      use: socketUses[board.settings.get(`socket.${i + 1}.use`)] ?? '',
      goodFrames: count,
    })),
  }),
  'sensors.list': ({ board }) => ({ sensors: sensorReport(board.sensors, board.settings) }),
  loop: ({ airframe, board }) => loopReport(airframe, board.settings),
  'log.read': ({ board }, { from, most }) => ({
    entries: board.log
      .read(from, most)
      .map(({ detail, ...rest }) => ({ ...rest, ...(detail === undefined ? {} : { detail: { ...detail } }) })),
  }),
  'log.burst': ({ board: { flight } }) => ({
    boot: flight.boot,
    ...(flight.burst ?? { endsAt: 0, rateHz: 4000, values: new Float32Array(0) }),
  }),
  'log.rows': ({ board: { flight } }, { from, most }) => ({
    boot: flight.boot,
    count: flight.count,
    ...flight.read(from, most),
  }),
}
