import { evidence as schema, type Evidence, type EvidenceInput } from '@taraf/contract'
import { checkById } from '../checks'
import { evaluate } from '../evaluate'
import { hoverProof } from './otherwise'

const check = checkById(hoverProof)
if (check === undefined) throw new Error('there is no hop')
const g = 9.80665
const rowsHz = 200

interface Flown {
  readonly command: number
  /** When it lifts off and when it is down again, s. */
  readonly up: number
  readonly down: number
  /** What it feels as it lifts off, and in hover, of its weight. */
  readonly lifts: number
  readonly feels: number
  readonly roll: number
  readonly pitch: number
  /** A swing of the roll rate, deg/s, at a frequency, and a shake along x, m/s2. */
  readonly swing: readonly [degS: number, hz: number]
  readonly shake: readonly [mps2: number, hz: number]
  readonly volts: number
  /** From when to when it was sampled at 2 kHz, s; null where it was not. */
  readonly burst: readonly [from: number, to: number] | null
  /** How far the roll swings to either side, deg, slower than once a second. */
  readonly sways: number
  readonly outputs: Readonly<Record<string, (at: number) => number>>
  readonly events: NonNullable<EvidenceInput['segments'][number]['events']>
}
const usual: Flown = {
  command: 0.36,
  up: 2,
  down: 12,
  lifts: 1.12,
  feels: 1,
  roll: 0.4,
  pitch: -0.6,
  swing: [0, 5],
  shake: [0, 60],
  volts: 16.1,
  burst: [6, 8],
  sways: 0,
  outputs: {},
  events: [
    { t: 0.5, what: 'armed' },
    { t: 14, what: 'disarmed', cause: 'switch' },
  ],
}
const rad = Math.PI / 180
const burstOf = (f: Flown, [from, to]: readonly [number, number]) => {
  const t = Float64Array.from({ length: (to - from) * 2000 }, (_, i) => from + i / 2000)
  const shakes = t.map((at) => f.shake[0] * Math.SQRT2 * Math.sin(2 * Math.PI * f.shake[1] * at))
  const still = (k: number) => t.map((_, i) => 1e-4 * Math.sin(12.9898 * i + k))
  return {
    stage: 'raw' as const,
    t,
    ax: shakes.map((x, i) => x + 1e-4 * Math.sin(i)),
    ay: still(2),
    az: still(3).map((x) => x - g),
    gx: still(4),
    gy: still(5),
    gz: still(6),
  }
}
const hop = (how: Partial<Flown> = {}, more: Partial<EvidenceInput> = {}): Evidence => {
  const f = { ...usual, ...how }
  const t = Float64Array.from({ length: 14 * rowsHz }, (_, i) => i / rowsHz)
  const of = (at: (t: number, i: number) => number) => t.map(at)
  const flies = (at: number) => at >= f.up && at < f.down
  // A live sensor trembles.
  const trembles = (i: number, k: number) => 1e-4 * Math.sin(12.9898 * i + k)
  return schema.parse({
    format: 'taraf-evidence/1',
    check: hoverProof,
    sheet: { rotor: { hover: 0.39 }, pack: { cells: 4 } },
    segments: [
      {
        label: 'hop',
        events: f.events,
        streams: {
          outputs: {
            t,
            command: of((at) => (flies(at) ? f.command : 0)),
            ...Object.fromEntries(Object.entries(f.outputs).map(([name, at]) => [name, of((s) => (flies(s) ? at(s) : 0))])),
          },
          attitude: {
            t,
            roll: of((at) => (flies(at) ? (f.roll + f.sways * Math.sin(2 * Math.PI * 0.36 * at)) * rad : 0)),
            pitch: of((at) => (flies(at) ? f.pitch * rad : 0)),
            yaw: of((_, i) => trembles(i, 7)),
          },
          imu: {
            stage: 'body',
            t,
            ax: of(
              (at, i) => (flies(at) ? f.shake[0] * Math.SQRT2 * Math.sin(2 * Math.PI * f.shake[1] * at) : 0) + trembles(i, 1),
            ),
            ay: of((_, i) => trembles(i, 2)),
            az: of((at, i) => -g * (at >= f.up && at < f.up + 0.2 ? f.lifts : flies(at) ? f.feels : 1) + trembles(i, 3)),
            gx: of(
              (at, i) =>
                (flies(at) ? f.swing[0] * rad * Math.SQRT2 * Math.sin(2 * Math.PI * f.swing[1] * at) : 0) + trembles(i, 4),
            ),
            gy: of((_, i) => trembles(i, 5)),
            gz: of((_, i) => trembles(i, 6)),
          },
          ...(f.burst === null ? {} : { imuBurst: burstOf(f, f.burst) }),
          power: { t, volts: of(() => f.volts), amps: of((at) => (flies(at) ? 8 : 0.4)), mah: of((at) => at) },
        },
      },
    ],
    ...more,
  } satisfies EvidenceInput)
}
const found = (evidence: Evidence) => {
  const { verdict, findings } = evaluate(check, evidence)
  return { verdict, of: (key: string) => findings.find((one) => one.key === key), findings }
}
const refused = (evidence: Evidence) => {
  const { verdict, findings } = found(evidence)
  expect(verdict).toBe('refused')
  return findings[0]?.value
}

