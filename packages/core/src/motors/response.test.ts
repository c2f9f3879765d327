import type { Evidence, Finding, Geometry, Observation, Segment, SheetPart } from '@taraf/contract'
import fc from 'fast-check'
import { evaluate } from '../evaluate'
import { mixerOf, positionsOf } from '../geometry'
import { response } from './response'

const ring = (bearings: readonly number[]): Geometry => ({
  body: { lengthM: 0.2, widthM: 0.1 },
  propDiameterM: 0.1,
  booms: bearings.map((bearingDeg, i) => ({
    name: `boom ${i + 1}`,
    bearingDeg,
    radiusM: 0.2,
    motors: [{ tier: 'only', output: i + 1, turn: i % 2 === 0 ? 'clockwise' : 'anticlockwise' }],
  })),
})
const quad = ring([45, 135, 225, 315])
const rate = 200
const column = (n: number, of: (i: number) => number) => Float64Array.from({ length: n }, (_, i) => of(i))

const wanted = {
  'right-down': [-1, 0, 0],
  'left-down': [1, 0, 0],
  'nose-up': [0, -1, 0],
  'nose-down': [0, 1, 0],
  'turn-right': [0, 0, -1],
  'turn-left': [0, 0, 1],
} as const
const tiltOf = { 'right-down': [15, 0], 'left-down': [-15, 0], 'nose-up': [0, 15], 'nose-down': [0, -15] } as const
type Label = keyof typeof wanted

/** A segment as a board that levels makes it: throttle up after a second, and pushes by the mixer, perhaps bent. */
const held = (label: Label | 'level', geometry: Geometry, bend: Bend = {}): Segment => {
  const n = 400
  const [roll, pitch] = bend.tilts?.[label] ?? tiltOf[label as keyof typeof tiltOf] ?? [0, 0]
  const turning = label.startsWith('turn') ? (label === 'turn-right' ? 1 : -1) * (bend.turnRate ?? 1) : 0
  const axes = label === 'level' ? [0, 0, 0] : (bend.push?.[label] ?? wanted[label])
  const mirrored = bend.mirrored === true ? -1 : 1
  const shares = mixerOf(positionsOf(geometry)).map(
    (row) => 0.06 * ((axes[0] ?? 0) * row.roll + (axes[1] ?? 0) * row.pitch + mirrored * (axes[2] ?? 0) * row.yaw),
  )
  const up = (i: number) => i >= 200 && bend.low !== label
  const moves = (i: number) => (turning === 0 ? 0 : i >= 250 ? turning : 0)
  const t = column(n, (i) => 3 + i / rate)
  const rad = Math.PI / 180
  const g = 9.81
  let state = 7
  const noise = () => 0.01 * ((state = (state * 48271) % 2147483647) / 2147483647 - 0.5)
  return {
    label,
    streams: {
      outputs: {
        t,
        ...Object.fromEntries(
          shares.map((share, i) => [
            `o${i + 1}`,
            column(n, (k) => 0.06 + (up(k) ? 0.15 + (turning === 0 || moves(k) !== 0 ? share : 0) : 0)),
          ]),
        ),
        command: column(n, (k) => (up(k) ? 0.15 : 0)),
      },
      attitude: {
        t,
        roll: column(n, () => roll * rad),
        pitch: column(n, () => pitch * rad),
        yaw: column(n, (i) => (turning * Math.max(0, i - 250)) / rate),
      },
      imu: {
        stage: 'body',
        t,
        ax: column(n, () => g * Math.sin(pitch * rad) + noise()),
        ay: column(n, () => -g * Math.cos(pitch * rad) * Math.sin(roll * rad) + noise()),
        az: column(n, () => -g * Math.cos(pitch * rad) * Math.cos(roll * rad) + noise()),
        gx: column(n, noise),
        gy: column(n, noise),
        gz: column(n, (k) => moves(k) + noise()),
      },
    },
  } as unknown as Segment
}
interface Bend {
  readonly push?: Partial<Record<Label, readonly number[]>>
  readonly tilts?: Partial<Record<string, readonly [number, number]>>
  readonly turnRate?: number
  readonly mirrored?: boolean
  readonly low?: string
}
const found = (
  geometry: Geometry,
  bend: Bend = {},
  observations: readonly Observation[] = [],
  more: readonly Segment[] = [],
): Finding[] => {
  const sheet: SheetPart = { geometry, escs: { understands: ['DShot300'], settings: {} }, switches: [] }
  const labels = ['level', ...(Object.keys(wanted) as Label[])] as const
  return evaluate(response, {
    format: 'taraf-evidence/1',
    check: 'motors.response',
    sheet,
    board: { settings: bend.mirrored === true ? { 'motors.mirrored': 1 } : {} },
    segments: [...more, ...labels.map((label) => held(label, geometry, bend))],
    observations: [...observations],
  } as Evidence).findings
}
const fails = (list: readonly Finding[]) => list.filter((f) => f.verdict === 'fail').map((f) => f.key)
const refused = (list: readonly Finding[]) => list.find((f) => f.verdict === 'refused')?.value

