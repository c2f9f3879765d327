import type { Settings } from '@taraf/contract'
import { byHand, defineCheck, judged, refusal, shown, withProof } from '../check'
import { localGravity } from '../gravity'
import { anyStrength, heldIn, isHeld } from '../held'
import { leastSquares } from '../linear'
import { limitFor } from '../limits'
import { proved, want } from '../take'
import { angleBetween, degrees, length, type Vec3 } from '../rotation'

const sampled = { seconds: 1.5, enoughS: 0.5, stage: 'raw', streams: ['imu'], still: 'held' } as const
const six = ['top', 'nose-up', 'nose-down', 'left-down', 'right-down', 'bottom'] as const
const opposites = [
  ['top', 'bottom'],
  ['nose-up', 'nose-down'],
  ['left-down', 'right-down'],
] as const
/** Two poses nearer than this are one held twice; an oblique one must keep as far from all six. */
const apartLeast = 40
const obliqueLeast = 25
/** The cosine within which an axis counts as met end on: 30 deg. */
const endOn = 0.86

const poses = [
  { label: 'nose-up', ask: 'Hold it nose up, upright.', leastDeg: 50, rollDeg: 0, pitchDeg: 90 },
  { label: 'nose-down', ask: 'Hold it nose down.', leastDeg: 50, rollDeg: 0, pitchDeg: -90 },
  { label: 'left-down', ask: 'Hold it on its left side.', leastDeg: 50, rollDeg: -90, pitchDeg: 0 },
  { label: 'right-down', ask: 'Hold it on its right side.', leastDeg: 50, rollDeg: 90, pitchDeg: 0 },
  { label: 'bottom', ask: 'Hold it upside down.', leastDeg: 140, rollDeg: 180, pitchDeg: 0 },
  {
    label: 'oblique',
    ask: 'Hold it at an angle, halfway between nose up and right side down.',
    leastDeg: 25,
    rollDeg: 40,
    pitchDeg: 35,
  },
] as const
const proof = {
  ...sampled,
  kind: 'pose',
  label: 'proof',
  ask: 'Hold it at an angle the other way, halfway between nose down and left side down.',
  leastDeg: 25,
  rollDeg: -40,
  pitchDeg: -35,
  atOnce: true,
} as const

/** Bias and scale of the accelerometer from six poses, proved by a seventh that the fit has not seen. */
export const sixPoses = defineCheck({
  id: 'sensors.sixPoses',
  version: 2,
  station: 'sensors',
  title: 'Accelerometer',
  proves: 'Whichever side is down, the accelerometer reads 1 g.',
  words: {
    bias: 'Bias, by axis',
    scale: 'Scale, by axis',
    proof: 'Error in the oblique pose',
    inForce: 'Largest error before the write',
  },
  needs: [],
  reads: { settings: ['accel.*'], parts: ['board'], acts: ['knock'], image: true },
  appliesTo: (sheet) => sheet.asks?.includes('sensors.sixPoses') === true,
  stages: ['raw'],
  proof,
  *take(soFar) {
    yield* want.capture({ ...sampled, label: 'top', ask: 'Lay the airframe on the plate, the right way up.' })
    for (const pose of poses) yield* want.pose({ ...sampled, ...pose })
    yield* proved(soFar, proof)
  },
  evaluate: (evidence) => {
    const forces = new Map<string, Vec3>()
    for (const label of [...six, 'oblique']) {
      const held = heldIn(evidence, label, anyStrength)
      if (!isHeld(held)) return held
      forces.set(label, held.force)
    }
    const doubled = doubledPoses(forces)
    if (doubled !== null) return refusal(doubled, 'Run it again, each side down once, and one oblique pose between them.')
    const g = localGravity(evidence.place)
    const unmet = unmetAxis(
      [...six].map((label) => forces.get(label) as Vec3),
      g,
    )
    if (unmet !== null)
      return refusal(
        `no pose lies along the ${unmet} axis of the sensor: the board sits turned by an eighth`,
        "Run it again and hold it with the board's own edges down, not the airframe's sides.",
        ['hold by board edges'],
      )
    const at = (label: string): Vec3 => forces.get(label) as Vec3
    const fit = fitBiasAndScale(six.map(at), g)
    if (fit === null) return refusal('no bias and scale fits these poses', 'Run it again, each side straight down.')
    const { bias, scale } = fit
    const proof = errorOf(at('oblique'), bias, scale, g)
    const proofMost = limitFor(evidence.sheet, 'sixPoses.proof').max
    const inForceMost = limitFor(evidence.sheet, 'sixPoses.inForce').max
    const found = [
      shown('bias', [...bias], 'm/s2'),
      shown('scale', [...scale], ''),
      judged(
        'proof',
        proof,
        'm/s2',
        { min: -proofMost, max: proofMost },
        byHand(
          'The fit does not hold in a pose it was not made from. Run it again, held stiller; if it fails again, the axes of the sensor are not square: replace the board.',
          ['replace board'],
        ),
      ),
      ...inForce(evidence.board.settings, [...forces.values()], g).map((worst) =>
        judged(
          'inForce',
          worst,
          'm/s2',
          { max: inForceMost },
          Math.abs(proof) <= proofMost
            ? { by: 'settings', act: 'Write this bias and scale.', settings: settingsOf(bias, scale) }
            : byHand('First get a fit that holds in the oblique pose too.'),
        ),
      ),
    ]
    if (evidence.written === undefined) return found
    const again = heldIn(evidence, 'proof', anyStrength)
    if (!isHeld(again)) return again
    return withProof(
      found,
      inForce(evidence.written, [...forces.values(), again.force], g).map((worst) =>
        judged(
          'inForce',
          worst,
          'm/s2',
          { max: inForceMost },
          byHand('What was written does not hold in every pose. Run it again, each side straight down.'),
        ),
      ),
    )
  },
})

