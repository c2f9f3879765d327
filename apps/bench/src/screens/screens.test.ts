import type { Finding, JobView, StoredEntry, TakeBody } from '@taraf/contract'
import { checkById } from '@taraf/core'
import { entryWords } from '../parts/entryWords'
import { panels } from '../stations/registry'
import { checks } from '@taraf/core'
import { standingWords } from '../parts/standingWords'
import { whyNot } from './TakeBar'
import { pagesOf } from './useAirframeWindow'
import { canDo, limitWords, remediesOf, takesOf, valueWords, type TakeEntry } from '../parts/findings'

const take = (seq: number, verdict: TakeBody['verdict']): TakeEntry => ({
  format: 2,
  job: 'j',
  seq,
  at: '2026-11-25T08:00:00Z',
  by: 'p',
  hash: 'a'.repeat(64),
  body: {
    kind: 'take',
    check: 'sensors.gyroRest',
    checkVersion: 1,
    began: seq - 1,
    verdict,
    findings: [],
    evidenceSha256: null,
    bench: 'North bench',
    board: 'B-1',
  },
})
const knock: StoredEntry = { ...take(2, 'pass'), body: { kind: 'change', change: { what: 'knock' }, cause: 'Fell.' } }
const job = (change: Partial<JobView> = {}): JobView => ({
  id: 'j',
  number: 1,
  tag: 'T-1',
  board: 'B-1',
  parts: [],
  sheet: {} as JobView['sheet'],
  openedAt: '',
  openedBy: '',
  closedAt: null,
  overall: 'open',
  standings: { 'sensors.gyroRest': { state: 'open' }, 'orientation.level': { state: 'open' } },
  entries: [],
  people: {},
  shop: null,
  bench: { id: 'b', name: 'North bench', heldBy: { id: 'me', name: 'Ines', since: '' }, heldJob: null, hands: true },
  ...change,
})
const gyro = checkById('sensors.gyroRest') as NonNullable<ReturnType<typeof checkById>>
const level = checkById('orientation.level') as NonNullable<ReturnType<typeof checkById>>
const me = { id: 'me', role: 'technician' }
type Link = NonNullable<Parameters<typeof whyNot>[3]>
const state = (power: 'cable' | 'battery', powerId = 'p2'): NonNullable<Link['state']> => ({
  power,
  powerId,
  motors: 'still',
  radio: 'none',
  mode: 'rate',
  refusing: [],
  lossPhase: 'none',
  permit: null,
})
const up: Link = { phase: 'up', board: 'B-1', state: state('cable') }
const shift = checkById('sensors.compassShift') as NonNullable<ReturnType<typeof checkById>>
const confirmed = (powerId: string): JobView['entries'] => [
  {
    format: 2,
    job: 'j',
    seq: 1,
    at: '',
    by: 'me',
    hash: '',
    body: { kind: 'confirmed', what: 'props off', powerId, board: 'B-1' },
  },
]

const withCompass = (change: Partial<JobView> = {}) =>
  job({
    standings: {
      'intake.firstPower': { state: 'absent' },
      'sensors.compass': { state: 'pass', take: 1 },
      'escs.signal': { state: 'absent' },
    },
    ...change,
  })

describe('why a take cannot start', () => {
  test.each([
    ['it can', gyro, job(), me, up, null],
    ['handed over', gyro, job({ closedAt: 'x' }), me, up, 'handed over'],
    ['a reader', gyro, job(), { id: 'me', role: 'reader' }, up, 'reader'],
    ['another check first', level, job(), me, up, 'come first'],
    [
      'parked',
      gyro,
      job({ entries: [{ ...take(1, 'pass'), body: { kind: 'parked', reason: 'Waits for a part.' } }] }),
      me,
      up,
      'parked',
    ],
    ['no bench', gyro, job({ bench: null }), me, up, 'Link a bench'],
    ['held by another', gyro, job(), { id: 'you', role: 'lead' }, up, 'Ines holds North bench'],
    ['no answer', gyro, job(), me, { phase: 'lost', board: null, state: null }, 'does not answer'],
    ['another board', gyro, job(), me, { ...up, board: 'B-2' }, 'Another board'],
    ['motors without the battery', shift, withCompass(), me, up, 'then plug it in'],
    ['motors, props not confirmed', shift, withCompass(), me, { ...up, state: state('battery') }, 'not confirmed off'],
    [
      'motors, props confirmed for an earlier connection',
      shift,
      withCompass({ entries: confirmed('p1') }),
      me,
      { ...up, state: state('battery') },
      'not confirmed off',
    ],
    ['motors, all as wanted', shift, withCompass({ entries: confirmed('p2') }), me, { ...up, state: state('battery') }, null],
  ] as [string, typeof gyro, JobView, typeof me, Link, string | null][])('%s', (_name, check, view, who, link, expected) => {
    const why = whyNot(view, check, who, link)
    if (expected === null) expect(why).toBeNull()
    else expect(why).toContain(expected)
  })
})

