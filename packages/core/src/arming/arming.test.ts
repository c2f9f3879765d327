import type { Evidence, EvidenceEvent, EvidenceInput, Segment, SheetPart } from '@taraf/contract'
import { evidence as schema } from '@taraf/contract'
import fc from 'fast-check'
import { evaluate } from '../evaluate'
import { planOf } from '../plan'
import { arms } from './arms'
import { attempt, cameUp } from './attempt'
import { disarms } from './disarms'
import { guardsOf, triedFrom } from './guards'
import { idle } from './idle'
import { refuses } from './refuses'

const booms = ['front right', 'rear right', 'rear left', 'front left'].map((name, i) => ({
  name,
  bearingDeg: 45 + 90 * i,
  radiusM: 0.12,
  motors: [{ tier: 'only', output: i + 1, turn: i % 2 === 0 ? 'clockwise' : 'anticlockwise' }],
}))
const sheet = {
  geometry: { booms, body: { lengthM: 0.1, widthM: 0.1 }, propDiameterM: 0.12 },
  escs: { understands: ['DShot300'], settings: {} },
  switches: [{ name: 'A', channel: 5, positions: 2, atPowerUp: 1 }],
} as unknown as SheetPart
const settings = {
  'radio.throttle.channel': 3,
  'radio.yaw.channel': 4,
  'switch.arm.channel': 5,
  'switch.arm.low': 1700,
  'switch.arm.high': 2100,
  'arm.throttleMost': 1060,
  'arm.tiltMost': 25,
  'arm.idleOff': 10,
  'power.armCell': 3.4,
}

type Us = (t: number) => number
/** Frames at 100 Hz: throttle, yaw and the arm switch by time. */
const radio = (
  from: number,
  to: number,
  us: { throttle?: Us; yaw?: Us; arm?: Us },
  heard: (t: number) => boolean = () => true,
) => {
  const t = Array.from({ length: Math.round((to - from) * 100) }, (_, i) => from + i / 100).filter(heard)
  return {
    t,
    ch3: t.map(us.throttle ?? (() => 1000)),
    ch4: t.map(us.yaw ?? (() => 1500)),
    ch5: t.map(us.arm ?? (() => 1000)),
    quality: t.map(() => 1),
  }
}
/** Still, and leaning to its right, or with its nose up. */
const imu = (from: number, to: number, roll: Us, pitch: Us = () => 0) => {
  const t = Array.from({ length: Math.round((to - from) * 200) }, (_, i) => from + i / 200)
  const tremble = (i: number) => 0.01 * Math.sin(i * 1.7)
  const rad = (deg: number) => (deg * Math.PI) / 180
  const g = 9.80665
  return {
    stage: 'body' as const,
    t,
    ax: t.map((s, i) => g * Math.sin(rad(pitch(s))) + tremble(i)),
    ay: t.map((s, i) => -g * Math.sin(rad(roll(s))) * Math.cos(rad(pitch(s))) + tremble(i + 3)),
    az: t.map((s, i) => -g * Math.cos(rad(roll(s))) * Math.cos(rad(pitch(s))) + tremble(i + 7)),
    gx: t.map((s) => rad((roll(s + 0.01) - roll(s)) / 0.01)),
    gy: t.map((s) => rad((pitch(s + 0.01) - pitch(s)) / 0.01)),
    gz: t.map(() => 0),
  }
}
const meter = (from: number, to: number, volts: Us) => {
  const t = Array.from({ length: Math.round((to - from) * 20) }, (_, i) => from + i / 20)
  return { t, volts: t.map(volts), amps: t.map(() => 0.4), rail: t.map(() => 5) }
}
const gates = (t: number, ...reasons: string[]) => ({ t, what: 'gates', reasons }) as unknown as EvidenceEvent
const refusing = (t: number, ...reasons: string[]) => ({ t, what: 'refusing', reasons }) as unknown as EvidenceEvent
const event = (t: number, what: EvidenceEvent['what'], more: object = {}) => ({ t, what, ...more }) as EvidenceEvent
const step =
  (at: number, low = 1000, high = 2000): Us =>
  (t) =>
    t < at ? low : high

