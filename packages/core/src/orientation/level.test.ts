import type { Evidence } from '@taraf/contract'
import fc from 'fast-check'
import { attitudeOf, evidenceOf, forceAt, imuOf } from '../../tests/samples'
import { evaluate } from '../evaluate'
import { apply, degrees, fromAngles, inverse, multiply, radians, tiltOf, type Vec3 } from '../rotation'
import { level } from './level'
import { writes } from '../../tests/remedies'

interface Lie {
  readonly offset?: readonly [roll: number, pitch: number]
  readonly plate?: readonly [roll: number, pitch: number]
  readonly g?: number
  readonly seed?: number
}

/** What a board reads whose own attitude to the body is `offset`, on a plate tilted by `plate`, both ways round. */
const placements = ({ offset = [0, 0], plate = [0, 0], g = 9.80665 }: Lie): [Vec3, Vec3] => {
  const onPlate = (yaw: number) =>
    multiply(fromAngles({ roll: radians(plate[0]), pitch: radians(plate[1]), yaw: 0 }), fromAngles({ roll: 0, pitch: 0, yaw }))
  const board = fromAngles({ roll: radians(offset[0]), pitch: radians(offset[1]), yaw: 0 })
  const read = (yaw: number) => apply(inverse(board), apply(inverse(onPlate(yaw)), [0, 0, -g]))
  return [read(0), read(Math.PI)]
}

const take = (forces: [Vec3, Vec3], rest: Partial<Evidence> = {}, seed = 3) =>
  evaluate(
    level,
    evidenceOf(
      'orientation.level',
      [
        { label: 'first', streams: { imu: imuOf({ seconds: 2, stage: 'body', force: forces[0], seed }) } },
        { label: 'second', streams: { imu: imuOf({ seconds: 2, stage: 'body', force: forces[1], seed: seed + 1, startS: 9 }) } },
      ],
      rest,
    ),
  )
const value = (result: ReturnType<typeof take>, key: string) => Number(result.findings.find((f) => f.key === key)?.value)

