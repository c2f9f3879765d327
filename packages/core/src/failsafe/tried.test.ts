import type { Evidence, EvidenceEvent, EvidenceInput, SheetPart } from '@taraf/contract'
import { evidence as schema } from '@taraf/contract'
import fc from 'fast-check'
import type { Check } from '../check'
import { evaluate } from '../evaluate'
import { bySwitch } from './bySwitch'
import { finalForm, seenAlone } from './finalForm'
import { levels } from './levels'
import { motorCut } from './motorCut'
import { waits } from './waits'

// A quad in X. Common practice: right-hand motors push up a right side that is down, rear ones a tail that is low; a roll to the right is
// made by the left ones, pitch forward by the rear ones, a turn of the nose to the right by the props that turn anticlockwise.
const booms = ['front right', 'rear right', 'rear left', 'front left'].map((name, i) => ({
  name,
  bearingDeg: 45 + 90 * i,
  radiusM: 0.12,
  motors: [{ tier: 'only', output: i + 1, turn: i % 2 === 0 ? 'clockwise' : 'anticlockwise' }],
}))
const sheet = {
  geometry: { booms, body: { lengthM: 0.1, widthM: 0.1 }, propDiameterM: 0.12 },
  escs: { understands: ['DShot300'], settings: {} },
  rotor: { hover: 0.4 },
  switches: [{ name: 'A', channel: 5, positions: 2, atPowerUp: 1 }],
  switchPlan: [
    { function: 'arm', channel: 5, from: 1700, to: 2100 },
    { function: 'selfLevel', channel: 6, from: 900, to: 1200 },
    { function: 'rate', channel: 6, from: 1700, to: 2100 },
    { function: 'failsafe', channel: 8, from: 1700, to: 2100 },
  ],
} as unknown as SheetPart
const band = (name: string, channel: number, low: number, high: number) => ({
  [`switch.${name}.channel`]: channel,
  [`switch.${name}.low`]: low,
  [`switch.${name}.high`]: high,
})
const settings = {
  'radio.roll.channel': 1,
  'radio.pitch.channel': 2,
  'radio.throttle.channel': 3,
  'radio.yaw.channel': 4,
  ...band('arm', 5, 1700, 2100),
  ...band('selfLevel', 6, 900, 1200),
  ...band('rate', 6, 1700, 2100),
  ...band('failsafe', 8, 1700, 2100),
  'loss.throttle': 0.36,
  'loss.levels': 0,
  'loss.hold': 0,
  'loss.throttleCuts': 1,
  'motors.turnWhenArmed': 1,
}
type Axes = readonly [roll: number, pitch: number, yaw: number]
/** What each motor is asked for about each axis, by the rules above. */
const mix: readonly Axes[] = [
  [-1, 1, -1],
  [-1, -1, 1],
  [1, -1, -1],
  [1, 1, 1],
]
const event = (t: number, what: EvidenceEvent['what'], more: object = {}) => ({ t, what, ...more }) as EvidenceEvent
const phase = (t: number, name: string) => event(t, 'loss', { phase: name })

