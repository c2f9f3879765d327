import { anyDirection, normalOf, uniformFrom } from '../../tests/poses'
import { directionPatches, patchOf } from '../directions'
import { apply, inverse, length, multiply, type Rotation, type Vec3 } from '../rotation'
import { eigenSymmetric } from '../linear'
import { fitEllipsoid, fitness } from './ellipsoid'

interface Truth {
  readonly hard: Vec3
  /** Symmetric, determinant 1: corrected = soft (raw - hard). */
  readonly soft: Rotation
  readonly strength: number
}
const drawTruth = (uniform: () => number): Truth => {
  const m: number[][] = [0, 1, 2].map((i) => [0, 1, 2].map((j) => (i === j ? 1 : 0)))
  for (const [i, j] of [
    [0, 1],
    [0, 2],
    [1, 2],
    [0, 0],
    [1, 1],
    [2, 2],
  ] as const) {
    const off = 0.16 * (uniform() - 0.5)
    ;(m[i] as number[])[j] = ((m[i] as number[])[j] as number) + off
    if (i !== j) (m[j] as number[])[i] = ((m[j] as number[])[i] as number) + off
  }
  const unit = Math.cbrt(eigenSymmetric(m).values.reduce((a, b) => a * b))
  return {
    hard: [80 * (uniform() - 0.5), 80 * (uniform() - 0.5), 80 * (uniform() - 0.5)],
    soft: m.map((row) => row.map((v) => v / unit)) as unknown as Rotation,
    strength: 30 + 30 * uniform(),
  }
}
const inverseOf = (m: Rotation): Rotation => {
  const { values, vectors } = eigenSymmetric(m)
  const v = vectors as unknown as Rotation
  const scaled = v.map((row, i) => row.map((x) => x / (values[i] as number))) as unknown as Rotation
  return multiply(inverse(v), scaled)
}
const samplesOf = (
  { hard, soft, strength }: Truth,
  count: number,
  noise: number,
  uniform: () => number,
  directions = () => anyDirection(uniform),
) => {
  const back = inverseOf(soft)
  const rows = Array.from({ length: count }, () => {
    const d = directions()
    const raw = apply(back, [d[0] * strength, d[1] * strength, d[2] * strength])
    return raw.map((v, i) => v + (hard[i] as number) + noise * normalOf(uniform)) as unknown as Vec3
  })
  return [0, 1, 2].map((i) => rows.map((r) => r[i] as number)) as [number[], number[], number[]]
}

test('without noise it gives back what made the samples, exactly', () => {
  const uniform = uniformFrom(3)
  for (let run = 0; run < 40; run++) {
    const truth = drawTruth(uniform)
    const fit = fitEllipsoid(...samplesOf(truth, 400, 0, uniform))
    expect(fit?.strength).toBeCloseTo(truth.strength, 6)
    truth.hard.forEach((v, i) => expect(fit?.hardIron[i]).toBeCloseTo(v, 6))
    truth.soft.forEach((row, i) => row.forEach((v, j) => expect(fit?.softIron[i]?.[j]).toBeCloseTo(v, 7)))
    expect(fit?.residual).toBeLessThan(1e-8)
  }
})

test('with noise, what is left after it is applied lies within what the noise allows', () => {
  const uniform = uniformFrom(5)
  for (let run = 0; run < 60; run++) {
    const truth = drawTruth(uniform)
    const noise = 0.2 + 0.6 * uniform()
    const samples = samplesOf(truth, 1500, noise, uniform)
    const fit = fitEllipsoid(...samples)
    if (fit === null) throw new Error('no fit')
    expect(fit.residual).toBeLessThan((1.15 * noise) / truth.strength)
    // Against the truth on fresh samples: the error of the fit itself is far below the noise of one sample.
    const fresh = samplesOf(truth, 800, 0, uniform)
    expect(fitness(...fresh, fit).residual).toBeLessThan((0.25 * noise) / truth.strength)
    expect(fit.coverage).toBeGreaterThan(0.98)
    const symmetric = Math.abs(fit.softIron[0][1] - fit.softIron[1][0]) + Math.abs(fit.softIron[0][2] - fit.softIron[2][0])
    expect(symmetric).toBeLessThan(1e-12)
    expect(eigenSymmetric(fit.softIron).values.reduce((a, b) => a * b)).toBeCloseTo(1, 9)
  }
})

test('on two thirds of the directions it still finds the centre; on a plane or in one place it says that it cannot', () => {
  const uniform = uniformFrom(8)
  const truth = drawTruth(uniform)
  const upper = () => {
    let d = anyDirection(uniform)
    while (d[2] < -0.3) d = anyDirection(uniform)
    return d
  }
  const fit = fitEllipsoid(...samplesOf(truth, 2000, 0.3, uniform, upper))
  if (fit === null) throw new Error('no fit')
  expect(
    length([fit.hardIron[0] - truth.hard[0], fit.hardIron[1] - truth.hard[1], fit.hardIron[2] - truth.hard[2]]),
  ).toBeLessThan(0.5)
  expect(fit.coverage).toBeGreaterThan(0.6)
  expect(fit.coverage).toBeLessThan(0.75)
  const circle = () => {
    const a = 2 * Math.PI * uniform()
    return [Math.cos(a), Math.sin(a), 0] as Vec3
  }
  expect(fitEllipsoid(...samplesOf(truth, 500, 0, uniform, circle))).toBeNull()
  expect(fitEllipsoid([1, 2], [1, 2], [1, 2])).toBeNull()
  expect(
    fitEllipsoid(...([0, 1, 2].map(() => Array.from({ length: 100 }, () => 7)) as [number[], number[], number[]])),
  ).toBeNull()
})

test('the patches of direction are of one area, and a direction lies in the one that holds it', () => {
  const areas = directionPatches.map(({ high, low, from, to }) => (high - low) * (to - from))
  for (const area of areas) expect(area).toBeCloseTo((4 * Math.PI) / directionPatches.length, 9)
  const uniform = uniformFrom(2)
  for (let i = 0; i < 5000; i++) {
    const d = anyDirection(uniform)
    const patch = directionPatches[patchOf(d)]
    const longitude = (Math.atan2(d[1], d[0]) + 2 * Math.PI) % (2 * Math.PI)
    expect(d[2]).toBeLessThanOrEqual((patch?.high ?? NaN) + 1e-12)
    expect(d[2]).toBeGreaterThanOrEqual((patch?.low ?? NaN) - 1e-12)
    expect(longitude).toBeGreaterThanOrEqual((patch?.from ?? NaN) - 1e-12)
    expect(longitude).toBeLessThanOrEqual((patch?.to ?? NaN) + 1e-12)
  }
})
