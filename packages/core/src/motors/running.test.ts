import type { Evidence, Finding, Geometry, Observation, Segment, SheetPart } from '@taraf/contract'
import { evaluate } from '../evaluate'
import type { Check } from '../check'
import { heat } from './heat'
import { propPlan, propPlanOf } from './propPlan'
import { smooth } from './smooth'
import { start } from './start'
import { StandWatch, standsS } from './stands'

const geometry: Geometry = {
  body: { lengthM: 0.2, widthM: 0.1 },
  propDiameterM: 0.13,
  booms: ['front right', 'rear right', 'rear left', 'front left'].map((name, i) => ({
    name,
    bearingDeg: 45 + 90 * i,
    radiusM: 0.2,
    motors: [{ tier: 'only', output: i + 1, turn: i % 2 === 0 ? 'clockwise' : 'anticlockwise' }],
  })),
}
const sheet: SheetPart = {
  geometry,
  escs: { understands: ['DShot300'], settings: {} },
  rotor: { kv: 1000, props: { clockwise: 'R', anticlockwise: 'L' } },
}
const outputs = [1, 2, 3, 4]
const settings = { 'esc.replies': 1, 'esc.poles': 14, 'motors.idle': 0.06 }
const found = (check: Check, segments: readonly Segment[], more: Partial<Evidence> = {}): Finding[] =>
  evaluate(check, {
    format: 'taraf-evidence/1',
    check: check.id,
    sheet,
    board: { settings },
    segments: [...segments],
    ...more,
  } as Evidence).findings
const by = (list: readonly Finding[], key: string) => list.find((f) => f.key === key)
const fails = (list: readonly Finding[]) => list.filter((f) => f.verdict === 'fail').map((f) => f.key)
const refused = (list: readonly Finding[]) => list.find((f) => f.verdict === 'refused')?.value
const column = (n: number, of: (i: number) => number) => Float64Array.from({ length: n }, (_, i) => of(i))
const named = (name: string, of: (output: number) => Float64Array) =>
  Object.fromEntries(outputs.map((output) => [`${name}${output}`, of(output)]))

interface Drive {
  readonly from?: number
  readonly kv?: number
  readonly replies?: boolean
  /** Falls out of step once, at this second. */
  readonly slips?: number
  /** Turns of itself. */
  readonly already?: boolean
}
/** A command that rises to a share within so many seconds, told at 200 Hz, and what each ESC says of it fifty times a second. */
const rise = (
  label: string,
  share: number,
  riseS: number,
  seconds: number,
  drives: Readonly<Record<number, Drive>> = {},
): Segment => {
  const command = (t: number) => share * Math.min(1, t / riseS)
  const rpm = (t: number, { from = 0.045, kv = 1000, slips, already = false }: Drive) =>
    already || (command(t) >= from && !(slips !== undefined && Math.abs(t - slips) < 0.05))
      ? kv * 12 * Math.max(0.03, command(t))
      : 0
  const [fast, slow] = [Math.round(seconds * 200), Math.round(seconds * 50)]
  const of = (output: number): Drive => drives[output] ?? {}
  return {
    label,
    streams: {
      outputs: {
        t: column(fast, (i) => 7 + i / 200),
        ...named('o', () => column(fast, (i) => command(i / 200))),
        command: column(fast, () => 0),
      },
      escs: {
        t: column(slow, (i) => 7 + i / 50),
        ...named('rpm', (output) => column(slow, (i) => (of(output).replies === false ? 0 : rpm(i / 50, of(output))))),
        ...named('err', (output) => column(slow, () => (of(output).replies === false ? 1 : 0))),
      },
      meter: {
        t: column(slow, (i) => 90 + i / 50),
        volts: column(slow, (i) => 12 + 0.001 * (i % 2)),
        amps: column(slow, (i) => 3 + 0.01 * (i % 3)),
        rail: column(slow, () => 5),
      },
    },
  } as unknown as Segment
}
const started = (drives: Readonly<Record<number, Drive>> = {}): Segment[] => [
  rise('rise', 0.12, 6, 6, drives),
  rise('rise-again', 0.12, 6, 6, drives),
  rise('fast', 0.3, 1, 4, drives),
]