test('a quad that levels: the side that is down, the tail under a raised nose, and the pair that turns it back', () => {
  const list = found(quad)
  expect(refused(list)).toBeUndefined()
  expect(fails(list)).toEqual([])
  const of = (key: string) => list.find((f) => f.key === `${key}.harder`)?.value
  // Common practice: what is down is pushed up; an anticlockwise prop pushes the nose right, a clockwise one left.
  expect(of('right-down')).toEqual(['boom 1', 'boom 2'])
  expect(of('nose-up')).toEqual(['boom 2', 'boom 3'])
  expect(of('turn-right')).toEqual(['boom 1', 'boom 3'])
  expect(fails(found(quad, { mirrored: true }))).toEqual([])
})

test('any ring of six to eight booms passes by its own mixer, and fails in each axis that is the other way', () => {
  fc.assert(
    fc.property(
      fc.constantFrom(6, 8),
      fc.integer({ min: 0, max: 29 }),
      fc.constantFrom(...(Object.keys(wanted) as Label[])),
      (n, first, label) => {
        const geometry = ring(Array.from({ length: n }, (_, i) => first + (360 / n) * i))
        const bent = { [label]: wanted[label].map((axis) => -axis) }
        return fails(found(geometry)).length === 0 && fails(found(geometry, { push: bent })).join() === `${label}.harder`
      },
    ),
    { numRuns: 25 },
  )
})

test('a board that does not push at all, or about another axis', () => {
  expect(fails(found(quad, { push: { 'nose-up': [0, 0, 0], 'right-down': [0, -1, 0] } }))).toEqual([
    'right-down.harder',
    'nose-up.harder',
  ])
})

test('held otherwise than asked, turned too little, throttle left down, never armed: no evidence', () => {
  expect(refused(found(quad, { tilts: { 'nose-up': [0, 4] } }))).toBe(
    'it was to be held with its nose up by 10 deg or more, and was 4 deg',
  )
  expect(refused(found(quad, { tilts: { 'left-down': [15, 0] } }))).toMatch(/left side down/)
  expect(refused(found(quad, { tilts: { 'right-down': [15, 14] } }))).toMatch(/leant 14 deg aside/)
  expect(refused(found(quad, { turnRate: 0.3 }))).toMatch(/turned to the right by 20 deg/)
  expect(refused(found(quad, { tilts: { 'turn-left': [0, 6] } }))).toMatch(
    /leant by 6 deg as the board sees it, turned to the left/,
  )
  expect(refused(found(quad, { low: 'nose-down' }))).toMatch(/nose down/)
  expect(refused(found(quad, { low: 'level' }))).toMatch(/held level/)
  const arm = {
    label: 'arm',
    streams: {},
    events: [{ t: 1, what: 'refusing', reasons: ['throttle', 'tilt'] }],
  } as unknown as Segment
  expect(refused(found(quad, {}, [], [arm]))).toBe('the board refused to arm: throttle, tilt')
})

test('motors that answered elsewhere than the board asked were tapped in exchange', () => {
  const felt = (answer: string): Observation[] => [{ segment: 'felt', item: 'faster right-down', answer }]
  expect(fails(found(quad, {}, felt('right')))).toEqual([])
  expect(found(quad, {}, felt('not told')).map((f) => f.key)).not.toContain('faster right-down')
  const list = found(quad, {}, felt('rear'))
  expect(fails(list)).toEqual(['faster right-down'])
  expect(list.find((f) => f.key === 'faster right-down')?.remedy).toMatchObject({ work: ['look at motor leads'] })
})