const document = (check: string, segments: unknown[], more: Partial<EvidenceInput> = {}, own: SheetPart = sheet): Evidence =>
  schema.parse({ format: 'taraf-evidence/1', check, sheet: own, board: { settings }, segments, ...more })

// A sound airframe, each guard brought to its edge and tried there.
const throttleTried = (gate = 1060) => ({
  label: 'throttle',
  streams: { radio: radio(0, 6, { throttle: (t) => 1000 + 40 * t, arm: step(5) }) },
  events: [gates(0), gates((gate - 1000) / 40, 'throttle'), refusing(5, 'throttle')],
})
const tiltTried = (way: string, limit = 25) => {
  const lean = (t: number) => Math.min(40, 8 * t)
  const of: Record<string, [Us, Us]> = {
    right: [lean, () => 0],
    left: [(t) => -lean(t), () => 0],
    'nose-up': [() => 0, lean],
    'nose-down': [() => 0, (t) => -lean(t)],
  }
  return {
    label: `tilt-${way}`,
    streams: { radio: radio(0, 6, { arm: step(5.5) }), imu: imu(0, 6, ...(of[way] as [Us, Us])) },
    events: [gates(0), gates(limit / 8, 'tilt'), refusing(5.5, 'tilt')],
  }
}
const sound = (): Segment[] =>
  [
    throttleTried(),
    ...['right', 'left', 'nose-up', 'nose-down'].map((way) => tiltTried(way)),
    {
      label: 'calibration',
      streams: { radio: radio(0, 3, { arm: step(2) }) },
      events: [gates(0, 'not calibrated'), refusing(2, 'not calibrated')],
    },
    {
      label: 'radio',
      streams: { radio: radio(100, 110, { arm: step(103) }, (t) => t < 102 || t > 105) },
      events: [
        gates(100),
        gates(102.3, 'no radio'),
        gates(105.1, 'switch on at power-up'),
        refusing(105.1, 'switch on at power-up'),
      ],
    },
    { label: 'powered-anew', streams: {}, events: [event(110, 'link', { link: 'lost' }), event(116, 'link', { link: 'up' })] },
    {
      label: 'power-up',
      streams: { radio: radio(8, 10, { arm: () => 2000 }) },
      events: [gates(8, 'switch on at power-up'), refusing(8.1, 'switch on at power-up')],
    },
    {
      label: 'battery',
      streams: { radio: radio(0, 12, { arm: step(11) }), meter: meter(0, 12, (t) => 16.4 - 0.3 * t) },
      events: [gates(0), gates((16.4 - 13.6) / 0.3, 'low battery'), refusing(11, 'low battery')],
    },
  ] as Segment[]
const found = (segments: unknown[], own?: SheetPart) => evaluate(refuses, document('arming.refuses', segments, {}, own))
const withOne = (label: string, change: object): unknown[] => sound().map((s) => (s.label === label ? { ...s, ...change } : s))
const wrong = (segments: unknown[]) => found(segments).findings.filter(({ verdict }) => verdict !== 'pass' && verdict !== 'shown')