interface Step {
  readonly label: string
  /** When the signal goes and comes back, s; null where it stays. */
  readonly gap: readonly [from: number, to: number] | null
  readonly lastS?: number
  readonly command: (t: number) => number
  readonly push?: (t: number) => Axes
  readonly channels?: Readonly<Record<string, (t: number) => number>>
  readonly events: readonly EvidenceEvent[]
  /** How it leans, deg. */
  readonly lean?: (t: number) => readonly [roll: number, pitch: number]
}
const at = (n: number, rate: number) => Array.from({ length: Math.round(n * rate) }, (_, i) => i / rate)
const made = ({ label, gap, lastS = 8, command, push = () => [0, 0, 0], channels = {}, events, lean }: Step) => {
  const t = at(lastS, 200)
  const frames = at(lastS, 100).filter((s) => gap === null || s <= gap[0] + 1e-9 || s >= gap[1] - 1e-9)
  const share = (s: number, o: number) =>
    command(s) < 0 ? 0 : Math.max(0.05, 0.05 + command(s) + push(s).reduce((sum, p, axis) => sum + p * (mix[o]?.[axis] ?? 0), 0))
  const g = 9.81
  const rad = Math.PI / 180
  // A sensor is never without noise.
  const trembles = (i: number) => 0.01 * Math.sin(i * 12.9898) * Math.cos(i * 4.1414)
  const column = (of: (roll: number, pitch: number) => number) =>
    t.map((s, i) => of(...((lean?.(s) ?? [0, 0]).map((deg) => deg * rad) as [number, number])) + trembles(i))
  return {
    label,
    streams: {
      radio: {
        t: frames,
        ...Object.fromEntries(
          [1, 2, 3, 4, 5, 6, 7, 8].map((c) => [`ch${c}`, frames.map((s) => channels[`ch${c}`]?.(s) ?? (c === 3 ? 1520 : 1500))]),
        ),
        quality: frames.map(() => 1),
      },
      outputs: {
        t,
        ...Object.fromEntries([1, 2, 3, 4].map((o) => [`o${o}`, t.map((s) => share(s, o - 1))])),
        command: t.map((s) => Math.max(0, command(s))),
      },
      ...(lean === undefined
        ? {}
        : {
            attitude: {
              t,
              roll: column((roll) => roll),
              pitch: column((_, pitch) => pitch),
              yaw: t.map((_, i) => trembles(i + 3)),
            },
            imu: {
              stage: 'body',
              t,
              ax: column((_, pitch) => g * Math.sin(pitch)),
              ay: column((roll, pitch) => -g * Math.cos(pitch) * Math.sin(roll)),
              az: column((roll, pitch) => -g * Math.cos(pitch) * Math.cos(roll)),
              gx: t.map((_, i) => trembles(i + 7)),
              gy: t.map((_, i) => trembles(i + 13)),
              gz: t.map((_, i) => trembles(i + 29)),
            },
          }),
    },
    events: [...events].sort((a, b) => a.t - b.t),
  }
}
const armed = (label: string) => ({ label, streams: {}, events: [event(3, 'armed')] })
const judge = (check: Check, segments: unknown[], more: Partial<EvidenceInput> = {}) => {
  const document: Evidence = schema.parse({
    format: 'taraf-evidence/1',
    check: check.id,
    sheet,
    board: { settings },
    segments,
    ...more,
  } as EvidenceInput)
  const { verdict, findings } = evaluate(check, document)
  const of = (key: string) => findings.find((f) => f.key === key)
  return { verdict, findings, of, refused: findings.find((f) => f.verdict === 'refused')?.value }
}

/** A loss as a board tells it: the times of its phases, from when the signal goes and comes back. */
const lossOf = (gap: readonly [number, number], { notice = 0.3, wait = 0.7, back = 0.4 } = {}) => {
  const act = gap[0] + notice + wait
  return {
    act,
    wait: gap[0] + notice,
    none: gap[1] + back,
    events: [
      phase(gap[0] + 0.1, 'notice'),
      ...(gap[0] + notice < gap[1] ? [phase(gap[0] + notice, 'wait')] : []),
      ...(act < gap[1] ? [phase(act, 'act')] : []),
      phase(gap[1], 'recover'),
      phase(gap[1] + back, 'none'),
    ],
  }
}
const gap = [3, 6] as const
const { act, wait, events: phases } = lossOf(gap)