test('what holds it up, how it leans, and at what volts and amps: the middle of the hover, without its ends', () => {
  const { verdict, of } = found(hop())
  expect(verdict).toBe('pass')
  expect(of('hoverThrottle')?.value).toBeCloseTo(0.36, 6)
  expect(of('rollTrim')?.value).toBeCloseTo(0.4, 6)
  expect(of('pitchTrim')?.value).toBeCloseTo(-0.6, 6)
  expect(of('volts')?.value).toBeCloseTo(16.1, 4)
  expect(of('amps')?.value).toBeCloseTo(8, 4)
  expect(of('seconds')?.value).toBeCloseTo(8, 1)
  // At 16.1 V what holds it up is a share of 16.1 / 14.8 more at mid-pack: 0.3916 against the 0.39 of the sheet.
  expect(of('over')?.value).toBeCloseTo(100 * ((0.36 * 16.1) / 14.8 - 0.39), 6)
})

test('each output counts, each lean, each moment: what hides in a mean fails, and what was not seen proves nothing', () => {
  const booms = [1, 2, 3].map((output) => ({
    name: `boom ${output}`,
    bearingDeg: 90 * output,
    radiusM: 0.1,
    motors: [{ tier: 'only', output, turn: 'clockwise' }],
  }))
  const sheet = {
    rotor: { hover: 0.39 },
    pack: { cells: 4 },
    geometry: { booms, body: { lengthM: 0.1, widthM: 0.1 }, propDiameterM: 0.1 },
  }
  const with2 = (at: (s: number) => number) =>
    found(hop({ outputs: { o1: () => 0.4, o2: at, o3: () => 0.4 } }, { sheet: sheet as EvidenceInput['sheet'] }))
  expect(with2(() => 0.4).of('outputs')).toMatchObject({ verdict: 'pass' })
  expect(with2((at) => (at > 6 && at < 6.3 ? 1 : 0.4)).of('outputs')).toMatchObject({ value: 'output 2 is at its limit' })
  expect(with2((at) => (at > 6 && at < 6.3 ? 0.01 : 0.4)).of('outputs')).toMatchObject({ value: 'output 2 stands' })
  expect(found(hop({ sways: 20 })).of('sway')).toMatchObject({ verdict: 'fail' })
  expect(found(hop({ command: 0.85 })).of('hoverThrottle')).toMatchObject({ verdict: 'fail' })
  expect(refused(hop({ burst: null }))).toMatch(/no burst of the hover/)
  expect(refused(hop({ burst: [0, 2] }))).toMatch(/no burst of the hover/)
  expect(refused(hop({ down: 20, events: [{ t: 0.5, what: 'armed' }] }))).toMatch(/before it had landed/)
  const twice = [...usual.events, { t: 13, what: 'armed' as const }].sort((a, b) => a.t - b.t)
  expect(refused(hop({ events: twice }))).toMatch(/more than once/)
})

test('a swing and a shake are told by their closed forms, each within its own band', () => {
  const { of } = found(hop({ swing: [3, 5], shake: [2, 60] }))
  expect(of('wobble')?.value).toBeCloseTo(3, 1)
  expect(of('vibration')?.value).toBeCloseTo(2, 1)
  const apart = found(hop({ swing: [3, 40], shake: [2, 8] }))
  expect(apart.of('wobble')?.value).toBeLessThan(0.05)
  expect(apart.of('vibration')?.value).toBeLessThan(0.05)
})