describe('must refuse', () => {
  test('a sound one refuses each for its own reason, with its edges where they are set', () => {
    const { verdict, findings } = found(sound())
    expect({ verdict, wrong: wrong(sound()) }).toEqual({ verdict: 'pass', wrong: [] })
    const value = (key: string) => findings.find((f) => f.key === key)?.value as number
    expect(value('throttleGate')).toBeCloseTo(1060, 0)
    expect(value('tilt-leftGate')).toBeCloseTo(24.4, 0)
    expect(value('batteryGate')).toBeCloseTo(3.4, 1)
  })
  test('one that arms with throttle up, and one that never says so', () => {
    const armed = withOne('throttle', { events: [gates(0), gates(1.5, 'throttle'), event(5, 'armed')] })
    expect(wrong(armed)).toMatchObject([{ key: 'throttle', value: 'armed', verdict: 'fail' }])
    const never = withOne('throttle', { events: [gates(0)] })
    expect(wrong(never)).toMatchObject([
      { key: 'throttleGate', verdict: 'fail', value: expect.closeTo(1240, -1) as number, remedy: { by: 'technician' } },
    ])
    const high = document('arming.refuses', withOne('throttle', throttleTried(1160)), {
      board: { settings: { ...settings, 'arm.throttleMost': 1160 } },
    })
    expect(evaluate(refuses, high).findings.find((f) => f.key === 'throttleGate')).toMatchObject({
      verdict: 'fail',
      remedy: { settings: { 'arm.throttleMost': 1060 } },
    })
  })
  test('once what refused it is gone, it stays disarmed although its switch is still on', () => {
    const after = (us: Parameters<typeof radio>[2], events: EvidenceEvent[] = [gates(1)]) =>
      wrong([
        ...sound(),
        { label: 'throttle-down', streams: { radio: radio(0, 3, { throttle: step(1, 1300, 1000), ...us }) }, events },
      ])
    const on = () => 2000
    expect(after({ arm: on })).toEqual([])
    expect(after({ arm: on }, [gates(1), event(1.01, 'armed')])).toMatchObject([
      { key: 'throttleAfter', value: 'it arms by itself', verdict: 'fail' },
    ])
    expect(after({ arm: step(1.5, 2000, 1000) })).toMatchObject([{ verdict: 'refused' }])
    expect(after({ arm: on, throttle: () => 1300 })).toMatchObject([{ verdict: 'refused' }])
  })
  test('one that drives a motor while it refuses fails, in whichever step', () => {
    const driven = (label: string, share: Us) =>
      wrong(sound().map((s) => (s.label === label ? { ...s, streams: { ...s.streams, outputs: outputs(0, 6, share) } } : s)))
    expect(driven('throttle', () => 0)).toEqual([])
    expect(driven('throttle', (t) => (t > 3 && t < 3.1 ? 0.06 : 0))).toMatchObject([
      { key: 'account', value: expect.stringMatching(/driven though it is disarmed/) as string, verdict: 'fail' },
    ])
    expect(driven('battery', () => 0.02)).toMatchObject([{ key: 'account', verdict: 'fail' }])
  })
  test('where the sheet lets it arm at any tilt, none is tried: its setting is looked at', () => {
    const own = { ...sheet, settings: { 'arm.tiltMost': 180 } }
    expect(guardsOf(own).map(({ kind }) => kind)).not.toContain('tilt')
    const segments = sound().filter(({ label }) => !label.startsWith('tilt-'))
    const tiltIn = (set: number) =>
      evaluate(
        refuses,
        document('arming.refuses', segments, { board: { settings: { ...settings, 'arm.tiltMost': set } } }, own),
      ).findings.find(({ key }) => key === 'tilt')
    expect(tiltIn(180)).toMatchObject({ verdict: 'pass', value: 180 })
    expect(tiltIn(25)).toMatchObject({ verdict: 'fail', remedy: { settings: { 'arm.tiltMost': 180 } } })
  })
  test('one that armed before any frame came proves nothing of a throttle that nobody knows', () => {
    const deaf = withOne('throttle', { streams: { radio: radio(5.5, 6, {}) }, events: [gates(0), event(5, 'armed')] })
    expect(wrong(deaf)).toMatchObject([{ verdict: 'refused', value: expect.stringMatching(/no frame came before it/) as string }])
  })
  test('an edge elsewhere than it is set: another tilt, other volts than there are', () => {
    expect(wrong(withOne('tilt-right', tiltTried('right', 17)))).toMatchObject([{ key: 'tilt-rightOff', verdict: 'fail' }])
    const volts = { events: [gates(0), gates(2, 'low battery'), refusing(11, 'low battery')] }
    expect(wrong(withOne('battery', volts))).toMatchObject([{ key: 'batteryOff', verdict: 'fail' }])
  })
  test.each<[string, string, object, RegExp]>([
    [
      'another reason beside it',
      'calibration',
      { events: [gates(0), refusing(2, 'tilt', 'not calibrated')] },
      /refused for tilt/,
    ],
    [
      'another reason in place of it',
      'tilt-left',
      { events: [gates(0), gates(3, 'tilt'), refusing(5.5, 'throttle')] },
      /refused for throttle/,
    ],
    ['nobody tried', 'calibration', { events: [gates(0)] }, /nobody tried/],
    ['tilted before it began', 'tilt-left', { events: [gates(0, 'tilt'), refusing(5.5, 'tilt')] }, /not approached/],
    ['tilted the other way', 'tilt-left', tiltTried('right'), /leant -2/],
    ['armed level', 'tilt-left', { events: [gates(0), event(0.4, 'armed')] }, /armed, but it was tilted/],
    [
      'throttle raised in one go',
      'throttle',
      { streams: { radio: radio(0, 6, { throttle: step(1.5, 1000, 1400), arm: step(5) }) } },
      /too fast/,
    ],
    ['the transmitter left on', 'radio', { streams: { radio: radio(100, 110, { arm: step(103) }) } }, /was not switched off/],
    [
      'the board never without power',
      'power-up',
      { streams: { radio: radio(118, 120, { arm: () => 2000 }) }, events: [gates(118), refusing(118, 'switch on at power-up')] },
      /did not start again/,
    ],
  ])('%s proves nothing', (_name, label, change, why) => {
    const other = withOne(label, 'label' in change ? { ...change, label } : change)
    const refused = wrong(other).filter(({ verdict }) => verdict === 'refused')
    expect(refused).toHaveLength(1)
    expect(refused[0]?.value).toMatch(why)
  })
  test('on as power comes, and the board has nothing against it', () => {
    expect(wrong(withOne('power-up', { events: [gates(8)] }))).toMatchObject([{ key: 'power-up', verdict: 'fail' }])
    const back = { events: [gates(100), gates(102.3, 'no radio'), event(105.1, 'armed')] }
    expect(wrong(withOne('radio', back))).toMatchObject([{ key: 'radio', value: 'armed', verdict: 'fail' }])
  })
  test('what a sheet does not want is not tried, and what it wants more is', () => {
    const ids = (own: SheetPart['settings']) => guardsOf({ ...sheet, settings: own }).map(({ id }) => id)
    expect(ids({ 'arm.wantsCalibration': 0, 'power.armCell': 0, 'arm.way': 1 })).toEqual([
      'throttle',
      'tilt-right',
      'tilt-left',
      'tilt-nose-up',
      'tilt-nose-down',
      'radio',
    ])
    expect(ids({ 'arm.wantsFix': 1 })).toContain('fix')
    expect(planOf(refuses, sheet).length).toBeLessThan(20)
  })
  test('a step that is refused for another reason comes again, and says what to clear; one that arms has everything stand', () => {
    const [guard] = guardsOf(sheet)
    if (guard === undefined) throw new Error('no guard')
    const tried = triedFrom(guard, settings)
    expect(tried.offFirst).toEqual([{ channel: 5, low: 1700, high: 2100 }])
    const run = attempt(tried, 'throttle')
    expect(run.next().value).toMatchObject({ label: 'throttle', ask: guard.step.ask })
    const again = run.next({ segment: { label: 'throttle', streams: {}, events: [refusing(1, 'throttle', 'tilt')] } })
    expect((again.value as { ask: string }).ask).toMatch(/lay it level first/)
    const slip = attempt(tried, 'throttle')
    slip.next()
    slip.next({ segment: { label: 'throttle', streams: {}, events: [gates(0), event(1, 'armed')] } })
    expect((slip.next({}).value as { ask: string }).ask).toMatch(/^It armed: you were not told yet/)
    const stand = run.next({ segment: { label: 'throttle', streams: {}, events: [event(1, 'armed')] } })
    expect(stand.value).toMatchObject({ kind: 'state', state: { disarmed: true } })
  })
  test('an edge is found wherever it lies, to within a step of the hand', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1010, max: 1090 }), (gate) => {
        const own = { board: { settings: { ...settings, 'arm.throttleMost': gate } } }
        const { findings } = evaluate(refuses, document('arming.refuses', withOne('throttle', throttleTried(gate)), own))
        expect(Math.abs((findings.find((f) => f.key === 'throttleGate')?.value as number) - gate)).toBeLessThan(1)
      }),
      { numRuns: 30 },
    )
  })
  test('a reason that was there all the while came up at no moment', () => {
    expect(cameUp({ events: [gates(0, 'tilt'), gates(1), gates(2, 'tilt')] }, 'tilt')).toBe(2)
    expect(cameUp({ events: [gates(0, 'tilt'), gates(1, 'tilt', 'throttle')] }, 'tilt')).toBeNull()
  })
})