describe('start', () => {
  test('the lowest command of each, and speeds against KV x volts x command', () => {
    const list = found(start, started())
    expect(fails(list)).toEqual([])
    expect(by(list, 'start3')?.value).toBeCloseTo(0.045, 3)
    // 1000 rpm for each volt, of 12 V for three tenths of the time.
    expect(by(list, 'speed2')?.value).toBeCloseTo(3600, 0)
    expect(by(list, 'noLoad2')?.value).toBeCloseTo(0, 0)
    expect(by(list, 'speeds')?.value).toBe(0)
  })
  test('without a meter the speeds are held against no KV, and that is left open', () => {
    const without = started().map(({ streams: { meter: _, ...streams }, ...one }) => ({ ...one, streams }))
    const opens = (segments: readonly Segment[], own = sheet) =>
      start.opens?.({ sheet: own, segments, board: { settings } } as unknown as Evidence)
    expect(by(found(start, without), 'noLoad2')).toBeUndefined()
    expect(opens(without)).toMatchObject([{ what: 'open', blocks: true }])
    expect([opens(started()), opens(without, { ...sheet, rotor: {} })]).toEqual([[], []])
  })
  test('one that begins late: its ESC', () => {
    const list = found(start, started({ 2: { from: 0.1 } }))
    expect(fails(list)).toEqual(['start2', 'spread', 'together'])
    for (const key of ['start2', 'spread', 'together'])
      expect(by(list, key)?.remedy).toMatchObject({ work: ['replace ESC'], outputs: [2] })
    // What an idle must be is said once all begin where they should.
    expect(by(list, 'idle')).toBeUndefined()
  })
  test('one that slips out of step counts as begun where it turns to the end', () => {
    const list = found(
      start,
      [...started().slice(0, 2), rise('fast', 0.3, 1, 4)].with(1, rise('rise-again', 0.12, 6, 6, { 4: { slips: 5 } })),
    )
    expect(fails(list)).toEqual(['start4', 'spread'])
    expect(by(list, 'start4')?.value).toBeGreaterThan(0.1)
  })
  test('one that stands, and one that never holds its step, are named and nothing more is said', () => {
    const list = found(start, started({ 1: { from: 0.13 }, 3: { slips: 3.99 } }))
    expect(fails(list)).toEqual(['turns1', 'turns3'])
    expect(by(list, 'turns1')?.remedy).toMatchObject({ work: ['replace motor', 'replace ESC'], outputs: [1] })
    expect(by(list, 'turns3')).toMatchObject({ value: 'stutters', remedy: { work: ['replace ESC', 'replace motor'] } })
    expect(by(list, 'speeds')).toBeUndefined()
  })
  test('an ESC that tells nothing, and a motor that turned before, are no evidence', () => {
    expect(found(start, started({ 2: { replies: false } }))).toMatchObject([{ key: 'turns2', value: 'silent', verdict: 'fail' }])
    const none = started({ 1: { replies: false }, 2: { replies: false }, 3: { replies: false }, 4: { replies: false } })
    expect(refused(found(start, none))).toBe('the ESC at outputs 1, 2, 3 and 4 tells no speed')
    expect(refused(found(start, started({ 3: { already: true } })))).toBe('the motor at output 3 turned before it was told to')
    expect(refused(found(start, started(), { board: { settings: { ...settings, 'esc.replies': 0 } } }))).toMatch(/no replies/)
  })
  test('another winding is told from the others; all of another one from the sheet', () => {
    const one = found(start, started({ 4: { kv: 860 } }))
    expect(fails(one)).toEqual(['speeds'])
    expect(by(one, 'speeds')?.remedy).toMatchObject({ work: ['replace motor'], outputs: [4] })
    const all = found(start, started(Object.fromEntries(outputs.map((output) => [output, { kv: 1400 }]))))
    expect(fails(all)).toEqual(['noLoad1', 'noLoad2', 'noLoad3', 'noLoad4'])
    expect(by(all, 'noLoad1')?.remedy).toMatchObject({ by: 'technician' })
    // A reading of the meter is needed for that, and no more than that.
    const blind = started().map((segment) => ({ ...segment, streams: { ...segment.streams, meter: undefined } }))
    expect(found(start, blind as Segment[]).map((f) => f.key)).not.toContain('noLoad1')
  })
  test('an idle that turns no motor fails, with the one that does', () => {
    const low = found(start, started(), { board: { settings: { ...settings, 'motors.idle': 0.03 } } })
    expect(fails(low)).toEqual(['idle'])
    expect(by(low, 'idle')?.remedy).toMatchObject({ by: 'settings', settings: { 'motors.idle': 0.06 } })
    const wanted = { ...sheet, settings: { 'motors.idle': 0.03 } }
    const bySheet = found(start, started(), { sheet: wanted, board: { settings: { ...settings, 'motors.idle': 0.03 } } })
    expect(by(bySheet, 'idle')?.remedy).toMatchObject({ by: 'technician' })
  })
})