describe('levels itself', () => {
  interface Tilted {
    readonly push: (t: number, back: Axes) => Axes
    readonly lean: (t: number, deg: number) => number
    readonly up: number
    readonly mode: string
  }
  const usual: Tilted = { push: (t, back) => (t >= act ? back : [0, 0, 0]), lean: (_, deg) => deg, up: 1.5, mode: 'rate' }
  const tilted = (label: string, lean: readonly [number, number], against: Axes, change: Partial<Tilted> = {}) => {
    const { push, lean: leans, up, mode } = { ...usual, ...change }
    return made({
      label,
      gap,
      command: (t) => (t < up ? 0 : t < act || t >= gap[1] ? 0.52 : 0.36),
      push: (t) => push(t, against),
      lean: (t) => lean.map((deg) => leans(t, deg)) as [number, number],
      events: [event(0, 'mode', { mode }), event(act, 'mode', { mode: 'selfLevel' }), ...phases],
    })
  }
  // Right side down is pushed back by the right-hand motors, a nose that is up by the rear ones.
  const both = (change: Partial<Tilted> = {}) => [
    armed('arm-held'),
    tilted('held-right-down', [20, 0], [-0.08, 0, 0], change),
    tilted('held-nose-up', [0, 20], [0, -0.08, 0], change),
  ]

  test('the side that is down is pushed up, and the tail under a raised nose', () => {
    const { verdict, of } = judge(levels, both())
    expect([verdict, of('held-right-down.harder')?.value, of('held-nose-up.harder')?.value]).toEqual([
      'pass',
      ['front right', 'rear right'],
      ['rear right', 'rear left'],
    ])
  })

  test('a mode that is called self-level and pushes nothing fails, and so does a push that is always the same', () => {
    const none = judge(levels, both({ push: () => [0, 0, 0] }))
    expect(none.verdict).toBe('fail')
    expect(none.of('held-right-down.harder')).toMatchObject({ value: [], remedy: { settings: { 'loss.levels': 1 } } })
    expect(judge(levels, both({ push: () => [-0.08, 0, 0] })).of('held-nose-up.harder')?.verdict).toBe('fail')
  })

  test('what the board gathered because it was moved is no proof', () => {
    expect(judge(levels, both({ lean: (t, deg) => (t < 2 ? 0 : deg) })).refused).toMatch(/was moved by 2\d deg meanwhile/)
    expect(judge(levels, both({ up: 0 })).refused).toMatch(/throttle was not down before it was tilted/)
  })

  test('held too little, in another mode, never armed: no evidence', () => {
    expect(judge(levels, both({ lean: (_, deg) => deg / 4 })).refused).toMatch(/held with its right side down by 10 deg or more/)
    expect(judge(levels, both({ mode: 'selfLevel' })).refused).toMatch(/in mode self-level as the signal went/)
    expect(judge(levels, both().slice(0, 2)).refused).toBe('Nose up: it was not tried')
    expect(judge(levels, [{ ...armed('arm-held'), events: [] }]).refused).toBe('it was not armed')
  })
})

