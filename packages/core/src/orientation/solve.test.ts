import type { Held } from '../held'
import { angleBetween, apply, degrees, inverse, radians, type Rotation, type Vec3 } from '../rotation'
import { seated, strayed, uniformFrom, upOf } from '../../tests/poses'
import { mountings } from './mountings'
import { isSolved, solveMounting } from './solve'

const g = 9.80665
/** What the board reads of an up direction in body axes, with the noise that a mean of samples has. */
const heldAs = (toBody: Rotation, up: Vec3, uniform: () => number): Held => {
  const [x, y, z] = apply(inverse(toBody), strayed(up, 0.002, uniform))
  return { force: [x * g, y * g, z * g], spread: 0.006 }
}

const draw = (seed: number) => {
  const uniform = uniformFrom(seed * 7919 + 13)
  for (let i = 0; i < 5; i++) uniform()
  const mounting = mountings[Math.floor(uniform() * mountings.length)] as (typeof mountings)[0]
  const toBody = seated(mounting.rotation, radians(8), uniform)
  const tilt = () => radians(20 + 70 * uniform())
  const tilts = [tilt(), tilt()] as const
  const askew = (up: Vec3) => strayed(up, radians(15), uniform)
  const [level, nose, right] = [upOf.level, askew(upOf.noseUp(tilts[0])), askew(upOf.rightDown(tilts[1]))]
  return { uniform, mounting, toBody, tilts, level, nose, right }
}

describe('over all 32 mountings, seating errors to 8 deg, tilts of 20 to 90 deg held to 15 deg askew', () => {
  const count = 10_000
  const draws = Array.from({ length: count }, (_, seed) => draw(seed))

  test('in 10,000 draws none is named wrong, and of those with tilts of 45 deg or more at least 99 % are accepted', () => {
    const wrong: number[] = []
    let [steep, accepted] = [0, 0]
    draws.forEach(({ uniform, mounting, toBody, tilts, level, nose, right }, seed) => {
      const found = solveMounting(heldAs(toBody, level, uniform), heldAs(toBody, nose, uniform), heldAs(toBody, right, uniform))
      if (isSolved(found) && found.mounting !== mounting) wrong.push(seed)
      if (Math.min(...tilts) < radians(45)) return
      steep += 1
      if (isSolved(found)) accepted += 1
    })
    expect(wrong).toEqual([])
    expect(steep).toBeGreaterThan(3_000)
    expect(accepted / steep).toBeGreaterThanOrEqual(0.99)
  })

  test('one tilt the wrong way is always refused, whichever it is', () => {
    const mirrored = ([x, y, z]: Vec3): Vec3 => [-x, -y, z]
    const taken: number[] = []
    draws.forEach(({ uniform, toBody, level, nose, right }, seed) => {
      const [n, r] = seed % 2 === 0 ? [mirrored(nose), right] : [nose, mirrored(right)]
      if (isSolved(solveMounting(heldAs(toBody, level, uniform), heldAs(toBody, n, uniform), heldAs(toBody, r, uniform))))
        taken.push(seed)
    })
    expect(taken).toEqual([])
  })

  test('the same tilt twice, and small poses, are always refused', () => {
    const taken: number[] = []
    draws.forEach(({ uniform, toBody, level, nose }, seed) => {
      const twice = strayed(nose, radians(15), uniform)
      const small = strayed(upOf.rightDown(radians(19.5 * uniform())), 0.001, uniform)
      for (const second of [twice, small])
        if (
          isSolved(solveMounting(heldAs(toBody, level, uniform), heldAs(toBody, nose, uniform), heldAs(toBody, second, uniform)))
        )
          taken.push(seed)
    })
    expect(taken).toEqual([])
  })

  test('with level held askew too, still none is named wrong where it is accepted', () => {
    const wrong: number[] = []
    draws.forEach(({ uniform, mounting, toBody, level, nose, right }, seed) => {
      const lax = strayed(level, radians(5), uniform)
      const found = solveMounting(heldAs(toBody, lax, uniform), heldAs(toBody, nose, uniform), heldAs(toBody, right, uniform))
      if (isSolved(found) && found.mounting !== mounting) wrong.push(seed)
    })
    expect(wrong).toEqual([])
  })
})

test('the seating error is measured: its lean to a tenth of a degree, its turn within its own uncertainty', () => {
  let outside = 0
  for (let seed = 0; seed < 400; seed++) {
    const { uniform, mounting, toBody, level } = draw(seed)
    const [nose, right] = [
      strayed(upOf.noseUp(radians(70)), radians(5), uniform),
      strayed(upOf.rightDown(radians(70)), radians(5), uniform),
    ]
    const found = solveMounting(heldAs(toBody, level, uniform), heldAs(toBody, nose, uniform), heldAs(toBody, right, uniform))
    if (!isSolved(found)) throw new Error(found.why)
    const seat = angleBetween(apply(toBody, apply(inverse(mounting.rotation), [0, 0, 1])), [0, 0, 1])
    expect(Math.abs(degrees(found.seatingTilt - seat))).toBeLessThan(1)
    const down = apply(toBody, apply(inverse(mounting.rotation), [1, 0, 0]))
    if (Math.abs(found.seatingYaw - Math.atan2(down[1], down[0])) > 2 * found.yawSigma) outside += 1
  }
  expect(outside).toBeLessThan(20)
})

test('the 32 mountings are 24 right angles and 8 eighths, all different, each with its own words', () => {
  expect(mountings).toHaveLength(32)
  expect(new Set(mountings.map((m) => m.words)).size).toBe(32)
  expect(new Set(mountings.map((m) => JSON.stringify(m.angles))).size).toBe(32)
  expect(mountings.find((m) => m.angles.roll === 0 && m.angles.pitch === 0 && m.angles.yaw === -90)?.words).toBe(
    'upright, its arrow to the left',
  )
  for (const { angles, rotation } of mountings) {
    expect(angles.yaw).toBeGreaterThan(-180)
    if (Math.abs(angles.pitch) === 90) expect(angles.roll).toBe(0)
    expect(Math.abs(apply(rotation, [1, 0, 0])[0])).toBeLessThanOrEqual(1)
  }
})