test.each([
  ['over', { command: 0.43 }, 'take load off'],
  ['vibration', { shake: [12, 60] as const }, 'replace prop'],
] as const)('%s fails over its limit, and names the work', (key, how, work) => {
  const { verdict, of } = found(hop(how))
  expect(verdict).toBe('fail')
  expect(of(key)).toMatchObject({ verdict: 'fail', remedy: { by: 'work', work: [work] } })
})

test('a lean over its limit is trimmed away', () => {
  const level = { roll: 0.5, pitch: 0 }
  const { of } = found(hop({ roll: 3, pitch: 0 }, { board: { level } }))
  expect(of('rollTrim')).toMatchObject({
    verdict: 'fail',
    remedy: { by: 'settings', settings: { 'level.roll': 3.5, 'level.pitch': 0 } },
  })
})

test('a swing over its limit, and one that turned over', () => {
  expect(found(hop({ swing: [9, 4] })).of('wobble')?.verdict).toBe('fail')
  const { verdict, findings } = found(hop({ roll: 75 }))
  expect([verdict, findings.map(({ key }) => key)]).toEqual(['fail', ['tips']])
})

test.each([
  ['stands on the ground', { lifts: 1 }, 'never left the ground'],
  ['is held up for two seconds', { down: 5.9 }, 'not held up for 3 s'],
  ['climbs all the while', { feels: 1.06 }, 'did not keep its height'],
  ['was never armed', { events: [{ t: 1, what: 'disarmed' as const }] }, 'not armed'],
  [
    'lost its signal',
    { events: [...usual.events, { t: 6, what: 'loss' as const, phase: 'wait' }] },
    'signal was lost in the air',
  ],
  ['was disarmed in the air', { events: [...usual.events, { t: 6, what: 'disarmed' as const }] }, 'disarmed in the air'],
])('one that %s proves nothing', (_what, how, why) => {
  expect(refused(hop(how))).toContain(why)
})

test('with nearly all that it has, one that stays on the ground fails: nobody flew it wrong', () => {
  for (const how of [
    { lifts: 1, command: 0.9 },
    { down: 4, command: 0.9 },
  ])
    expect(found(hop(how)).findings).toMatchObject([
      {
        key: 'lifts',
        verdict: 'fail',
        value: 'stays on the ground at 90 % of full command',
        remedy: { work: ['put right prop'] },
      },
    ])
})

test('what was not so before it lifted is said, and nothing is judged', () => {
  const observations = [{ segment: 'place', item: 'hopProps', answer: false }]
  expect(refused(hop({}, { observations }))).toContain('not so: On each position its prop')
})

test('against others of its type, where there are three that agree; never against itself', () => {
  const airframe = { tag: 'N4-009', board: 'FB-1', parts: [] }
  const others = (...commands: number[]) => commands.map((command, i) => ({ tag: `N4-00${i}`, command, volts: 14.8 }))
  const over = (hovers: Evidence['hovers']) => found(hop({}, { airframe, hovers })).of('over')?.value as number
  expect(over(others(0.35, 0.36, 0.355))).toBeCloseTo(100 * ((0.36 * 16.1) / 14.8 - 0.355), 6)
  expect(over([...others(0.35, 0.36), { tag: 'N4-009', command: 0.3, volts: 14.8 }])).toBeCloseTo(
    100 * ((0.36 * 16.1) / 14.8 - 0.39),
    6,
  )
})

test('the burst of the hover is what shaking is told by: rows that are too slow for it hide it', () => {
  const evidence = hop()
  const rate = 4000
  const t = Float64Array.from({ length: rate }, (_, i) => 6 + i / rate)
  // At 200 rows a second a shake of 200 Hz stands still.
  const shakes = t.map((at) => 12 * Math.SQRT2 * Math.sin(2 * Math.PI * 200 * at) + 1e-4 * Math.sin(77 * at))
  const still = t.map((_, i) => 1e-4 * Math.sin(12.9898 * i))
  const imuBurst = {
    stage: 'raw' as const,
    t,
    ax: shakes,
    ay: still,
    az: still.map((v) => v - g),
    gx: still,
    gy: still,
    gz: still,
  }
  const [segment] = evidence.segments
  const withBurst = { ...evidence, segments: [{ ...segment, streams: { ...segment?.streams, imuBurst } }] } as Evidence
  expect(found(withBurst).of('vibration')).toMatchObject({ verdict: 'fail' })
  expect(found(withBurst).of('vibration')?.value).toBeCloseTo(12, 1)
})
