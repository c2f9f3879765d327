import type { Evidence, Finding, Reports, SheetPart } from '@taraf/contract'
import fc from 'fast-check'
import { checkById } from '../checks'
import { evaluate } from '../evaluate'
import { askReports, type LinkStep } from './ask'
import { groupsOf, isOwn } from './baseline'
import { rules } from './rules'
import { workOf, writes } from '../../tests/remedies'

const sheet: SheetPart = {
  board: {
    target: 'TIDEBOARD-4',
    sockets: [
      { socket: 1, use: 'receiver' },
      { socket: 2, use: 'position' },
    ],
  },
  fitted: ['compass', 'barometer', 'position'],
  settings: { 'gain.roll.p': 0.06, 'curve.roll.rate': 400, 'board.yaw': 0, 'gyro.biasX': 0 },
}
const judge = (check: string, reports: Reports, change: Partial<Evidence> = {}) => {
  const found = checkById(check)
  if (found === undefined) throw new Error(`no check ${check}`)
  const document: Evidence = {
    format: 'taraf-evidence/1',
    check,
    sheet,
    board: {},
    segments: [{ label: 'asked', streams: {}, reports }],
    ...change,
  }
  const { verdict, findings } = evaluate(found, document)
  return { verdict, findings, at: (key: string): Finding | undefined => findings.find((f) => f.key === key) }
}

describe('identity', () => {
  const identity = (target: string, loader = false): Reports => ({
    identity: { board: 'FB-1', target, loader, firmware: loader ? null : { name: 'shoreline', version: '3.2.0', features: [] } },
  })
  test('the board of the sheet passes, one of another target is to be replaced', () => {
    expect(judge('board.identity', identity('TIDEBOARD-4')).verdict).toBe('pass')
    const other = judge('board.identity', identity('TIDEBOARD-3'))
    expect(other.at('target')).toMatchObject({
      verdict: 'fail',
      limit: { equals: 'TIDEBOARD-4' },
      remedy: { work: ['replace board'] },
    })
  })
  test('a board in its loader runs nothing, and one that was not asked proves nothing', () => {
    expect(judge('board.identity', identity('TIDEBOARD-4', true)).at('firmware')?.verdict).toBe('fail')
    expect(judge('board.identity', {}).verdict).toBe('refused')
  })
})

describe('settings of the sheet', () => {
  const of = (settings: Record<string, number>) => judge('board.baseline', {}, { board: { settings } })
  const right = { 'gain.roll.p': 0.06, 'curve.roll.rate': 400 }
  test('equal ones pass whatever is the airframe’s own; single precision is no difference', () => {
    expect(of({ ...right, 'gain.roll.p': Math.fround(0.06), 'board.yaw': 90, 'gyro.biasX': 1 }).verdict).toBe('pass')
  })
  test('what differs is named, and written as one act without what is the airframe’s own', () => {
    const found = of({ ...right, 'curve.roll.rate': 900, 'board.yaw': 90 })
    expect(found.at('differing')).toMatchObject({ value: 1, verdict: 'fail', remedy: { settings: { 'curve.roll.rate': 400 } } })
    expect(found.at('curve.roll.rate')).toMatchObject({ value: 900, limit: { equals: 400 } })
  })
  test('a setting that the board does not know is listed, and then nothing is offered to write', () => {
    const found = of({ 'curve.roll.rate': 900 })
    expect(found.at('unknown')?.remedy?.act).toContain('gain.roll.p')
    expect(found.at('differing')?.remedy).not.toHaveProperty('settings')
  })
  test('what was written is no difference any more, and is never the airframe’s own', () => {
    const name = fc.constantFrom('gain.roll.p', 'curve.roll.rate', 'loop.rate', 'gyro.biasX', 'board.roll', 'power.voltScale')
    fc.assert(
      fc.property(
        fc.dictionary(name, fc.double({ min: -5, max: 5, noNaN: true })),
        fc.dictionary(name, fc.double({ min: -5, max: 5, noNaN: true })),
        (wanted, has) => {
          const board = { ...Object.fromEntries(Object.keys(wanted).map((n) => [n, 0])), ...has }
          const take = (settings: Record<string, number>) =>
            judge('board.baseline', {}, { sheet: { ...sheet, settings: wanted }, board: { settings } })
          const write = writes(take(board).at('differing')) ?? {}
          expect(Object.keys(write).filter(isOwn)).toEqual([])
          expect(take({ ...board, ...write }).verdict).toBe('pass')
        },
      ),
    )
  })
  test('groups come in the order in which they are met', () => {
    expect(groupsOf(['gain.roll.p', 'curve.roll.rate', 'gain.level'])).toEqual([
      ['gain', ['gain.roll.p', 'gain.level']],
      ['curve', ['curve.roll.rate']],
    ])
  })
})