describe('while it waits', () => {
  interface Held {
    /** When the push of a stick ends, s. */
    readonly ends: number
    readonly us: number
    readonly moved: number
    readonly dropGap: readonly [number, number]
    readonly dropEvents: readonly EvidenceEvent[] | null
    readonly more: readonly EvidenceEvent[]
    readonly waiting: number
  }
  const usual: Held = { ends: wait, us: 1580, moved: 1000, dropGap: [3, 3.35], dropEvents: null, more: [], waiting: 0.52 }
  const segments = (change: Partial<Held> = {}) => {
    const h = { ...usual, ...change }
    const command = (t: number) => (t >= act && t < gap[1] ? 0.36 : t >= wait && t < act ? h.waiting : 0.52)
    const events = [event(0, 'mode', { mode: 'rate' }), event(act, 'mode', { mode: 'selfLevel' }), ...phases, ...h.more]
    const out = (t: number) => (t > 2 && t < 5 ? h.us : 1500)
    const dropped = lossOf(h.dropGap)
    return [
      armed('arm-waits'),
      made({
        label: 'held-roll-pitch',
        gap,
        command,
        // Roll to the right; pitch forward is nose down.
        push: (t) => (t > 2 && t < h.ends ? [0.03, -0.03, 0] : [0, 0, 0]),
        channels: { ch1: out, ch2: out, ch6: (t) => (t < 5 ? 1900 : h.moved) },
        events,
      }),
      made({
        label: 'held-yaw',
        gap,
        command,
        push: (t) => (t > 2 && t < h.ends ? [0, 0, 0.03] : [0, 0, 0]),
        channels: { ch4: out },
        events,
      }),
      made({
        label: 'drop-out',
        gap: h.dropGap,
        command: () => 0.52,
        events: [event(0, 'mode', { mode: 'rate' }), ...(h.dropEvents ?? dropped.events)],
      }),
    ]
  }

  test('sticks that are let go as it waits, a switch that reaches nothing, a drop-out that changes nothing', () => {
    const { verdict, of } = judge(waits, segments())
    expect(verdict).toBe('pass')
    expect(['roll', 'pitch', 'yaw'].map((key) => of(key)?.value)).toEqual(['let go', 'let go', 'let go'])
    expect(of('drop-out.back')?.value).toBeCloseTo(0.4, 6)
  })

  test('sticks that steer on until it acts fail, unless the sheet wants that', () => {
    const { verdict, of } = judge(waits, segments({ ends: act }))
    expect([verdict, of('yaw')?.value]).toEqual(['fail', 'steers on'])
    expect(of('roll')?.remedy).toMatchObject({ settings: { 'loss.hold': 1 } })
    const wanted = judge(waits, segments({ ends: act }), { sheet: { ...sheet, settings: { 'loss.hold': 0 } } as never })
    expect(wanted.verdict).toBe('pass')
  })

  test('a switch that gets through, a command that falls as the signal goes', () => {
    expect(judge(waits, segments({ more: [event(5, 'mode', { mode: 'rate' })] })).of('switches')?.value).toBe('mode rate')
    expect(judge(waits, segments({ waiting: 0.05 })).of('held-yaw.account')?.verdict).toBe('fail')
  })

  test('a drop-out after which it acts, disarms, or changes its mode', () => {
    const did = (more: readonly EvidenceEvent[]) =>
      judge(waits, segments({ dropEvents: [...lossOf([3, 3.35]).events, ...more] })).of('drop-out.does')?.value
    expect(did([event(3.3, 'disarmed', { cause: 'failsafe' })])).toBe('disarms')
    expect(did([event(3.2, 'mode', { mode: 'selfLevel' })])).toBe('changes its mode')
    expect(did([phase(3.31, 'act')])).toBe('acts')
    expect(judge(waits, segments({ dropGap: [3, 5] })).refused).toMatch(/so long that the board acted/)
  })

  test('a stick that was not held, a switch that was not moved, a stick that moved nothing: no evidence', () => {
    expect(judge(waits, segments({ us: 1500 })).refused).toMatch(/roll was at 1500 us/)
    expect(judge(waits, segments({ moved: 1900 })).refused).toMatch(/no switch of the modes was moved/)
    expect(judge(waits, segments({ ends: 2.5 })).refused).toMatch(/roll moved no motor any more/)
  })

  test('at whatever time it waits and acts, a stick is told to be let go or held', () => {
    fc.assert(
      fc.property(fc.integer({ min: 15, max: 90 }), fc.integer({ min: 20, max: 150 }), fc.boolean(), (n, w, holds) => {
        const told = lossOf(gap, { notice: n / 100, wait: w / 100 })
        fc.pre(told.act < gap[1] - 0.2)
        const until = holds ? told.act : told.wait
        const step = (label: string, ch: Record<string, (t: number) => number>, push: Axes) =>
          made({
            label,
            gap,
            command: (t) => (t >= told.act && t < gap[1] ? 0.36 : 0.52),
            push: (t) => (t > 2 && t < until ? push : [0, 0, 0]),
            channels: ch,
            events: [event(0, 'mode', { mode: 'rate' }), ...told.events],
          })
        const out = (t: number) => (t > 2 && t < 5 ? 1580 : 1500)
        const { of } = judge(waits, [
          armed('arm-waits'),
          step('held-roll-pitch', { ch1: out, ch2: out, ch6: (t) => (t < 5 ? 1900 : 1000) }, [0.03, -0.03, 0]),
          step('held-yaw', { ch4: out }, [0, 0, 0.03]),
          segments()[3],
        ])
        return ['roll', 'pitch', 'yaw'].every((key) => of(key)?.value === (holds ? 'steers on' : 'let go'))
      }),
      { numRuns: 40 },
    )
  })
})