describe('must arm', () => {
  const armed = (events: EvidenceEvent[], arm: Us = step(2)) =>
    evaluate(arms, document('arming.arms', [{ label: 'arm', streams: { radio: radio(0, 4, { arm }) }, events }])).findings
  test('by its switch, at once', () => {
    expect(armed([gates(0), event(2.02, 'armed')])).toMatchObject([
      { key: 'armed', verdict: 'pass' },
      { key: 'took', value: expect.closeTo(0.02, 2) as number, verdict: 'pass' },
    ])
  })
  test('by itself, before its switch or with it on from the first: it fails', () => {
    expect(armed([event(1, 'armed')])).toMatchObject([{ key: 'armed', value: 'itself', verdict: 'fail' }])
    expect(armed([event(1, 'armed')], () => 2000)).toMatchObject([{ key: 'armed', value: 'itself', verdict: 'fail' }])
  })
  test('nothing turns before it is armed', () => {
    const told = (share: Us) =>
      evaluate(
        arms,
        document('arming.arms', [
          {
            label: 'arm',
            streams: { radio: radio(0, 4, { arm: step(2) }), outputs: outputs(0, 4, share) },
            events: [event(2.02, 'armed')],
          },
        ]),
      ).findings.find(({ key }) => key === 'account')
    expect(told((t) => (t < 2.02 ? 0 : 0.06))).toMatchObject({ verdict: 'pass' })
    expect(told((t) => (t < 1.5 ? 0 : 0.06))).toMatchObject({ verdict: 'fail' })
  })
  test('not at all, too late, refused, or never asked', () => {
    expect(armed([gates(0)])).toMatchObject([{ key: 'armed', value: 'nothing', verdict: 'fail' }])
    expect(armed([event(3.9, 'armed')])).toMatchObject([{ verdict: 'pass' }, { key: 'took', verdict: 'fail' }])
    expect(armed([refusing(2, 'not calibrated')])).toMatchObject([{ verdict: 'refused', remedy: { by: 'calibration' } }])
    expect(armed([gates(0)], () => 1000)).toMatchObject([{ verdict: 'refused' }])
  })
  test('by its sticks, where the sheet says so, and by nothing else', () => {
    const own = { ...sheet, settings: { 'arm.way': 1 } }
    const byYaw = (at: number, yaw: Us) =>
      evaluate(
        arms,
        document(
          'arming.arms',
          [{ label: 'arm', streams: { radio: radio(0, 4, { yaw }) }, events: [event(at, 'armed')] }],
          {},
          own,
        ),
      ).findings
    expect(byYaw(2.8, step(2, 1500, 2000))).toMatchObject([
      { key: 'armed', verdict: 'pass' },
      { key: 'took', verdict: 'pass' },
    ])
    expect(byYaw(2.8, () => 1500)).toMatchObject([{ key: 'armed', value: 'itself', verdict: 'fail' }])
  })
  test('its light is the one that its part lists', () => {
    const signals = [
      { by: 'light', shows: 'steady', means: 'armed', tells: 'armed' },
      { by: 'light', shows: 'blinks slowly', means: 'ready', tells: 'ready' },
    ]
    const own = { ...sheet, parts: [{ part: 'board', model: 'B', count: 1, signals }] } as SheetPart
    const segments = [{ label: 'arm', streams: { radio: radio(0, 4, { arm: step(2) }) }, events: [event(2, 'armed')] }]
    const seen = (answer: string) =>
      evaluate(arms, document('arming.arms', segments, { observations: [{ segment: 'said', item: 'armedLight', answer }] }, own))
    expect(seen('steady').verdict).toBe('pass')
    expect(seen('blinks slowly').verdict).toBe('fail')
    expect(seen('not seen').verdict).toBe('fail')
  })
})

