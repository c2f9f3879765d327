import { findings as findingsSchema, type Evidence, type Observation, type Sheet } from '@taraf/contract'
import { checkById, checks } from '../checks'
import { isNeeded, type Check } from '../check'
import { evaluate } from '../evaluate'
import { questionsOf } from '../plan'
import { limitFor } from '../limits'

const sheet = {
  type: 'N4',
  version: 3,
  title: 'Nest counter',
  geometry: {
    booms: (['front', 'rear'] as const).map((name, i) => ({
      name,
      bearingDeg: 180 * i,
      radiusM: 0.2,
      motors: [{ tier: 'only' as const, output: i + 1, turn: i === 0 ? ('clockwise' as const) : ('anticlockwise' as const) }],
    })),
    body: { lengthM: 0.2, widthM: 0.1 },
    propDiameterM: 0.1,
  },
  board: { target: 'T', sockets: [{ socket: 3, use: 'video' as const }] },
  versions: [{ part: 'receiver', approved: ['2.3', '2.4'] }],
  pastBoard: [{ channel: 9, what: 'winch' }],
  contents: ['two packs'],
  settings: {},
  limits: {},
} satisfies Sheet
const check = (id: string) => checkById(id) as Check
const evidence = (of: Check, change: Partial<Evidence>): Evidence => ({
  format: 'taraf-evidence/1',
  check: of.id,
  sheet,
  airframe: { tag: 'N4-001', board: 'FB-1', parts: [{ part: 'regulator', model: 'Spar', serial: 'S1', lot: 'R7' }] },
  board: {},
  segments: [{ label: 'list', streams: {} }],
  ...change,
})
const answers = (of: Check, other: Record<string, Observation['answer']> = {}): Observation[] =>
  (questionsOf(of, sheet) ?? []).map(({ id, answer }) => ({
    segment: 'list',
    item: id,
    answer:
      other[id] ??
      (answer === 'so' ? true : answer === 'number' ? 1 : answer === 'text' ? (id === 'tag' ? 'n4-001' : '2.4') : answer[0]),
  }))
const listed = (id: string, other: Record<string, Observation['answer']> = {}) =>
  evaluate(check(id), evidence(check(id), { observations: answers(check(id), other) }))
const lists = ['intake.identity', 'intake.forWhom', 'intake.incoming', 'intake.byEye', 'intake.pastBoard', 'board.versions']

describe('lists', () => {
  test.each(lists)('%s: all as it should be passes, and its findings are as the contract says', (id) => {
    const found = listed(id)
    expect(found.verdict).toBe('pass')
    expect(findingsSchema.parse(found)).toEqual(found)
  })

  test.each(lists)('%s: each item left out makes it refused and is named', (id) => {
    const all = answers(check(id))
    for (const left of (questionsOf(check(id), sheet) ?? []).filter((q) => q.optional !== true)) {
      const { verdict, findings } = evaluate(
        check(id),
        evidence(check(id), { observations: all.filter((o) => o.item !== left.id) }),
      )
      expect(verdict).toBe('refused')
      expect(String(findings[0]?.value)).toContain(left.words.replace(/\.$/, ''))
    }
  })

  test.each(lists)('%s: every statement has its reason, and fails with a remedy where it is not so', (id) => {
    for (const { id: item, why, answer } of questionsOf(check(id), sheet) ?? []) {
      expect(why.length).toBeGreaterThan(20)
      if (answer !== 'so') continue
      const finding = listed(id, { [item]: false }).findings.find((f) => f.key === item)
      expect(finding?.verdict).toBe('fail')
      expect(finding?.remedy?.act.length).toBeGreaterThan(5)
    }
  })

  test('an answer of another kind is none', () => {
    expect(listed('intake.byEye', { propsOff: 'yes' }).verdict).toBe('refused')
    expect(listed('intake.byEye', { buttons: 'some' }).verdict).toBe('refused')
    expect(listed('intake.forWhom', { weight: NaN }).verdict).toBe('refused')
    expect(listed('intake.forWhom', { purpose: ' ' }).verdict).toBe('refused')
  })

  test('the tag is compared with that of the card; parts are shown as they were registered', () => {
    const { findings } = listed('intake.identity', { tag: 'N4-002' })
    expect(findings.find((f) => f.key === 'tag')).toMatchObject({ verdict: 'fail', limit: { equals: 'N4-001' } })
    expect(findings.find((f) => f.key === 'as built: regulator')).toMatchObject({
      value: 'Spar, serial S1, lot R7',
      verdict: 'shown',
    })
  })

  test('the video antenna is asked only where there is one to fit', () => {
    const plain = { ...sheet, board: { target: 'T', sockets: [] } }
    expect(questionsOf(check('intake.byEye'), sheet)?.some((q) => q.id === 'videoAntenna')).toBe(true)
    expect(questionsOf(check('intake.byEye'), plain)?.some((q) => q.id === 'videoAntenna')).toBe(false)
  })

  test('nut threads are told by the turn of each motor', () => {
    const threads = questionsOf(check('intake.byEye'), sheet)?.find((q) => q.id === 'threads')
    // A clockwise motor is tightened by a left-hand thread (common practice).
    expect(threads?.words).toContain('left-hand on front; right-hand on rear')
  })

  test('a version that is not approved fails with the part to update', () => {
    expect(listed('board.versions', { 'version of receiver': '2.1' }).findings[0]).toMatchObject({
      verdict: 'fail',
      limit: { equals: '2.3 or 2.4' },
      remedy: { part: 'receiver', work: ['update part'] },
    })
  })

  test('what it leaves is opened: flags and a cover to put back, and each thing past the board gets its own checks', () => {
    const opened = (id: string, other = {}) =>
      check(id).opens?.(evidence(check(id), { observations: answers(check(id), other) })) ?? []
    expect(opened('intake.byEye').map((i) => i.words)).toEqual([
      'Take the flags of tape off the motors.',
      'Put the nuts back on their shafts, or bag them with the props.',
    ])
    expect(opened('intake.byEye', { buttons: 'not all: the cover stays off until the end' })).toHaveLength(3)
    expect(opened('intake.pastBoard').every((i) => i.blocks && i.words.includes('winch on channel 9'))).toBe(true)
    expect(opened('intake.pastBoard')).toHaveLength(3)
  })
})