describe('by its switch', () => {
  interface Switched {
    readonly on: number
    readonly acts: number
    readonly off: number
    readonly during: number
    readonly gap: readonly [number, number] | null
    readonly was: string | null
    readonly more: readonly EvidenceEvent[]
  }
  const usual: Switched = { on: 2, acts: 2.02, off: 5, during: 0.36, gap: null, was: null, more: [] }
  const from = (mode: string, change: Partial<Switched> = {}) => {
    const s = { ...usual, ...change }
    return made({
      label: `by-${mode}`,
      gap: s.gap,
      command: (t) => (t >= s.acts && t < s.off ? s.during : 0.52),
      channels: { ch8: (t) => (t >= s.on && t < s.off ? 1900 : 1000) },
      events: [
        event(0, 'mode', { mode: s.was ?? mode }),
        ...(s.acts < Infinity
          ? [
              phase(s.acts, 'act'),
              event(s.acts, 'mode', { mode: 'selfLevel' }),
              phase(s.off, 'recover'),
              phase(s.off + 0.4, 'none'),
            ]
          : []),
        ...s.more,
      ],
    })
  }
  const of = (change: Partial<Switched>) => judge(bySwitch, [armed('arm-switch-on'), from('selfLevel'), from('rate', change)])

  test('from every mode it acts below hover, and lets go within the second', () => {
    const found = of({})
    expect(found.verdict).toBe('pass')
    expect(found.of('by-rate.acts')?.value).toBeCloseTo(0.02, 6)
    expect(found.of('by-rate.command')?.value).toBeCloseTo(-4, 6)
    expect(found.of('by-rate.back')?.value).toBeCloseTo(0.4, 2)
  })
  test('from one mode it does nothing, or climbs', () => {
    // The step waits in vain, and ends the take.
    const first = judge(bySwitch, [armed('arm-switch-on'), from('selfLevel', { acts: Infinity })])
    expect([first.verdict, first.of('by-selfLevel.acts')?.value]).toEqual(['fail', 'never'])
    expect(of({ acts: Infinity }).of('by-rate.acts')).toMatchObject({ value: 'never', verdict: 'fail' })
    expect(of({ during: 0.5 }).of('by-rate.command')?.verdict).toBe('fail')
  })
  test('a loss, another mode, a switch that stays on: no evidence', () => {
    expect(of({ gap: [3, 4] }).refused).toMatch(/the signal went/)
    expect(of({ was: 'selfLevel' }).refused).toMatch(/in mode self-level, not in rate/)
    expect(of({ off: 9 }).refused).toMatch(/not put off again/)
    expect(of({ on: 99 }).refused).toMatch(/not put on/)
  })
})

describe('throttle down in flight', () => {
  const flown = ({
    up = [1, 3] as readonly [number, number],
    stands = false,
    channels = {},
    gap = null as Parameters<typeof made>[0]['gap'],
  } = {}) =>
    judge(motorCut, [
      armed('arm-cut'),
      made({
        label: 'down',
        gap,
        command: (t) => (t >= up[0] && t < up[1] ? 0.52 : stands && t > up[1] ? -1 : 0),
        channels: { ch3: (t) => (t >= up[0] && t < up[1] ? 1520 : 1000), ch5: () => 2000, ...channels },
        events: [],
      }),
    ])
  test('motors that go on pass, and those that stand fail with what to set', () => {
    expect(flown().verdict).toBe('pass')
    expect(flown({ stands: true }).of('down')).toMatchObject({
      value: 'motors stand',
      remedy: { settings: { 'loss.throttleCuts': 0, 'motors.turnWhenArmed': 1 } },
    })
  })
  test('disarmed by hand, or without signal, meanwhile: no evidence', () => {
    const still = (channels: object, gap: Parameters<typeof made>[0]['gap'] = null) =>
      flown({ stands: true, channels, gap }).refused
    expect(still({ ch5: (t: number) => (t > 4 && t < 4.06 ? 1000 : 2000) })).toMatch(/arm switch was off/)
    expect(still({ ch4: (t: number) => (t > 3.5 ? 1000 : 1500) })).toMatch(/corner that disarms/)
    expect(still({}, [3.5, 4.2])).toMatch(/signal went/)
  })
  test('hardly flown, or not left down: no evidence', () => {
    expect(flown({ up: [1, 1.2] }).refused).toMatch(/over the middle for long enough/)
    expect(flown({ up: [1, 7.5] }).refused).toMatch(/fully down for long enough/)
  })
})