/** |scale (f - bias)| - g. */
const errorOf = (f: Vec3, bias: Vec3, scale: Vec3, g: number): number =>
  length([scale[0] * (f[0] - bias[0]), scale[1] * (f[1] - bias[1]), scale[2] * (f[2] - bias[2])]) - g

/**
 * Bias and scale of each axis from at least six poses, fitted on the magnitude alone, so that it does not matter how
 * straight they were held: Gauss and Newton's method from the middle and the span of each axis. Null where it cannot be told.
 */
export const fitBiasAndScale = (forces: readonly Vec3[], g: number): { bias: Vec3; scale: Vec3 } | null => {
  const span = (i: 0 | 1 | 2) => {
    const values = forces.map((f) => f[i])
    return [Math.min(...values), Math.max(...values)] as const
  }
  const spans = [span(0), span(1), span(2)] as const
  let bias = spans.map(([low, high]) => (low + high) / 2) as unknown as Vec3
  let scale = spans.map(([low, high]) => (2 * g) / (high - low)) as unknown as Vec3
  for (let round = 0; round < 30; round++) {
    const a = new Float64Array(6 * forces.length)
    const b = new Float64Array(forces.length)
    forces.forEach((f, row) => {
      const v = [0, 1, 2].map((i) => (scale[i] as number) * ((f[i] as number) - (bias[i] as number)))
      const size = Math.hypot(...v)
      for (let i = 0; i < 3; i++) {
        const e = (v[i] as number) / size
        a[6 * row + i] = -e * (scale[i] as number)
        a[6 * row + 3 + i] = e * ((f[i] as number) - (bias[i] as number))
      }
      b[row] = g - size
    })
    const step = leastSquares(a, forces.length, 6, b)
    if (step === null || !step.every(Number.isFinite)) return null
    bias = bias.map((v, i) => v + (step[i] as number)) as unknown as Vec3
    scale = scale.map((v, i) => v + (step[3 + i] as number)) as unknown as Vec3
    if (Math.hypot(...step) < 1e-12) break
  }
  return scale.every((s) => s > 0.5 && s < 2) && bias.every((v) => Math.abs(v) < g / 2) ? { bias, scale } : null
}

/** An axis of the sensor that no two poses met end on, or null: its scale could not be told from another's. */
const unmetAxis = (forces: readonly Vec3[], g: number): 'X' | 'Y' | 'Z' | null => {
  for (const [i, axis] of (['X', 'Y', 'Z'] as const).entries()) {
    const values = forces.map((f) => f[i] as number)
    if (Math.max(...values) - Math.min(...values) < 2 * endOn * g) return axis
  }
  return null
}

/** Which poses are one side held twice, or not opposite where they must be; or null. */
const doubledPoses = (forces: ReadonlyMap<string, Vec3>): string | null => {
  const at = (label: string): Vec3 => forces.get(label) as Vec3
  for (const [i, a] of six.entries())
    for (const b of six.slice(i + 1))
      if (degrees(angleBetween(at(a), at(b))) < apartLeast) return `"${a}" and "${b}" were held with the same side down`
  for (const [a, b] of opposites)
    if (degrees(angleBetween(at(a), at(b))) < 180 - 2 * apartLeast + 20) return `"${b}" is not the other way round of "${a}"`
  const near = six.find((label) => degrees(angleBetween(at(label), at('oblique'))) < obliqueLeast)
  return near === undefined ? null : `the oblique pose is nearly "${near}": it proves nothing new`
}

/** The largest error of magnitude in any pose with what the board has; nothing where the evidence does not say what it has. */
const inForce = (settings: Settings | undefined, forces: readonly Vec3[], g: number): number[] => {
  if (settings?.['accel.biasX'] === undefined) return []
  const three = (name: string, otherwise: number): Vec3 => [
    settings[`accel.${name}X`] ?? otherwise,
    settings[`accel.${name}Y`] ?? otherwise,
    settings[`accel.${name}Z`] ?? otherwise,
  ]
  const [bias, scale] = [three('bias', 0), three('scale', 1)]
  return [Math.max(...forces.map((f) => Math.abs(errorOf(f, bias, scale, g))))]
}

const settingsOf = (bias: Vec3, scale: Vec3): Record<string, number> => {
  const to = (places: number, value: number) => Math.round(value * 10 ** places) / 10 ** places
  return Object.fromEntries(
    ['X', 'Y', 'Z'].flatMap((axis, i) => [
      [`accel.bias${axis}`, to(4, bias[i] as number)],
      [`accel.scale${axis}`, to(5, scale[i] as number)],
    ]),
  )
}