/** What this board calls the choices of its settings: another one may count them otherwise. */
const choices: Record<string, string[]> = {
  'loop.rate': ['1 kHz', '2 kHz', '4 kHz', '8 kHz'],
  'esc.signal': ['PWM', 'OneShot125', 'MultiShot', 'DShot150', 'DShot300', 'DShot600', 'DShot1200'],
  'loss.act': ['cut', 'descend', 'return home'],
  ...Object.fromEntries([1, 2, 3, 4, 5, 6].map((n) => [`socket.${n}.use`, ['free', 'receiver', 'position', 'telemetry']])),
}

describe('settings among themselves', () => {
  const broken = (settings: Record<string, number>) =>
    rules.flatMap(({ key, broken }) => {
      const words = {
        choices: (name: string) => choices[name] ?? [],
        word: (name: string) => choices[name]?.[settings[name] ?? 0] ?? '',
      }
      return broken((name) => settings[name] ?? 0, words) === null ? [] : [key]
    })
  const sound = {
    'radio.lowGate': 1060,
    'radio.highGate': 1940,
    'motors.idle': 0.06,
    'motors.most': 1,
    'arm.throttleMost': 1060,
    'power.warnCell': 3.5,
    'power.lowCell': 3.3,
    'esc.signal': 4,
    'loop.rate': 2,
  }
  test('a sound board breaks none', () => {
    expect(broken(sound)).toEqual([])
    expect(judge('board.rules', {}, { board: { settings: sound, choices } }).verdict).toBe('pass')
  })
  test.each([
    ['altitudeSensor', { 'switch.altitude.channel': 6 }],
    ['positionSensor', { 'switch.position.channel': 6 }],
    ['headingSensor', { 'switch.heading.channel': 6 }],
    ['lossSensor', { 'loss.act': 2 }],
    ['outputTwice', { 'output.1.position': 3, 'output.4.position': 3 }],
    ['socketTwice', { 'socket.1.use': 1, 'socket.5.use': 1 }],
    ['signalPeriod', { 'esc.signal': 0 }],
    ['armingGate', { 'arm.throttleMost': 1040 }],
    ['armingHigh', { 'arm.throttleMost': 1940 }],
    ['idle', { 'motors.idle': 0.3, 'motors.most': 0.2 }],
    ['warnings', { 'power.lowCell': 3.6 }],
  ] as [string, Record<string, number>][])('%s', (key, wrong) => {
    expect(broken({ ...sound, ...wrong })).toEqual([key])
    const write = writes(judge('board.rules', {}, { board: { settings: { ...sound, ...wrong }, choices } }).at(key))
    // Where a remedy can be written, writing it repairs it.
    if (write !== undefined) expect(broken({ ...sound, ...wrong, ...write })).toEqual([])
  })
  test('gates that are not in order are broken whatever the arming gate is', () => {
    for (const most of [1000, 1060, 1100])
      expect(broken({ ...sound, 'radio.highGate': 1060, 'arm.throttleMost': most })).toContain('gates')
  })
  test('a board that does not say what its numbers mean is not judged by what another one means', () => {
    expect(judge('board.rules', {}, { board: { settings: sound } }).verdict).toBe('refused')
    const turned = { ...choices, 'loop.rate': [...(choices['loop.rate'] ?? [])].reverse() }
    const slowSignal = { ...sound, 'esc.signal': 0, 'loop.rate': 3 }
    expect(judge('board.rules', {}, { board: { settings: slowSignal, choices: turned } }).at('signalPeriod')?.value).toContain(
      '1000 us',
    )
  })
  test('replies on the same wire double a digital frame: DShot300 keeps 4 kHz with them, and 8 kHz only without', () => {
    const at = (rate: number, replies: number) => broken({ ...sound, 'loop.rate': rate, 'esc.replies': replies })
    expect([at(2, 1), at(3, 0), at(3, 1)]).toEqual([[], [], ['signalPeriod']])
  })
})