/** A trace of the bench's meter, 20 rows a second: power comes after `onAt` seconds. */
const trace = (seconds: number, onAt: number, of: (since: number) => { volts: number; amps: number; rail: number }) => {
  const t = Array.from({ length: Math.round(seconds * 20) + 1 }, (_, i) => 100 + i / 20)
  const rows = t.map((at) => (at - 100 < onAt ? { volts: 0, amps: 0, rail: 5.03 } : of(at - 100 - onAt)))
  return { t, volts: rows.map((r) => r.volts), amps: rows.map((r) => r.amps), rail: rows.map((r) => r.rail) }
}
const power = (meter: ReturnType<typeof trace>) =>
  evaluate(
    check('intake.firstPower'),
    evidence(check('intake.firstPower'), { segments: [{ label: 'power', streams: { meter } }] }),
  )

describe('first power', () => {
  const at =
    (amps: number, inrush = amps) =>
    (since: number) => ({ volts: 16, amps: since < 0.3 ? inrush : amps, rail: 5.04 })
  test('what flows at rest is judged, what flows as it comes on is shown', () => {
    const found = power(trace(6, 1, at(0.4, 1.4)))
    expect(found.verdict).toBe('pass')
    expect(found.findings.find((f) => f.key === 'amps')?.value).toBeCloseTo(0.4, 6)
    expect(found.findings.find((f) => f.key === 'peak')).toMatchObject({ value: 1.4, verdict: 'shown' })
    expect(findingsSchema.parse(found)).toEqual(found)
  })
  test('more than the sheet allows fails, and the sheet may allow more with its reason', () => {
    const meter = trace(6, 1, at(0.9))
    expect(power(meter).findings.find((f) => f.key === 'amps')).toMatchObject({ verdict: 'fail', limit: { max: 0.6 } })
    const own = { ...sheet, limits: { 'firstPower.amps': { max: 1, reason: 'the lamp burns at once' } } }
    const segments = [{ label: 'power', streams: { meter } }]
    expect(evaluate(check('intake.firstPower'), evidence(check('intake.firstPower'), { sheet: own, segments })).verdict).toBe(
      'pass',
    )
  })
  test('a short is told within a second, whatever the limiter lets through', () => {
    for (const amps of [0.5, 1.5, 3])
      expect(power(trace(2, 1, () => ({ volts: 0.1, amps, rail: 5.03 }))).findings[0]).toMatchObject({
        key: 'short',
        verdict: 'fail',
      })
  })
  test('current without voltage in the last moment of a take proves nothing', () =>
    expect(power(trace(2, 1.8, () => ({ volts: 0.1, amps: 1.5, rail: 5.03 })))).toMatchObject({
      verdict: 'refused',
      findings: [{ value: expect.stringMatching(/no voltage yet/) as unknown }],
    }))
  test('a spike of current before the power came is no power', () => {
    const meter = trace(4, 1, at(0.3))
    meter.amps[4] = 1.2
    expect(power(meter)).toMatchObject({
      verdict: 'refused',
      findings: [{ value: expect.stringMatching(/only 3\.0 s/) as unknown }],
    })
  })
  test('no power, too little of it, a gap, no meter: refused with what to do', () => {
    expect(power(trace(6, 9, at(0.4)))).toMatchObject({
      verdict: 'refused',
      findings: [{ value: 'no power came while it was captured' }],
    })
    expect(power(trace(3, 1, at(0.4)))).toMatchObject({
      verdict: 'refused',
      findings: [{ value: expect.stringMatching(/only 2\.0 s/) as unknown }],
    })
    const { t, ...rest } = trace(6, 1, at(0.4))
    const late = t.map((x) => (x > 103 ? x + 1 : x))
    expect(power({ t: late, ...rest }).verdict).toBe('refused')
    expect(evaluate(check('intake.firstPower'), evidence(check('intake.firstPower'), {})).verdict).toBe('refused')
  })
})