describe('level by reversal', () => {
  test("tells the airframe's offset from the plate's tilt", () => {
    const small = fc.double({ min: -3, max: 3, noNaN: true })
    fc.assert(
      fc.property(small, small, small, small, fc.integer({ min: 1, max: 1e6 }), (roll, pitch, plateRoll, platePitch, seed) => {
        const result = take(placements({ offset: [roll, pitch], plate: [plateRoll, platePitch] }), {}, seed)
        // Noise of 401 samples leaves about 0.01 deg; the two tilts couple by their product, under 0.15 deg here.
        expect(value(result, 'rollOffset')).toBeCloseTo(roll, 0)
        expect(Math.abs(value(result, 'rollOffset') - roll)).toBeLessThan(0.2)
        expect(Math.abs(value(result, 'pitchOffset') - pitch)).toBeLessThan(0.2)
        expect(Math.abs(value(result, 'plateRoll') - plateRoll)).toBeLessThan(0.2)
        expect(Math.abs(value(result, 'platePitch') - platePitch)).toBeLessThan(0.2)
      }),
      { numRuns: 60 },
    )
  })

  test('a level airframe on a crooked plate passes', () => {
    const result = take(placements({ offset: [0.1, -0.2], plate: [4, -3] }))
    expect(result.verdict).toBe('pass')
    expect(result.findings.find((f) => f.key === 'plateRoll')?.verdict).toBe('shown')
  })

  test('the trim that it computes takes the offset away, on top of one that is in force', () => {
    const angle = fc.double({ min: -7, max: 7, noNaN: true })
    fc.assert(
      fc.property(angle, angle, angle, angle, (roll, pitch, oldRoll, oldPitch) => {
        fc.pre(Math.max(Math.abs(roll), Math.abs(pitch)) > 0.6)
        const trim = (r: number, p: number) => fromAngles({ roll: radians(r), pitch: radians(p), yaw: 0 })
        // The untrimmed reading is such that the trim in force leaves exactly this offset.
        const left = forceAt(roll, pitch)
        const untrimmed = apply(inverse(trim(oldRoll, oldPitch)), left)
        const result = take([left, left], { board: { level: { roll: oldRoll, pitch: oldPitch } } })
        const settings = writes(
          result.findings.find((f) => (f.key === 'rollOffset' || f.key === 'pitchOffset' ? f.remedy : undefined)),
        )
        const after = tiltOf(apply(trim(settings?.['level.roll'] ?? NaN, settings?.['level.pitch'] ?? NaN), untrimmed))
        expect(Math.abs(degrees(after.roll))).toBeLessThan(0.05)
        expect(Math.abs(degrees(after.pitch))).toBeLessThan(0.05)
      }),
      { numRuns: 60 },
    )
  })

  test('with the trim written within the take, what is left where it lies decides, whatever the plate', () => {
    const plate = [1.5, -0.8] as const
    const [first, second] = placements({ offset: [2, -1], plate })
    const proved = (left: readonly [number, number]) => {
      const proof = imuOf({ seconds: 2, stage: 'body', force: placements({ offset: left, plate })[1], seed: 8, startS: 20 })
      const document = evidenceOf('orientation.level', [
        { label: 'first', streams: { imu: imuOf({ seconds: 2, stage: 'body', force: first }) } },
        { label: 'second', streams: { imu: imuOf({ seconds: 2, stage: 'body', force: second, seed: 2, startS: 9 }) } },
        { label: 'proof', streams: { imu: proof } },
      ])
      return evaluate(level, { ...document, written: { 'level.roll': 2, 'level.pitch': -1 } })
    }
    expect(proved([0.1, -0.2]).verdict).toBe('pass')
    expect(value(proved([0.1, -0.2]), 'rollOffset')).toBeCloseTo(0.1, 1)
    expect(value(proved([0.1, -0.2]), 'rollOffsetBefore')).toBeCloseTo(2, 1)
    expect(proved([0.9, 0]).verdict).toBe('fail')
  })

  test('the remedy says in words how the board sits', () => {
    const remedy = take(placements({ offset: [-1.5, 2] })).findings.find((f) => f.key === 'rollOffset')?.remedy
    expect(remedy?.act).toBe('The board sits 1.5 deg left side down and 2.0 deg nose up. Write this level trim.')
  })

  test('the magnitude is judged against gravity at the place', () => {
    const there = { place: { lat: 54.2 } }
    expect(take(placements({ g: 9.8145 }), there).verdict).toBe('pass')
    const weak = take(placements({ g: 9.55 }), there)
    expect(weak.findings.find((f) => f.key === 'magnitude')).toMatchObject({
      verdict: 'fail',
      remedy: { act: expect.stringContaining('six poses') as string },
    })
  })

  test.each([
    ['over 15 deg', placements({ offset: [16, 0] }), 'leans by 16.0 deg'],
    [
      'upside down',
      [
        [0, 0, 9.81],
        [0, 0, 9.81],
      ] as [Vec3, Vec3],
      'upside down',
    ],
  ])('%s is refused', (_name, forces, why) => {
    const result = take(forces)
    expect(result.verdict).toBe('refused')
    expect(result.findings[0]?.value).toContain(why)
  })

  test('an airframe that was not turned by half a turn is refused, where the yaw was captured', () => {
    const laid = (yaw: number, startS: number) => ({
      imu: imuOf({ seconds: 2, stage: 'body', startS }),
      attitude: attitudeOf(yaw),
    })
    const turned = (yaw: number) =>
      evaluate(
        level,
        evidenceOf('orientation.level', [
          { label: 'first', streams: laid(10, 0) },
          { label: 'second', streams: laid(yaw, 9) },
        ]),
      )
    expect(turned(10).findings[0]?.value).toContain('turned by 0 deg')
    expect(turned(-175).verdict).toBe('pass')
  })

  test('another stage than body, a missing placement and a moving one are refused', () => {
    const first = { label: 'first', streams: { imu: imuOf({ seconds: 2, stage: 'body' }) } }
    const second = (wish: Parameters<typeof imuOf>[0]) => ({ label: 'second', streams: { imu: imuOf({ seconds: 2, ...wish }) } })
    const refused = (...segments: Evidence['segments']) =>
      evaluate(level, evidenceOf('orientation.level', segments)).findings[0]?.value
    expect(refused(first)).toContain('segment "second" is missing')
    expect(refused(first, second({ stage: 'raw' }))).toContain('stage raw')
    expect(refused(first, second({ stage: 'body', bend: (i) => (i > 200 ? { rateDegPerS: [0, 0, 40] } : null) }))).toContain(
      '"second"',
    )
  })
})