describe('final form', () => {
  const link = (t: number, to: string) => event(t, 'link', { link: to })
  const whole: readonly EvidenceEvent[] = [
    event(12, 'refusing', { reasons: ['throttle'] }),
    event(15, 'armed'),
    event(17, 'disarmed', { cause: 'switch' }),
    event(19, 'armed'),
    phase(21, 'notice'),
    phase(21.3, 'wait'),
    phase(22, 'act'),
    phase(30, 'end'),
    event(30, 'disarmed', { cause: 'failsafe' }),
    phase(33, 'recover'),
    phase(33.4, 'none'),
  ]
  const { stood, turned, atOnce, later } = seenAlone
  const answers: Record<string, string> = { refused: stood, armed: turned, off: atOnce, lost: later, back: stood }
  const form = (
    events: readonly EvidenceEvent[],
    seen: Readonly<Record<string, string>> = {},
    watched = [link(10, 'lost'), link(40, 'up')],
    own: SheetPart = sheet,
  ) =>
    judge(
      finalForm,
      [
        { label: 'alone', streams: {}, events: watched },
        { label: 'log', streams: {}, events },
      ],
      {
        sheet: own as never,
        observations: Object.entries({ ...answers, ...seen }).map(([name, answer]) => ({
          segment: 'seen',
          item: seenAlone[name as keyof typeof seenAlone],
          answer,
        })),
      } as Partial<EvidenceInput>,
    )
  const without = (what: (event: EvidenceEvent) => boolean) => whole.filter((one) => !what(one))

  test('refused, armed, disarmed, and the loss to its end: by the log, and as it was seen', () => {
    const { verdict, of } = form(whole)
    expect([verdict, of('signal')?.value, of('ends')?.value]).toEqual(['pass', 'stays', 'disarmed by failsafe'])
    expect(of('acts')?.value).toBeCloseTo(0.7, 9)
  })
  test('what arms by its sticks is refused at a tilt, and disarmed by them', () => {
    const sticks = { ...sheet, settings: { 'arm.way': 1 } } as unknown as SheetPart
    const told = whole.map((one) =>
      one.what === 'refusing'
        ? event(one.t, 'refusing', { reasons: ['tilt'] })
        : one.t === 17
          ? event(17, 'disarmed', { cause: 'sticks' })
          : one,
    )
    expect(form(told, {}, undefined, sticks).verdict).toBe('pass')
    expect(form(whole, {}, undefined, sticks).refused).toMatch(/refused for tilt/)
  })
  test('what the log tells of before the cable was out is nothing of it', () => {
    expect(form(whole.map((one) => ({ ...one, t: one.t - 30 }) as EvidenceEvent)).refused).toMatch(/holds nothing of it/)
  })
  test('a receiver that the cable feeds goes dark with it', () => {
    const { verdict, of } = form([phase(10.1, 'notice'), phase(10.4, 'wait')])
    expect(verdict).toBe('fail')
    expect(of('signal')).toMatchObject({ value: 'goes', remedy: { work: ['feed receiver'] } })
  })
  test('it arms with throttle up, stays armed at the end of a loss, or arms as the signal is back', () => {
    expect(
      form(
        without(({ what }) => what === 'refusing'),
        { refused: turned },
      ).of('refuses')?.value,
    ).toBe('it armed')
    expect(form(without(({ t }) => t >= 30 && t < 33)).of('ends')?.value).toBe('stays armed')
    expect(form([...whole, event(34, 'armed')]).of('after')?.value).toBe('it armed')
  })
  test('what was seen is judged beside the log', () => {
    expect(form(whole, { off: seenAlone.wentOn }).of(seenAlone.off)?.verdict).toBe('fail')
    expect(form(whole, { armed: stood }).of(seenAlone.armed)?.verdict).toBe('fail')
  })
  test('a step that was left out, or done otherwise: no evidence', () => {
    expect(form(without(({ what }) => what === 'refusing')).refused).toMatch(/does not hold that it refused for throttle/)
    expect(form(without(({ t }) => t > 17)).refused).toMatch(/armed again/)
    expect(form(without(({ t }) => t > 20)).refused).toMatch(/a loss of signal/)
    expect(form(without(({ t }) => t > 31)).refused).toMatch(/the signal came back/)
    expect(form(whole, {}, [link(40, 'up')]).refused).toMatch(/never out/)
    expect(form(whole.map((one) => (one.t === 17 ? event(17, 'disarmed', { cause: 'idle' }) : one))).refused).toMatch(
      /something else first, idle/,
    )
  })
})