/** A motor alone: what it shakes at its turning rate and with no rate of its own, m/s2, and a knock at a second of it. */
const shaken = (output: number, at = 0.05, grate = 0, { knock = -1, rpm = 6000, alsoTurns = 0 } = {}): Segment => {
  let state = 11 * output + 1
  const noise = () => (state = (state * 48271) % 2147483647) / 2147483647 - 0.5
  const n = 8000
  const axis = (phase: number) =>
    column(n, (i) => {
      const t = i / 4000
      const bump = knock >= 0 && Math.abs(t - knock) < 0.02 ? 6 * Math.cos((Math.PI * (t - knock)) / 0.04) : 0
      return at * Math.sin((2 * Math.PI * t * rpm) / 60 + phase) + (0.1 + 3.46 * grate) * noise() + bump
    })
  const rows = 100
  return {
    label: `output-${output}`,
    streams: {
      imuBurst: {
        stage: 'raw',
        t: column(n, (i) => 5 + i / 4000),
        ax: axis(0),
        ay: axis(1.5),
        az: axis(0.4),
        gx: axis(1),
        gy: axis(2),
        gz: axis(3),
      },
      escs: {
        t: column(rows, (i) => 5 + i / 50),
        ...named('rpm', (one) => column(rows, () => (one === output || one === alsoTurns ? rpm : 0))),
        ...named('err', () => column(rows, () => 0)),
      },
    },
  } as unknown as Segment
}

describe('smooth', () => {
  const all = (bad: Readonly<Record<number, Segment>> = {}) => outputs.map((output) => bad[output] ?? shaken(output))
  test('at the turning rate: the closed form of a sine in three axes', () => {
    const list = found(smooth, all())
    expect(fails(list)).toEqual([])
    const rms = (1000 * 0.05 * Math.sqrt(3 / 2)) / (2 * Math.PI * 100)
    expect(Number(by(list, 'atTurning1')?.value) / rms).toBeCloseTo(1, 1)
  })
  test('out of balance and grating are told apart', () => {
    const list = found(smooth, all({ 2: shaken(2, 3), 3: shaken(3, 0.05, 1.5) }))
    expect(fails(list)).toEqual(['atTurning2', 'whole2', 'beside2', 'whole3', 'beside3'])
    expect(by(list, 'atTurning2')?.remedy?.act).toMatch(/out of balance/)
    expect(by(list, 'whole3')?.remedy?.act).toMatch(/grates/)
    expect(by(list, 'whole3')?.remedy).toMatchObject({ work: ['replace motor'], outputs: [3] })
  })
  test('a bell that shakes little beside what the whole may is out of balance all the same', () => {
    expect(fails(found(smooth, all({ 4: shaken(4, 0.52) })))).toEqual(['atTurning4', 'beside4'])
  })
  test('under every limit, and yet several times the others', () => {
    expect(fails(found(smooth, all({ 4: shaken(4, 0.4) })))).toEqual(['beside4'])
  })
  test('a knock, a motor that stands, and one that turns beside are no evidence', () => {
    expect(refused(found(smooth, all({ 1: shaken(1, 0.05, 0, { knock: 0.8 }) })))).toMatch(/something knocked/)
    expect(refused(found(smooth, all({ 2: shaken(2, 0.05, 0, { rpm: 100 }) })))).toMatch(/did not turn/)
    expect(refused(found(smooth, all({ 3: shaken(3, 0.05, 0, { alsoTurns: 1 }) })))).toMatch(/output 1 turned while output 3/)
  })
})