describe('sockets', () => {
  const listing = (use1: string, frames1: number, frames2: number, use4 = 'free'): Reports => {
    const at = (share: number) => [
      { socket: 1, use: use1, goodFrames: 100 + share * frames1 },
      { socket: 2, use: 'position', goodFrames: 7 + share * frames2 },
      { socket: 4, use: use4, goodFrames: 0 },
    ]
    return {
      sockets: [
        { t: 0, sockets: at(0) },
        { t: 1, sockets: at(1) },
      ],
    }
  }
  test('set as the sheet says, with frames arriving, they pass', () => {
    const found = judge('board.sockets', listing('receiver', 110, 5))
    expect(found.verdict).toBe('pass')
    expect(found.at('frames1')?.value).toBe(110)
  })
  test('a wrong use, and one where nothing should be, say what to write', () => {
    expect(writes(judge('board.sockets', listing('free', 0, 5), { board: { choices } }).at('socket1'))).toEqual({
      'socket.1.use': 1,
    })
    expect(
      writes(judge('board.sockets', listing('receiver', 110, 5, 'telemetry'), { board: { choices } }).at('socket4')),
    ).toEqual({
      'socket.4.use': 0,
    })
  })
  test('a silent one says which plug to look at; only what can be replaced is named as that', () => {
    const found = judge('board.sockets', listing('receiver', 0, 0))
    expect(found.at('frames1')?.remedy).toMatchObject({
      socket: 1,
      work: ['reseat plug', 'move plug', 'plug receiver lead', 'choose model', 'bind receiver', 'replace receiver'],
    })
    expect(found.at('frames2')?.remedy).toMatchObject({
      socket: 2,
      work: ['reseat plug', 'move plug', 'replace position receiver'],
    })
  })
  test('one listing proves nothing', () => {
    const [first] = listing('receiver', 1, 1).sockets ?? []
    expect(judge('board.sockets', first === undefined ? {} : { sockets: [first, first] }).verdict).toBe('refused')
  })
})

describe('sensors', () => {
  const all = (baro: object): Reports => ({
    sensors: [
      { name: 'imu', found: true, address: 0 },
      { name: 'baro', found: true, address: 0, ...baro },
      { name: 'compass', found: true, address: 0 },
      { name: 'position', found: true, address: 0 },
    ],
  })
  test('those of the sheet that answer pass; at the other address it is told, silent it is replaced', () => {
    expect(judge('board.sensors', all({})).verdict).toBe('pass')
    expect(writes(judge('board.sensors', all({ found: false, foundAt: 1 })).at('baro'))).toEqual({ 'baro.bus': 1 })
    expect(workOf(judge('board.sensors', all({ found: false })).at('baro'))).toEqual(['replace barometer'])
  })
  test('one that is switched off is switched on, never replaced: a new board comes so', () => {
    const found = judge('board.sensors', all({ found: false }), { board: { settings: { 'baro.use': 0 } } })
    expect(found.at('baro')).toMatchObject({ value: 'switched off', verdict: 'fail' })
    expect(writes(found.at('baro'))).toEqual({ 'baro.use': 1 })
  })
  test('one that the sheet does not have is not asked for', () => {
    const found = judge('board.sensors', all({ found: false }), { sheet: { ...sheet, fitted: ['compass', 'position'] } })
    expect(found.verdict).toBe('pass')
    expect(found.at('baro')).toBeUndefined()
  })
})

describe('loop', () => {
  const of = (rateHz: number, load: number, jitter: number, set = 2) =>
    judge('board.loop', { loop: { rateHz, load, jitter } }, { board: { settings: { 'loop.rate': set }, choices } })
  test('within its limits it passes, each beyond them fails for itself', () => {
    expect(of(4000, 0.5, 0.01).verdict).toBe('pass')
    expect(writes(of(4000, 0.71, 0.01).at('load'))).toEqual({ 'loop.rate': 1 })
    expect(of(3900, 0.5, 0.01).at('rate')?.verdict).toBe('fail')
    expect(workOf(of(4000, 0.5, 0.06).at('jitter'))).toEqual(['replace board'])
    expect(of(1000, 0.8, 0.01, 0).at('load')?.remedy).not.toHaveProperty('settings')
  })
})

describe('what is asked of a board', () => {
  /** A board with its barometer at the second address, and what was asked of it. */
  const run = (names: Parameters<typeof askReports>[0], bridged = true) => {
    const asked: LinkStep[] = []
    let bus = 0
    const steps = askReports(names)
    let answer: unknown
    for (;;) {
      const step = steps.next(answer as never)
      if (step.done === true) return { reports: step.value, asked, bus }
      asked.push(step.value)
      if (!('ask' in step.value)) continue
      if (step.value.ask === 'settings.write') bus = step.value.values['baro.bus'] ?? bus
      answer =
        step.value.ask === 'sensors.list'
          ? {
              sensors: [
                { name: 'baro', found: bridged && bus === 1, address: bus },
                { name: 'position', found: false, address: 0 },
              ],
            }
          : { sockets: [] }
    }
  }
  test('a silent sensor is tried at its other address, which is put back', () => {
    const { reports, bus } = run(['sensors'])
    expect(reports.sensors).toEqual([
      { name: 'baro', found: false, address: 0, foundAt: 1 },
      { name: 'position', found: false, address: 0 },
    ])
    expect(bus).toBe(0)
    expect(run(['sensors'], false).reports.sensors?.[0]).not.toHaveProperty('foundAt')
  })
  test('sockets are listed twice with a wait between', () => {
    const { asked, reports } = run(['sockets'])
    expect(asked.map((s) => ('ask' in s ? s.ask : 'wait'))).toEqual(['sockets.list', 'wait', 'sockets.list'])
    expect(reports.sockets?.map((s) => s.t)).toEqual([0, 1])
  })
})
