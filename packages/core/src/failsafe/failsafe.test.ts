import type { Evidence, EvidenceEvent, EvidenceInput, SheetPart, Want } from '@taraf/contract'
import { evidence as schema } from '@taraf/contract'
import fc from 'fast-check'
import type { Check } from '../check'
import { evaluate } from '../evaluate'
import { planOf } from '../plan'
import { modeName } from '../switches/modeName'
import { armedUnder } from '../take'
import { bySwitch } from './bySwitch'
import { lossesOf } from './losses'
import { modeIn } from './phases'
import { response } from './response'

const booms = ['front right', 'rear right', 'rear left', 'front left'].map((name, i) => ({
  name,
  bearingDeg: 45 + 90 * i,
  radiusM: 0.12,
  motors: [{ tier: 'only', output: i + 1, turn: i % 2 === 0 ? 'clockwise' : 'anticlockwise' }],
}))
const withModes = (...modes: string[]) =>
  ({
    geometry: { booms, body: { lengthM: 0.1, widthM: 0.1 }, propDiameterM: 0.12 },
    escs: { understands: ['DShot300'], settings: {} },
    rotor: { hover: 0.4 },
    switches: [{ name: 'A', channel: 5, positions: 2, atPowerUp: 1 }],
    switchPlan: [
      { function: 'arm', channel: 5, from: 1700, to: 2100 },
      ...modes.map((mode, i) => ({ function: mode, channel: 6, from: 900 + 300 * i, to: 1150 + 300 * i })),
    ],
  }) as unknown as SheetPart
const sheet = withModes('selfLevel', 'rate')
const settings = {
  'radio.throttle.channel': 3,
  'switch.arm.channel': 5,
  'switch.arm.low': 1700,
  'switch.arm.high': 2100,
  'loss.act': 1,
  'loss.throttle': 0.35,
  'loss.notice': 300,
  'loss.wait': 700,
  'loss.back': 400,
  'loss.end': 2,
}
const choices = { 'loss.act': ['cut', 'descend', 'return home'] }

interface Lost {
  readonly gone: number
  readonly back: number
  readonly notice: number
  readonly wait: number
  readonly recovers: number
  readonly before: number
  readonly during: number
  readonly throttle: number
  readonly mode: string
  readonly actMode: string
  readonly label: string
  /** How long it acts until it disarms itself, s. */
  readonly ends: number
  readonly more: readonly EvidenceEvent[]
  /** What the outputs do as the sticks count again, over what they did. */
  readonly jump: number
  /** An output that is told nothing; 0: none, Infinity: all, while it acts. */
  readonly stands: number
  /** For how long it acts before its command goes to idle, s. */
  readonly holdsFor: number
}
const usual: Lost = {
  gone: 2,
  back: 6,
  notice: 0.3,
  wait: 0.7,
  recovers: 0.4,
  before: 0.52,
  during: 0.35,
  throttle: 1520,
  mode: 'selfLevel',
  actMode: 'selfLevel',
  label: 'half-selfLevel',
  ends: Infinity,
  more: [],
  jump: 0,
  stands: 0,
  holdsFor: Infinity,
}
const loss = (t: number, phase: string) => ({ t, what: 'loss', phase }) as EvidenceEvent
const mode = (t: number, name: string) => ({ t, what: 'mode', mode: name }) as EvidenceEvent
const event = (t: number, what: EvidenceEvent['what'], more: object = {}) => ({ t, what, ...more }) as EvidenceEvent