describe('findings in words', () => {
  const finding = (change: Partial<Finding>): Finding => ({ key: 'k', value: 1, unit: 'deg', verdict: 'fail', ...change })
  test('limits', () => {
    expect(limitWords(finding({ limit: { min: -0.2, max: 0.2 } }))).toBe('allowed -0.2 to 0.2')
    expect(limitWords(finding({ limit: { max: 0.3 } }))).toBe('at most 0.3')
    expect(limitWords(finding({ limit: { min: 3 } }))).toBe('at least 3')
    expect(limitWords(finding({ verdict: 'shown' }))).toBe('shown, not judged')
  })
  test('a bound as it was written, or four figures of one that was computed', () => {
    expect(limitWords(finding({ limit: { max: 0.005 } }))).toBe('at most 0.005')
    expect(limitWords(finding({ limit: { min: 14.812499, max: 2134.56 } }))).toBe('allowed 14.81 to 2135')
  })
  test('values: three figures, no minus before nought, named parts', () => {
    const told = (value: Finding['value']) => valueWords({ value })
    expect([-0.0001, -0.0009, 0.4854, 5.0049, 22.4837, 1050.8799, 12].map(told)).toEqual([
      ...['0.000', '-0.001', '0.485', '5.00', '22.5', '1051', '12'],
    ])
    const none = finding({ value: {}, limit: { equals: {} } })
    expect([valueWords(none), limitWords(none)]).toEqual(['nothing', 'wanted: nothing'])
    const listed = finding({ value: [], limit: { equals: ['front right', 'rear right'] } })
    expect([valueWords(listed), limitWords(listed)]).toEqual(['nothing', 'wanted: front right, rear right'])
    expect(told([1, 2.5])).toBe('1, 2.5')
    expect(
      told([
        [1, 0.0001],
        [-0.0004, 0.98765],
      ]),
    ).toBe('1 0, 0 0.988')
    expect(told({ pitch: 0, roll: 90, yaw: -45.5 })).toBe('roll 90, pitch 0, yaw -45.5')
  })
  test('a value is never rounded onto a bound, or over one', () => {
    const beside = (value: number, limit: Finding['limit']) => valueWords(finding({ value, limit }))
    expect(beside(5.0004, { max: 5 })).toBe('5.0004')
    expect(beside(4.9996, { max: 5 })).toBe('4.9996')
    expect(beside(5.04, { min: 4, max: 5 })).toBe('5.04')
    expect(beside(0.3, { max: 0.3 })).toBe('0.300')
    expect(beside(1000.4, { max: 1000.2 })).toBe('1000.4')
  })
  test('one remedy for several findings is told once, and passes have none', () => {
    const remedy = { by: 'calibration' as const, act: 'Measure it anew.', calibrate: 'gyro' as const }
    const list = [
      finding({ key: 'a', remedy }),
      finding({ key: 'b', remedy }),
      finding({ key: 'c', remedy: { by: 'technician', act: 'Tighten it.' } }),
      finding({ key: 'd', verdict: 'pass' }),
    ]
    expect(remediesOf(list).map((r) => r.key)).toEqual(['a', 'c'])
    expect(remediesOf(list).map((r) => canDo(r.remedy))).toEqual([true, false])
  })
})

describe('the job card in words', () => {
  test('a stale check names the entry that spoiled it', () => {
    const view = job({ entries: [take(1, 'pass'), knock], standings: { 'sensors.gyroRest': { state: 'stale', take: 1, by: 2 } } })
    expect(standingWords(view, 'sensors.gyroRest')).toBe('spoiled by entry 2: knocked. Fell.')
    expect(standingWords(job(), 'sensors.gyroRest')).toBe('not run yet')
  })
  test('a check whose takes were all refused says so', () =>
    expect(standingWords(job({ entries: [take(1, 'refused'), knock, take(4, 'refused')] }), 'sensors.gyroRest')).toBe(
      'proved nothing yet: take 4 was refused',
    ))
  test('entries are told in a line', () => {
    expect(entryWords(take(1, 'refused'))).toBe('Gyro at rest: refused')
    expect(
      entryWords({
        body: {
          kind: 'change',
          cause: 'remedy of take 1.',
          change: { what: 'settings', settings: [{ name: 'level.roll', from: 0, to: 2 }] },
        },
      }),
    ).toBe('level.roll 0 to 2. Remedy of take 1.')
  })
  test('takes come newest first', () =>
    expect(takesOf(job({ entries: [take(1, 'fail'), knock, take(3, 'pass')] }), 'sensors.gyroRest').map((t) => t.seq)).toEqual([
      3, 1,
    ]))
})

test('every check has its panel', () => {
  for (const check of checks) expect(panels[check.id]).toBeDefined()
})

test('the pages of a window', () => {
  expect(pagesOf(0, 13)).toEqual([0])
  expect(pagesOf(95, 210)).toEqual([0, 1, 2])
})