describe('heat', () => {
  const run = [rise('run', 0.4, 1, 15)]
  const answers = (way: string, each: readonly (number | boolean | string)[]): Observation[] => [
    { segment: 'way', item: 'heatBy', answer: way },
    ...each.map((answer, i) => ({ segment: 'bells', item: `heat${i + 1}`, answer })),
  ]
  const read = (...each: (number | string)[]) => found(heat, run, { observations: answers('with a thermometer', each) })
  test('one hotter than the others by a thermometer, or by the hand', () => {
    expect(fails(read(26, 27, 25, 26))).toEqual([])
    const list = read(26, 44, 25, 26)
    expect(fails(list)).toEqual(['heat2'])
    expect(by(list, 'heat2')).toMatchObject({ value: 18, remedy: { work: ['replace motor'], outputs: [2] } })
    expect(fails(found(heat, run, { observations: answers('with the back of the hand', [true, true, false, true]) }))).toEqual([
      'heat3',
    ])
    expect(fails(read(70, 71, 69, 70))).toEqual(['reading1', 'reading2', 'reading3', 'reading4'])
  })
  test('an empty answer, a reading of nothing, and a motor that stood are no evidence', () => {
    expect(refused(read(26, '', 25, 26))).toMatch(/not answered/)
    expect(refused(read(26, 900, 25, 26))).toMatch(/output 2 is no bell/)
    const stood = [rise('run', 0.4, 1, 15, { 3: { from: 1 } })]
    expect(refused(found(heat, stood))).toMatch(/output 3/)
    expect(found(heat, stood)).toMatchObject([{ remedy: { work: ['replace motor', 'replace ESC'], outputs: [3] } }])
  })
})

describe('prop plan', () => {
  const list = (changed: Readonly<Record<string, string | number>> = {}): Observation[] =>
    Object.entries({
      ...Object.fromEntries(outputs.map((i) => [`prop${i}`, 'this one, whole'])),
      clockwise: 2,
      anticlockwise: 2,
      ...changed,
    }).map(([item, answer]) => ({ segment: 'list', item, answer }))
  test('the hand of each position: of its motor, the other one on a mirrored board; the lower of a pair pushes', () => {
    expect(propPlanOf(sheet).map((p) => p.mark)).toEqual(['R', 'L', 'R', 'L'])
    expect(propPlanOf(sheet, { 'motors.mirrored': 1 }).map((p) => p.mark)).toEqual(['L', 'R', 'L', 'R'])
    const [boom] = geometry.booms
    const pair = {
      ...geometry,
      booms: [
        {
          ...boom,
          motors: [
            { tier: 'upper', output: 1, turn: 'clockwise' },
            { tier: 'lower', output: 2, turn: 'anticlockwise' },
          ],
        },
      ],
    }
    expect(propPlanOf({ ...sheet, geometry: pair as Geometry })).toMatchObject([
      { position: 'front right upper', sits: 'puller', mark: 'R' },
      { position: 'front right lower', sits: 'pusher', mark: 'L' },
    ])
    expect(propPlanOf(sheet, { 'output.3.position': 1 })[0]).toMatchObject({ position: 'front right', output: 3 })
  })
  test('the wrong one, a damaged one, and one too many of a hand', () => {
    expect(fails(found(propPlan, [], { observations: list() }))).toEqual([])
    const other = found(propPlan, [], { observations: list({ prop2: 'another one', clockwise: 3, anticlockwise: 1 }) })
    expect(fails(other)).toEqual(['prop2', 'clockwise', 'anticlockwise'])
    expect(by(other, 'prop2')?.remedy).toMatchObject({ work: ['put right prop'], outputs: [2] })
    const nicked = found(propPlan, [], { observations: list({ prop4: 'this one, damaged' }) })
    expect(by(nicked, 'prop4')?.remedy).toMatchObject({ work: ['replace prop'], outputs: [4] })
    expect(refused(found(propPlan, [], { observations: list({ prop1: '' }) }))).toMatch(/not answered: front right/)
  })
})