/** One loss, by closed forms: frames at 100 Hz, outputs at 200 Hz, and what a board tells. */
const lost = (change: Partial<Lost> = {}) => {
  const l = { ...usual, ...change }
  const wait = l.gone + l.notice
  const act = wait + l.wait
  const end = act + l.ends
  const none = l.back + l.recovers
  const last = none + 1
  const frames = Array.from({ length: Math.round(last * 100) }, (_, i) => i / 100).filter(
    (t) => t <= l.gone + 1e-9 || t >= l.back - 1e-9,
  )
  const t = Array.from({ length: Math.round(last * 200) }, (_, i) => i / 200)
  const acted = (s: number) => (s >= act + l.holdsFor ? 0.05 : l.during)
  const command = t.map((s) => (s >= end ? 0 : s >= act && s < l.back ? acted(s) : l.before))
  const isTold = (s: number) => l.stands !== Infinity || s < act || s >= l.back
  const outputs = command.map((share, i) => {
    const s = t[i] as number
    return share === 0 || !isTold(s) ? 0 : Math.min(1, share + (s >= none ? l.jump : 0))
  })
  const events = [
    mode(0, l.mode),
    loss(l.gone + 0.1, 'notice'),
    ...(wait < l.back ? [loss(wait, 'wait')] : []),
    ...(act < l.back ? [loss(act, 'act')] : []),
    ...(l.actMode === l.mode ? [] : [mode(act, l.actMode)]),
    ...(end < l.back ? [loss(end, 'end'), event(end, 'disarmed', { cause: 'failsafe' })] : []),
    loss(l.back, 'recover'),
    loss(none, 'none'),
    ...l.more,
  ].sort((a, b) => a.t - b.t)
  return {
    label: l.label,
    streams: {
      radio: { t: frames, ch3: frames.map(() => l.throttle), quality: frames.map(() => 1) },
      outputs: {
        t,
        ...Object.fromEntries([1, 2, 3, 4].map((o) => [`o${o}`, o === l.stands ? t.map(() => 0) : outputs])),
        command,
      },
    },
    events,
  }
}
const armed = (label: string) => ({ label, streams: {}, events: [event(3, 'armed')] })
const whole = (change: Record<string, Partial<Lost>> = {}) => [
  armed('arm-half-selfLevel'),
  lost(change['half-selfLevel']),
  armed('arm-half-rate'),
  lost({ label: 'half-rate', mode: 'rate', ...change['half-rate'] }),
  armed('arm-idle'),
  lost({ label: 'idle', throttle: 1000, before: 0.06, ends: 6, back: 10, ...change['idle'] }),
  lost({ label: 'disarmed', before: 0, during: 0, ...change['disarmed'] }),
]
const document = (segments: unknown[], more: Partial<EvidenceInput> = {}, own: SheetPart = sheet): Evidence =>
  schema.parse({ format: 'taraf-evidence/1', check: response.id, sheet: own, board: { settings, choices }, segments, ...more })
const found = (change: Record<string, Partial<Lost>> = {}) => {
  const { verdict, findings } = evaluate(response, document(whole(change)))
  return { verdict, findings, of: (key: string) => findings.find((f) => f.key === key) }
}

describe('the plan of losses', () => {
  test('proves every class once, with the fewest', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.constantFrom('rate', 'selfLevel', 'altitude', 'position', 'returnHome', 'blend')),
        (modes) => {
          const losses = lossesOf(withModes(...modes))
          const wanted = modes.length === 0 ? ['rate'] : modes
          expect(losses.filter(({ from }) => from === 'half').map((l) => l.mode)).toEqual(wanted)
          for (const from of ['half', 'idle', 'disarmed']) expect(losses.some((l) => l.from === from)).toBe(true)
          for (const by of ['transmitter', 'receiver lead']) expect(losses.some((l) => l.by === by)).toBe(true)
          expect(new Set(losses.map(({ id }) => id)).size).toBe(losses.length)
          // Each mode, idle and disarmed are classes of their own: fewer cannot do.
          expect(losses).toHaveLength(wanted.length + 2)
        },
      ),
    )
  })
  test('arms before each loss but the one that is disarmed, and ends without the battery', () => {
    expect(planOf(response, sheet).map(({ label }) => label)).toEqual([
      'ready',
      'arm-half-selfLevel',
      'half-selfLevel',
      'arm-half-rate',
      'half-rate',
      'arm-idle',
      'idle',
      'disarmed',
      'failsafe-done',
    ])
  })
  test('waits for a fix under open sky before a mode that is never in force without one, and before no other', () => {
    const own = withModes('selfLevel', 'returnHome')
    const beforeArming = (check: Check) =>
      planOf(check, own).flatMap(({ label }) => (/^(disarm|sky|arm)-/.test(label) ? [label] : []))
    expect(beforeArming(response)).toEqual([
      'arm-half-selfLevel',
      ...['disarm-arm-half-returnHome', 'sky-arm-half-returnHome', 'arm-half-returnHome'],
      'arm-idle',
    ])
    // Armed once for all modes.
    expect(beforeArming(bySwitch)).toEqual(['disarm-arm-switch-on', 'sky-arm-switch-on', 'arm-switch-on'])
    // Nobody carries what may be armed.
    const sky = planOf(response, own).find(({ label }) => label.startsWith('sky-'))
    expect(sky).toMatchObject({ kind: 'capture', state: { battery: true, disarmed: true } })
    expect(armedUnder(sky as Want)).toBeNull()
  })
  test('is refused with what to do where no fix came', () => {
    const t = Array.from({ length: 1_500 }, (_, i) => i / 5)
    const none = t.map(() => 0)
    const fix = { t, fixed: none, satellites: none, dilution: t.map(() => 20) }
    const segments = [{ label: 'sky-arm-switch-on', streams: { fix }, events: [] }]
    const own = withModes('selfLevel', 'returnHome', 'failsafe')
    const { verdict, findings } = evaluate(bySwitch, document(segments, { check: bySwitch.id }, own))
    expect(verdict).toBe('refused')
    expect(findings[0]?.value).toBe('it had no fix under open sky')
  })
})