const outputs = (from: number, to: number, share: Us) => {
  const t = Array.from({ length: Math.round((to - from) * 200) }, (_, i) => from + i / 200)
  const column = t.map(share)
  return { t, o1: column, o2: column, o3: column, o4: column, command: t.map(() => 0) }
}
const off = (label: string, cause: string, at: number, to: number, us: Parameters<typeof radio>[2], still = at) => ({
  label: `off-${label}`,
  streams: { radio: radio(10, to, us), outputs: outputs(10, to, (t) => (t < still ? 0.06 : 0)) },
  events: [event(at, 'disarmed', { cause })],
})
const armedFor = (label: string) => ({
  label: `arm-${label}`,
  streams: { radio: radio(8, 10, {}) },
  events: [event(10, 'armed')],
})
const ways = () => [
  armedFor('switch'),
  off('switch', 'switch', 12.02, 13, { arm: step(12, 2000, 1000) }),
  armedFor('sticks'),
  off('sticks', 'sticks', 12.8, 13.5, { yaw: step(12, 1500, 1000) }),
  armedFor('stop'),
  off('stop', 'stop all', 11, 12, {}),
  armedFor('idle'),
  off('idle', 'idle', 20, 20.5, {}),
]
const stopped = (label: string, change: object, set: Evidence['board']['settings'] = {}) => {
  const segments = ways().map((s) => (s.label === label ? { ...s, ...change } : s))
  const board = { settings: { ...settings, ...set } }
  return evaluate(disarms, document('arming.disarms', segments, { board })).findings.filter(({ verdict }) => verdict !== 'pass')
}

