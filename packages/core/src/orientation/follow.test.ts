import type { Evidence } from '@taraf/contract'
import { randomFrom } from '../../../rig/src/random'
import { evaluate } from '../evaluate'
import { apply, fromAngles, inverse, multiply, radians, toAngles, type Rotation } from '../rotation'
import { inDegrees } from '../../tests/poses'
import { follow } from './follow'

const g = 9.80665
/** What a board says whose told mounting is off by a rotation: body axes as it takes them. */
const segment = (label: string, attitudes: readonly Rotation[], wrong: Rotation, yawGain = 1) => {
  const t = Float64Array.from(attitudes, (_, i) => i * 0.005)
  const said = attitudes.map((a) => multiply(a, inverse(wrong)))
  const forces = said.map((a) => apply(inverse(a), [0, 0, -g]))
  const rates = said.map((a, i) => {
    const next = said[Math.min(said.length - 1, i + 1)] ?? a
    const d = multiply(inverse(a), next)
    return [(d[2][1] - d[1][2]) / 0.01, (d[0][2] - d[2][0]) / 0.01, (d[1][0] - d[0][1]) / 0.01]
  })
  const angles = said.map(toAngles)
  const random = randomFrom(label.length)
  const column = (of: (i: number) => number) => Float32Array.from(attitudes, (_, i) => of(i))
  const felt = (noise: number, of: (i: number) => number) => column((i) => of(i) + noise * random.normal())
  return {
    label,
    streams: {
      imu: {
        stage: 'body' as const,
        t,
        ax: felt(0.03, (i) => forces[i]?.[0] ?? NaN),
        ay: felt(0.03, (i) => forces[i]?.[1] ?? NaN),
        az: felt(0.03, (i) => forces[i]?.[2] ?? NaN),
        gx: felt(0.001, (i) => rates[i]?.[0] ?? NaN),
        gy: felt(0.001, (i) => rates[i]?.[1] ?? NaN),
        gz: felt(0.001, (i) => yawGain * (rates[i]?.[2] ?? NaN)),
      },
      attitude: {
        t,
        roll: column((i) => angles[i]?.roll ?? NaN),
        pitch: column((i) => angles[i]?.pitch ?? NaN),
        yaw: column((i) => angles[i]?.yaw ?? NaN),
      },
    },
  }
}
const still = (a: Rotation) => Array.from({ length: 201 }, () => a)
const turn = (deg: number) =>
  Array.from({ length: 601 }, (_, i) => fromAngles({ roll: 0, pitch: 0, yaw: radians((deg * i) / 600) }))
const take = (wrong: Rotation, { turned = 90, yawGain = 1, noseUp = 45, rightDown = inDegrees(45, 0, 0) } = {}) =>
  evaluate(follow, {
    format: 'taraf-evidence/1',
    check: follow.id,
    sheet: {},
    board: {},
    segments: [
      segment('level', still(inDegrees(0, 0, 0)), wrong),
      segment('nose-up', still(inDegrees(0, noseUp, 0)), wrong),
      segment('right-down', still(rightDown), wrong),
      segment('nose-right', turn(turned), wrong, yawGain),
    ],
  } satisfies Evidence)
const failing = (found: ReturnType<typeof take>) => found.findings.filter((f) => f.verdict === 'fail').map((f) => f.key)

test('a board that is told how it sits follows', () => {
  const found = take(inDegrees(0, 0, 0))
  expect(found.verdict).toBe('pass')
  expect(Object.fromEntries(found.findings.map((f) => [f.key, Math.round(Number(f.value)) + 0]))).toEqual({
    level: 0,
    noseUp: 45,
    rightDown: 45,
    noseUpAside: 0,
    rightDownAside: 0,
    noseRight: 90,
    tiltApart: 0,
    yawApart: 0,
  })
})

test.each([
  ['a quarter turn left untold', inDegrees(0, 0, -90), ['noseUp', 'rightDown']],
  ['half a turn untold', inDegrees(0, 0, 180), ['noseUp', 'rightDown']],
  ['an eighth of a turn untold', inDegrees(0, 0, 60), ['noseUpAside', 'rightDownAside']],
  ['upside down untold', inDegrees(180, 0, 0), ['level']],
] as const)('%s is seen', (_name, wrong, keys) => {
  const found = failing(take(wrong))
  for (const key of keys) expect(found).toContain(key)
})

test('a yaw that does not go as far as the turn rate says fails, however small the turn', () => {
  expect(failing(take(inDegrees(0, 0, 0), { yawGain: 1.3 }))).toEqual(['yawApart'])
  expect(failing(take(inDegrees(0, 0, 0), { turned: 48, yawGain: 1.3 }))).toEqual(['yawApart'])
  expect(take(inDegrees(0, 0, 0), { turned: 48 }).verdict).toBe('pass')
})

test('what was held or turned otherwise than it was asked for proves nothing, and blames no mounting', () => {
  const why = (found: ReturnType<typeof take>) => [found.verdict, String(found.findings[0]?.value)]
  expect(why(take(inDegrees(0, 0, 0), { turned: -90 }))).toEqual([
    'refused',
    expect.stringContaining('turned nose left, by 90 deg'),
  ])
  expect(why(take(inDegrees(0, 0, 0), { noseUp: -45 }))).toEqual(['refused', expect.stringContaining('do not go together')])
  expect(why(take(inDegrees(0, 0, 0), { rightDown: inDegrees(0, 45, 0) }))).toEqual([
    'refused',
    expect.stringContaining('do not go together'),
  ])
})

test('an attitude that jumps for a moment while it is held proves nothing, though its mean is right', () => {
  const segments = [
    segment('level', still(inDegrees(0, 0, 0)), inDegrees(0, 0, 0)),
    segment('nose-up', still(inDegrees(0, 45, 0)), inDegrees(0, 0, 0)),
    segment('right-down', still(inDegrees(45, 0, 0)), inDegrees(0, 0, 0)),
    segment('nose-right', turn(90), inDegrees(0, 0, 0)),
  ]
  segments[2]?.streams.attitude.roll.fill(-2.2, 40, 46)
  const found = evaluate(follow, { format: 'taraf-evidence/1', check: follow.id, sheet: {}, board: {}, segments })
  expect([found.verdict, String(found.findings[0]?.value)]).toEqual(['refused', expect.stringContaining('strayed')])
})

test('an attitude that stands while the gyro turns is frozen', () => {
  const whole = take(inDegrees(0, 0, 0))
  expect(whole.verdict).toBe('pass')
  const segments = [
    segment('level', still(inDegrees(0, 0, 0)), inDegrees(0, 0, 0)),
    segment('nose-up', still(inDegrees(0, 45, 0)), inDegrees(0, 0, 0)),
    segment('right-down', still(inDegrees(45, 0, 0)), inDegrees(0, 0, 0)),
    segment('nose-right', turn(90), inDegrees(0, 0, 0)),
  ]
  segments[3]?.streams.attitude.yaw.fill(0.2)
  const found = evaluate(follow, { format: 'taraf-evidence/1', check: follow.id, sheet: {}, board: {}, segments })
  expect([found.verdict, String(found.findings[0]?.value)]).toEqual(['refused', expect.stringContaining('frozen')])
})

test('too small a turn proves nothing', () => {
  const found = take(inDegrees(0, 0, 0), { turned: 20 })
  expect(found.verdict).toBe('refused')
  expect(String(found.findings[0]?.value)).toContain('only 20 deg')
})