describe('a loss of signal', () => {
  test('of a sound board passes, and its phases are those of the settings', () => {
    const { verdict, of } = found({ 'half-rate': { actMode: 'selfLevel' } })
    expect(verdict).toBe('pass')
    expect(of('half-selfLevel.notice')?.value).toBeCloseTo(0.3, 6)
    expect(of('half-selfLevel.wait')?.value).toBeCloseTo(0.7, 6)
    expect(of('half-selfLevel.command')?.value).toBeCloseTo(-5, 6)
    expect(of('half-selfLevel.back')?.value).toBeCloseTo(0.4, 6)
    expect(of('half-rate.mode')).toMatchObject({ value: 'self-level', verdict: 'pass' })
    expect(of('idle.end')).toMatchObject({ value: 'disarmed' })
    expect(of('idle.after')).toMatchObject({ value: 'all stand' })
    expect(of('disarmed.outputs')).toMatchObject({ value: 'at zero' })
  })

  const good = { 'half-rate': { actMode: 'selfLevel' } }
  test.each<[string, Record<string, Partial<Lost>>, string, object]>([
    ['noticed late', { 'half-selfLevel': { notice: 1.4 } }, 'half-selfLevel.notice', { 'loss.notice': 300 }],
    ['acted on late', { 'half-selfLevel': { wait: 2.5 } }, 'half-selfLevel.wait', { 'loss.wait': 700 }],
    ['above hover', { 'half-selfLevel': { during: 0.42 } }, 'half-selfLevel.command', { 'loss.throttle': 0.36 }],
    ['at idle in the air', { 'half-selfLevel': { during: 0.06 } }, 'half-selfLevel.command', { 'loss.throttle': 0.36 }],
    ['in the mode of the sticks alone', { 'half-rate': { actMode: 'rate' } }, 'half-rate.mode', { 'loss.levels': 1 }],
    ['given back late', { 'half-selfLevel': { recovers: 1.3 } }, 'half-selfLevel.back', { 'loss.back': 400 }],
  ])('%s fails, with what mends it', (_how, change, key, write) => {
    const own = { ...settings, 'loss.notice': 1400, 'loss.wait': 2500, 'loss.throttle': 0.6, 'loss.back': 1300, 'loss.levels': 0 }
    const { findings } = evaluate(response, document(whole({ ...good, ...change }), { board: { settings: own, choices } }))
    const wrong = findings.filter(({ verdict }) => verdict === 'fail')
    expect(wrong).toMatchObject([{ key, remedy: { by: 'settings', settings: write } }])
  })
  test('a jump as the sticks count again, a board that stays armed, motors that start, outputs of a disarmed board', () => {
    expect(found({ ...good, 'half-selfLevel': { jump: 0.2 } }).of('half-selfLevel.jump')).toMatchObject({ verdict: 'fail' })
    expect(found({ ...good, idle: { ends: 30 } }).of('idle.end')).toMatchObject({ value: 'stays armed', verdict: 'fail' })
    expect(found({ ...good, idle: { more: [event(10.6, 'armed')] } }).of('idle.after')).toMatchObject({ value: 'motors start' })
    expect(found({ ...good, disarmed: { during: 0.1 } }).of('disarmed.outputs')).toMatchObject({ verdict: 'fail' })
  })
  test('one output that is told nothing while the others turn is named, whatever the collective', () => {
    const { findings } = found({ ...good, 'half-selfLevel': { stands: 3 } })
    expect(findings.filter(({ verdict }) => verdict === 'fail')).toMatchObject([
      { key: 'half-selfLevel.outputs', value: 'output 3 stands' },
      { key: 'half-selfLevel.account', value: 'output 3 stands for 7.4 s' },
    ])
  })
  const holding = (change: Partial<Lost>, hover?: number) => {
    const own = withModes('altitude')
    const altitude = { mode: 'altitude', actMode: 'altitude' }
    const segments = [
      armed('arm-half-altitude'),
      lost({ label: 'half-altitude', ...altitude, ...change }),
      armed('arm-idle'),
      lost({ label: 'idle', throttle: 1000, ...altitude, ends: 6, back: 10 }),
      lost({ label: 'disarmed', before: 0, during: 0 }),
    ]
    const board = { settings: { ...settings, ...(hover === undefined ? {} : { 'rotor.hover': hover }) }, choices }
    const { verdict, findings } = evaluate(response, document(segments, { board }, own))
    return { verdict, of: (key: string) => findings.find((f) => f.key === `half-altitude.${key}`) }
  }
  test('where height is held the command is shown and not judged, unless it lets it fall', () => {
    const sound = holding({ during: 0.5 })
    expect(sound.verdict).toBe('pass')
    expect(sound.of('command')).toMatchObject({ verdict: 'shown' })
    for (const during of [0, 0.06, 0.19]) {
      const told = holding({ during }, 0.05)
      expect(told.verdict).toBe('fail')
      expect(told.of('lift')).toMatchObject({ value: 'falls for 3.0 s', remedy: { settings: { 'rotor.hover': 0.4 } } })
      expect(holding({ during }, 0.4).of('lift')).toMatchObject({ verdict: 'fail', remedy: { by: 'technician' } })
    }
  })
  test('one that falls for a second of its act fails, whatever its middle and whatever the collective says', () => {
    for (const change of [{ holdsFor: 1.9 }, { stands: Infinity }]) {
      const { verdict, of } = found({ ...good, 'half-selfLevel': change })
      expect(verdict).toBe('fail')
      expect(of('half-selfLevel.account')).toMatchObject({ verdict: 'fail' })
    }
    // What lasts for less than a fall is judged by its worst stretch all the same.
    expect(found({ ...good, 'half-selfLevel': { holdsFor: 2.5 } }).of('half-selfLevel.command')).toMatchObject({
      verdict: 'fail',
    })
  })

  test('a board that stops its motors after two seconds is set to act for longer, unless the sheet has it so', () => {
    const short = { ...good, idle: { ends: 2, back: 6 } }
    expect(found(short).of('idle.lasts')).toMatchObject({ verdict: 'fail', remedy: { settings: { 'loss.end': 8 } } })
    const own = { ...sheet, settings: { 'loss.end': 2 } } as SheetPart
    const told = evaluate(response, document(whole(short), {}, own)).findings.find(({ key }) => key === 'idle.lasts')
    expect(told?.remedy).toMatchObject({ by: 'technician', act: expect.stringContaining('The build sheet') as unknown })
  })

  test.each<[string, Record<string, Partial<Lost>>, RegExp]>([
    ['throttle down', { 'half-selfLevel': { throttle: 1010 } }, /1010 us as the signal went/],
    ['throttle up where it was to idle', { idle: { throttle: 1500 } }, /not down/],
    ['another mode', { 'half-rate': { mode: 'selfLevel' } }, /in mode self-level/],
    ['the signal back too soon', { 'half-selfLevel': { back: 2.9, wait: 30 } }, /came back before the board acted/],
    ['the signal back before its end', { idle: { ends: 30, back: 4.5 } }, /came back before its end/],
    ['left to its end in flight', { 'half-selfLevel': { ends: 2 } }, /came to its end before/],
    ['no loss at all', { 'half-selfLevel': { back: 2.1 } }, /never went/],
    [
      'somebody who disarms it',
      { 'half-selfLevel': { more: [event(4, 'disarmed', { cause: 'switch' })] } },
      /somebody disarmed it/,
    ],
    [
      'disarmed before',
      { 'half-selfLevel': { more: [event(1, 'disarmed', { cause: 'switch' })] } },
      /disarmed before the signal went/,
    ],
    ['armed where it was to be disarmed', { disarmed: { more: [event(1, 'armed')] } }, /it was armed/],
  ])('with %s it proves nothing', (_what, change, why) => {
    const { verdict, findings } = found({ ...good, ...change })
    expect(verdict).toBe('refused')
    expect(findings[0]?.value).toMatch(why)
  })
  test('one that was not armed, or was left out, proves nothing', () => {
    const refusing = { label: 'arm-idle', streams: {}, events: [event(1, 'refusing', { reasons: ['tilt'] })] }
    const without = whole(good).map((s) => (s.label === 'arm-idle' ? refusing : s))
    expect(evaluate(response, document(without)).findings).toMatchObject([{ value: 'the board refused to arm: tilt' }])
    const short = whole(good).filter(({ label }) => label !== 'idle')
    expect(evaluate(response, document(short)).findings).toMatchObject([
      { value: expect.stringMatching(/From idle: it was not tried/) as unknown },
    ])
  })
  test('a board that never acts fails: nothing else came of it', () => {
    const segments = whole(good).map((s) =>
      s.label === 'half-selfLevel'
        ? {
            ...s,
            events: s.events.filter(
              (e) => e.what !== 'loss' || !['act', 'recover'].includes((e as { phase?: string }).phase ?? ''),
            ),
          }
        : s,
    )
    const { findings } = evaluate(response, document(segments))
    expect(findings.find(({ key }) => key === 'half-selfLevel.wait')).toMatchObject({ value: 'never', verdict: 'fail' })
  })

  test('labelled freely, it is judged by what is said of it', () => {
    const segment = lost({ label: 'third try', mode: 'rate', actMode: 'selfLevel', throttle: 1200 })
    const said = { segment: 'third try', loss: 'transmitter', throttle: 'half', mode: 'rate', hover: 0.39 }
    const { verdict, findings } = evaluate(response, document([segment], { observations: [said] }, {}))
    expect(verdict).toBe('pass')
    expect(findings.find(({ key }) => key === 'third try.command')?.value).toBeCloseTo(-4, 6)
  })

  test('whatever the times, the phases are found within a frame and the mode is told; above hover, or at idle where height is held, it never passes', () => {
    const time = (min: number, max: number) => fc.double({ min, max, noNaN: true })
    fc.assert(
      fc.property(
        time(0.15, 1.5),
        time(0, 2.5),
        time(0.1, 1.5),
        fc.oneof(time(0, 0.9), time(0.325, 0.375)),
        fc.constantFrom('selfLevel', 'rate', 'altitude', 'position', 'returnHome'),
        (notice, wait, recovers, during, actMode) => {
          const back = 2 + notice + wait + 1.5
          const { of, verdict } = found({ ...good, 'half-selfLevel': { notice, wait, recovers, during, back, actMode } })
          const near = (key: string, value: number) =>
            expect(Math.abs(Number(of(`half-selfLevel.${key}`)?.value) - value)).toBeLessThan(0.011)
          near('notice', notice)
          near('wait', wait)
          near('back', recovers)
          expect(of('half-selfLevel.mode')?.value).toBe(modeName(actMode))
          const holds = actMode !== 'selfLevel' && actMode !== 'rate'
          const inTime = notice <= 0.99 && wait <= 1.99 && recovers <= 0.99
          const isHeldUp = holds ? during > 0.21 : during > 0.321 && during < 0.379
          if (inTime && isHeldUp && actMode !== 'rate') expect(verdict).toBe('pass')
          if (actMode === 'rate' || during <= 0.06 || (!holds && during >= 0.4)) expect(verdict).toBe('fail')
        },
      ),
      { numRuns: 120 },
    )
  })
  test('the mode that was longest in force counts', () => {
    const told = [mode(0, 'selfLevel'), mode(2, 'rate'), mode(2.1, 'selfLevel')]
    expect(modeIn(told, 'rate', 1, 4)).toBe('selfLevel')
    expect(modeIn([mode(2, 'selfLevel')], 'rate', 1, 4)).toBe('selfLevel')
    expect(modeIn([mode(3.9, 'selfLevel')], 'rate', 1, 4)).toBe('rate')
  })
})