describe('must disarm', () => {
  test('every way there is, timed', () => {
    const { verdict, findings } = evaluate(disarms, document('arming.disarms', ways()))
    expect(verdict).toBe('pass')
    expect(findings.find((f) => f.key === 'idleTook')?.value).toBeCloseTo(10, 1)
    expect(findings.find((f) => f.key === 'sticksTook')?.value).toBeCloseTo(0.8, 1)
  })
  test('too late, not at all, and with outputs that go on', () => {
    const late = off('switch', 'switch', 12.6, 13.5, { arm: step(12, 2000, 1000) })
    expect(stopped('off-switch', late)).toMatchObject([{ key: 'switchTook', verdict: 'fail' }])
    const held = { ...off('sticks', '', 99, 18, { yaw: step(12, 1500, 1000) }), events: [] }
    expect(stopped('off-sticks', held)).toMatchObject([
      { key: 'sticks', value: 'it stays armed', remedy: { settings: { 'arm.sticksDisarm': 1 } } },
    ])
    const ever = { ...off('idle', '', 99, 46, {}), events: [] }
    expect(stopped('off-idle', ever)).toMatchObject([{ key: 'idle', value: 'it stays armed', verdict: 'fail' }])
    const driven = off('stop', 'stop all', 11, 12, {}, 99)
    expect(stopped('off-stop', driven)).toMatchObject([
      { key: 'stopOutputs', verdict: 'fail' },
      { key: 'stopAccount', value: expect.stringMatching(/driven though it is disarmed/) as string },
    ])
    const twice = off('switch', 'switch', 12.1, 13.5, { arm: step(12, 2000, 1000) })
    const again = { ...twice, events: [...twice.events, { t: 12.4, what: 'armed' as const }] }
    expect(stopped('off-switch', again)).toMatchObject([{ key: 'switchAccount', value: 'it arms by itself' }])
  })
  test('motors that stand while it is armed: as they are set to, by too low an idle, or for nothing', () => {
    const standing = off('stop', 'stop all', 11, 12, {}, 0)
    expect(stopped('off-stop', standing, { 'motors.turnWhenArmed': 0 })).toEqual([])
    expect(stopped('off-stop', standing, { 'motors.idle': 0.04 })).toMatchObject([
      { key: 'stopAccount', value: expect.stringMatching(/stands/) as string, remedy: { settings: { 'motors.idle': 0.06 } } },
    ])
    expect(stopped('off-stop', standing)).toMatchObject([{ key: 'stopAccount', remedy: { by: 'technician' } }])
  })
  describe('at flight throttle', () => {
    const up: Us = (t) => (t > 10.5 ? 1520 : 1000)
    const held: Us = (t) => (t > 11 && t < 13 ? 1000 : 1500)
    /** Yaw held over at flight throttle, and then the switch off at 14 s. */
    const flight = (at: number, cause: string, us: Parameters<typeof radio>[2] = {}) => ({
      ...off('switch', cause, at, 20, { throttle: up, yaw: held, arm: step(14, 2000, 1000), ...us }),
      label: 'off-flight',
    })
    const flown = (of: object, more: object = {}) => stopped('off-switch', { ...of, ...more })
    test('a stick of yaw changes nothing, and the switch stops it at once', () => {
      expect(flown(flight(14.02, 'switch'))).toEqual([])
      expect(flown(flight(11.8, 'sticks'))).toMatchObject([{ key: 'switchFlight', value: 'it disarms', verdict: 'fail' }])
      expect(flown(flight(19, 'switch'))).toMatchObject([{ key: 'switchTook', verdict: 'fail' }])
      // Stopped by hand after it went on for two seconds; stopped at once, nobody knows.
      expect(flown(flight(16, 'stop all'))).toMatchObject([{ key: 'switch', value: 'it stays armed', verdict: 'fail' }])
      expect(flown(flight(14.3, 'stop all'))).toMatchObject([{ verdict: 'refused' }])
      expect(flown(flight(99, ''), { events: [] })).toMatchObject([{ key: 'switch', value: 'it stays armed', verdict: 'fail' }])
    })
    test.each<[string, Parameters<typeof radio>[2], RegExp]>([
      ['yaw not held, or too shortly', { yaw: (t) => (t > 11 && t < 11.9 ? 1000 : 1500) }, /yaw was not held/],
      ['yaw held with throttle down', { throttle: step(13.5, 1000, 1520) }, /yaw was not held/],
      [
        'throttle down before the switch',
        { throttle: (t) => (t > 10.5 && t < 13.5 ? 1520 : 1000) },
        /throttle was not over the middle/,
      ],
    ])('%s proves nothing', (_words, us, why) => {
      expect(flown(flight(14.02, 'switch', us))).toMatchObject([
        { verdict: 'refused', value: expect.stringMatching(why) as string },
      ])
    })
  })
  test('by something else, or before anybody did it, proves nothing', () => {
    expect(stopped('off-switch', off('switch', 'idle', 20, 21, {}))).toMatchObject([
      { verdict: 'refused', value: expect.stringMatching(/idle/) as string },
    ])
    expect(stopped('off-switch', off('switch', 'switch', 12, 13, {}))).toMatchObject([{ verdict: 'refused' }])
    expect(stopped('arm-stop', { events: [refusing(10, 'tilt')] })).toMatchObject([{ verdict: 'refused' }])
  })
  test('the clock of its idle time begins with throttle down', () => {
    const later = off('idle', 'idle', 23, 23.5, { throttle: step(13, 1300, 1000) })
    expect(stopped('off-idle', later)).toEqual([])
    expect(stopped('off-idle', off('idle', 'idle', 23, 23.5, {}))).toMatchObject([{ key: 'idleOff', verdict: 'fail' }])
  })
  test('so soon that it would in a descent', () => {
    const segments = ways().map((s) => (s.label === 'off-idle' ? off('idle', 'idle', 13, 13.5, {}) : s))
    const board = { settings: { ...settings, 'arm.idleOff': 3 } }
    const found = (own: SheetPart) =>
      evaluate(disarms, document('arming.disarms', segments, { board }, own)).findings.filter(({ verdict }) => verdict !== 'pass')
    const wrong = { key: 'idleTook', verdict: 'fail', remedy: { settings: { 'arm.idleOff': 10 } } }
    expect(found(sheet)).toMatchObject([{ ...wrong, limit: { min: 5, max: 30 } }])
    expect(found({ ...sheet, settings: { ...sheet.settings, 'arm.idleOff': 10 } })).toMatchObject([
      { ...wrong, limit: { min: 9 } },
    ])
  })
})