describe('the rail, cold to warm', () => {
  const rails = (meter: ReturnType<typeof trace>) =>
    evaluate(check('intake.rails'), evidence(check('intake.rails'), { segments: [{ label: 'warm', streams: { meter } }] }))
  const sagging = (by: number) => (since: number) => ({ volts: 16, amps: 0.4, rail: 5.05 - by * Math.min(1, since / 120) })
  test('a rail that stays passes; one that sags fails, though it is right when cold', () => {
    expect(rails(trace(130, 0, sagging(0.05))).verdict).toBe('pass')
    const { verdict, findings } = rails(trace(130, 0, sagging(0.4)))
    expect(verdict).toBe('fail')
    expect(findings.find((f) => f.key === 'cold')).toMatchObject({ verdict: 'shown', value: expect.closeTo(5.04, 2) as unknown })
    expect(findings.find((f) => f.key === 'sag')).toMatchObject({ verdict: 'fail', remedy: { work: ['replace regulator'] } })
  })
  test('a battery that came late, or a take cut short, proves nothing', () => {
    expect(rails(trace(130, 3, sagging(0))).verdict).toBe('refused')
    expect(rails(trace(20, 0, sagging(0))).verdict).toBe('refused')
  })
  test('only a rail that is out already is told before two minutes: what sags late shows nothing before', () => {
    for (const by of [0.02, 0.12])
      expect(rails(trace(60, 0, sagging(by)))).toMatchObject({
        verdict: 'refused',
        findings: [{ value: expect.stringMatching(/only 60 s/) as unknown }],
      })
    expect(rails(trace(20, 0, (since) => ({ volts: 16, amps: 0.4, rail: since > 8 && since < 10 ? 4.2 : 5.05 })))).toMatchObject({
      verdict: 'fail',
      findings: [{ key: 'lowest', verdict: 'fail' }, { key: 'highest', verdict: 'pass' }, { key: 'swing' }],
    })
    expect(rails(trace(130, 0, sagging(0.12))).verdict).toBe('pass')
  })
  test('a rail that swings about the right value fails by its swing, though every second’s mean is right', () => {
    const swinging = (since: number) => ({ volts: 16, amps: 0.4, rail: 5.05 + 3 * Math.sin(40 * since) })
    expect(rails(trace(130, 0, swinging))).toMatchObject({
      verdict: 'fail',
      findings: expect.arrayContaining([expect.objectContaining({ key: 'swing', verdict: 'fail' })]) as unknown,
    })
    expect(power(trace(6, 1, (since) => ({ ...swinging(since), amps: 0.3 })))).toMatchObject({
      verdict: 'fail',
      findings: expect.arrayContaining([expect.objectContaining({ key: 'swing', verdict: 'fail' })]) as unknown,
    })
  })
  test('every second counts, not the ends alone', () => {
    const dip = (since: number) => ({ volts: 16, amps: 0.4, rail: since > 60 && since < 61.5 ? 4.7 : 5.05 })
    expect(rails(trace(130, 0, dip))).toMatchObject({ verdict: 'fail' })
  })
})

test('a limit with both ends has both, and each can be set by a sheet', () => {
  expect(limitFor({}, 'rails.volts')).toEqual({ min: 4.9, max: 5.25, unit: 'V' })
  expect(limitFor({ limits: { 'rails.volts': { min: 5, reason: 'a servo' } } }, 'rails.volts')).toEqual({
    min: 5,
    max: 5.25,
    unit: 'V',
  })
})

test('a job without a board on its sheet has none of this, and everything is in the order of the work', () => {
  for (const id of [...lists, 'intake.firstPower', 'intake.rails']) expect(isNeeded(check(id), {})).toBe(false)
  const stations = checks.map((c) => c.station)
  expect([...new Set(stations)]).toEqual([
    'intake',
    'board',
    'sensors',
    'orientation',
    'radio',
    'switches',
    'escs',
    'motors',
    'arming',
    'failsafe',
    'hover',
  ])
  const late = checks.flatMap((c) =>
    c.needs.filter((id) => checks.findIndex((o) => o.id === id) >= checks.indexOf(c)).map((id) => [c.id, id]),
  )
  // A sensor that is looked at while motors turn waits for what makes them turn.
  expect(late).toEqual([['sensors.compassShift', 'escs.signal']])
})