describe('a motor that does not turn as it is told', () => {
  const want = { outputs: [{ output: 3, share: 0.3 }], runUpS: 1, riseS: 1 }
  /** Rows at 50 Hz until the watch says something, or 5 s are over. */
  const watched = (of: (t: number) => { rpm: number; err?: number }, others = 0, told = want) => {
    const watching = new StandWatch(told, [1, 3])
    for (let t = 0; t < 5; t += 0.02) {
      const { rpm, err = 0 } = of(t)
      const row: Record<string, number> = { rpm3: rpm, err3: err, err1: others, rpm1: 0 }
      const stood = watching.push('escs', 100 + t, (name) => row[name])
      if (stood !== null) return { ...stood, t }
    }
    return null
  }
  test('one that never turns, one that stops, one whose ESC says nothing where another does', () => {
    expect(watched(() => ({ rpm: 0 }))).toMatchObject({ output: 3, how: 'stands', t: expect.closeTo(standsS, 1) as number })
    const slipped = watched((t) => ({ rpm: t < 2 ? 3000 : 0 }))
    expect(slipped).toMatchObject({ how: 'stutters', t: expect.closeTo(2.1, 1) as number })
    expect(watched(() => ({ rpm: 0, err: 1 }))).toMatchObject({ how: 'silent' })
  })
  test('not one that turns, that loses its step for a moment, that is told too little, or where no ESC says anything', () => {
    expect(watched(() => ({ rpm: 2000 }))).toBeNull()
    expect(watched((t) => ({ rpm: t % 1 < 0.9 ? 2000 : 0 }))).toBeNull()
    expect(watched(() => ({ rpm: 0 }), 0, { ...want, outputs: [{ output: 3, share: 0.09 }] })).toBeNull()
    expect(watched(() => ({ rpm: 0, err: 1 }), 1)).toBeNull()
  })
  test('a step that begins anew, as after a press that was let go of: what turned before is forgotten', () => {
    const rising = { outputs: [{ output: 3, share: 0.4 }], runUpS: 0, riseS: 8 }
    const press = (watching: StandWatch, from: number) => {
      for (let t = 0; t < 3; t += 0.02) {
        // It turns from a tenth of the command on.
        const row: Record<string, number> = { rpm3: t < 1 ? 0 : 4000 * t, err3: 0, rpm1: 0, err1: 0 }
        const stood = watching.push('escs', from + t, (name) => row[name])
        if (stood !== null) return stood
      }
      return null
    }
    const watching = new StandWatch(rising, [1, 3])
    expect(press(watching, 100)).toBeNull()
    watching.begin()
    expect(press(watching, 106)).toBeNull()
    expect(press(watching, 112)).toMatchObject({ output: 3, how: 'stutters' })
  })
  test('an armed board tells itself what it asks for: one that stands is seen in less than half a second, and one that only slows is none', () => {
    const armed = (command: (t: number) => number, rpm: (t: number) => number) => {
      const watching = new StandWatch(null, [1, 3])
      for (let i = 0; i < 1000; i++) {
        const t = i / 200
        const [asked, told]: Record<string, number>[] = [
          { o1: 0.3, o3: command(t) },
          { rpm1: 4000, err1: 0, rpm3: rpm(t), err3: 0 },
        ]
        watching.push('outputs', t, (name) => asked?.[name])
        const stood = i % 4 === 0 ? watching.push('escs', t, (name) => told?.[name]) : null
        if (stood !== null) return { ...stood, t }
      }
      return null
    }
    const locks = (t: number) => (t < 2 ? 3000 : 0)
    expect(armed(() => 0.2, locks)).toMatchObject({ output: 3, how: 'stands', t: expect.closeTo(2.4, 1) as number })
    expect(
      armed(
        (t) => (t < 2 ? 0.3 : 0.08),
        (t) => (t < 2 ? 6000 : 900),
      ),
    ).toBeNull()
    // Asked for less than turns every sound motor, or for a moment only.
    expect(armed(() => 0.08, locks)).toBeNull()
    expect(armed((t) => (t % 0.5 < 0.3 ? 0.2 : 0.06), locks)).toBeNull()
  })
  test('what was stopped says so, whatever is missing; where it turned, what is missing is asked for', () => {
    const { streams } = rise('fast', 0.3, 1, 2, { 2: { from: 2 } })
    const cut = [...started().slice(0, 2), { label: 'fast', streams }]
    expect(found(start, cut)).toEqual([
      expect.objectContaining({
        key: 'turns2',
        value: 'stands',
        verdict: 'fail',
        remedy: expect.objectContaining({ outputs: [2] }) as unknown,
      }),
    ])
    const first = [rise('rise', 0.12, 1, 3, { 4: { replies: false } })]
    expect(found(start, first)).toHaveLength(1)
    expect(refused(found(start, [...started().slice(0, 2), rise('fast', 0.3, 1, 2)]))).toMatch(/fast/)
  })
})