describe('idle', () => {
  const escs = (rpm: (output: number, t: number) => number) => {
    const t = Array.from({ length: 200 }, (_, i) => 10 + i / 50)
    const columns = [1, 2, 3, 4].flatMap((o) => [
      [`rpm${o}`, t.map((s) => rpm(o, s))],
      [`err${o}`, t.map(() => 0)],
    ])
    return { t, ...Object.fromEntries(columns) }
  }
  const idled = (rpm: (output: number, t: number) => number, share = 0.06, own: SheetPart = sheet) =>
    evaluate(
      idle,
      document(
        'arming.idle',
        [
          { label: 'arm', streams: { radio: radio(8, 10, { arm: step(9) }) }, events: [event(9.1, 'armed')] },
          { label: 'idle', streams: { outputs: outputs(10, 14, () => share), escs: escs(rpm) } },
        ],
        {},
        own,
      ),
    ).findings.filter(({ verdict }) => verdict !== 'pass' && verdict !== 'shown')
  test('all turn alike', () => expect(idled((o) => 2100 + 10 * o)).toEqual([]))
  test('one stands, one hunts, one lags', () => {
    expect(idled((o) => (o === 2 ? 0 : 2100))).toMatchObject([{ key: 'idle2', remedy: { outputs: [2] } }])
    expect(idled((o, t) => (o === 3 ? 2100 + 400 * Math.sin(9 * t) : 2100))).toMatchObject([{ key: 'swing3' }])
    expect(idled((o) => (o === 4 ? 1500 : 2100))).toMatchObject([{ key: 'spread' }])
  })
  test('they stand where they must turn, and turn where they must stand', () => {
    expect(idled(() => 0, 0)).toMatchObject([{ key: 'effect', remedy: { settings: { 'motors.turnWhenArmed': 1 } } }])
    const stands = { ...sheet, settings: { 'motors.turnWhenArmed': 0 } }
    expect(idled(() => 2100, 0.06, stands)).toMatchObject([
      { key: 'effect' },
      { key: 'idle1' },
      { key: 'idle2' },
      { key: 'idle3' },
      { key: 'idle4' },
    ])
    expect(idled(() => 0, 0, stands)).toEqual([])
  })
})
