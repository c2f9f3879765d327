import type { Column, Evidence, Finding, MagStream, Settings } from '@taraf/contract'
import { byHand, defineCheck, judged, refusal, shown, withProof } from '../check'
import { fieldAt } from '../field'
import { limitFor } from '../limits'
import { proved, want } from '../take'
import { apply, length, type Rotation, type Vec3 } from '../rotation'
import { fitEllipsoid, fitness, type EllipsoidFit } from './ellipsoid'

const turnSeconds = 40
const sampled = { stage: 'raw', streams: ['mag'] } as const
const proof = {
  ...sampled,
  kind: 'capture',
  label: 'proof',
  seconds: 10,
  enoughS: 5,
  ask: 'Keep rotating it, once around each axis.',
  during: 'Keep rotating it, once around each axis',
  atOnce: true,
} as const
const decimals = (places: number) => (value: number) => Math.round(value * 10 ** places) / 10 ** places

/** Hard and soft iron from a free turn, against the field at the shop. */
export const compass = defineCheck({
  id: 'sensors.compass',
  version: 2,
  station: 'sensors',
  title: 'Compass',
  proves: 'However it is held, the compass reads the same field strength: the one expected here.',
  words: {
    hardIron: 'Hard iron',
    softIron: 'Soft iron',
    fieldStrength: 'Field strength',
    coverage: 'Directions covered',
    residual: 'Error after the fit',
    inForce: 'Error before the write',
  },
  needs: [],
  reads: { settings: ['compass.*'], parts: ['board', 'compass'], acts: ['knock'], image: true },
  appliesTo: (sheet) => sheet.fitted?.includes('compass') === true,
  stages: null,
  proof,
  *take(soFar) {
    yield* want.capture({
      ...sampled,
      label: 'turn',
      seconds: turnSeconds,
      enoughS: 5,
      ask: 'Take it away from iron and turn it slowly through all directions until the map is full.',
      during: 'Turn it slowly, each side up once, then around',
    })
    yield* proved(soFar, proof)
  },
  evaluate: (evidence) => {
    const mag = magOf(evidence, 'turn')
    if (mag === null) return refusal('the segment "turn" has no mag stream', 'Make sure the compass answers, then run it again.')
    const fitted = fitEllipsoid(...spread(mag))
    if (fitted === null)
      return refusal(
        'the samples are on no ellipsoid, or on too little of one',
        'Run it again, away from iron and motors, and turn it through all directions: each side up once, then around.',
      )
    // What it covers and leaves is told by every sample.
    const fit = { ...fitted, ...fitness(mag.mx, mag.my, mag.mz, fitted) }
    const { hardIron, softIron, strength, coverage, residual } = fit
    const covered = limitFor(evidence.sheet, 'compass.coverage')
    const most = limitFor(evidence.sheet, 'compass.residual').max
    const remedy = writeRemedy(hardIron, softIron)
    const strengthFound = strengthFinding(evidence, strength)
    const isProved = coverage >= covered.min && residual <= most && strengthFound.verdict !== 'fail'
    const found = [
      shown('hardIron', [...hardIron], 'uT'),
      shown(
        'softIron',
        softIron.map((row) => [...row]),
        '',
      ),
      strengthFound,
      judged(
        'coverage',
        coverage,
        'of all directions',
        { min: covered.min },
        byHand('Run it again and turn it through the directions that the map still shows empty.'),
      ),
      judged(
        'residual',
        residual,
        'of the field',
        { max: most },
        byHand('Run it again, away from iron and with the battery out; if it fails again, replace the compass.', [
          'replace compass',
        ]),
      ),
      ...inForce(evidence.board.settings, mag, fit).map((off) =>
        judged(
          'inForce',
          off,
          'of the field',
          { max: most },
          isProved
            ? remedy
            : byHand('First get a fit with enough directions, a small error and the field strength expected here.'),
        ),
      ),
    ]
    if (evidence.written === undefined) return found
    const again = magOf(evidence, 'proof')
    if (again === null) return refusal('the segment "proof" has no mag stream', 'Run it again.')
    return withProof(
      found,
      inForce(evidence.written, again, fit).map((off) =>
        judged(
          'inForce',
          off,
          'of the field',
          { max: most },
          byHand('What was written does not hold. Run it again, away from iron.'),
        ),
      ),
    )
  },
})

/** So many samples tell an ellipsoid as surely as all of a turn that was captured for hours. */
const enoughToFit = 20_000
const spread = ({ mx, my, mz }: MagStream): [Column, Column, Column] => {
  const every = Math.ceil(mx.length / enoughToFit)
  const thinned = (x: Column): Column =>
    every <= 1 ? x : Float64Array.from({ length: Math.ceil(x.length / every) }, (_, i) => x[i * every] as number)
  return [thinned(mx), thinned(my), thinned(mz)]
}

export const magOf = (evidence: Evidence, label: string): MagStream | null =>
  evidence.segments.find((s) => s.label === label)?.streams.mag ?? null

/** The strength against the field at the shop on that day; shown where place or date are not known, or indoors. */
const strengthFinding = (evidence: Evidence, strength: number): Finding => {
  const { at, place, sheet } = evidence
  if (at === undefined || place?.lon === undefined || sheet.indoors === true) return shown('fieldStrength', strength, 'uT')
  let earth
  try {
    earth = length(fieldAt({ ...place, lon: place.lon }, new Date(at)))
  } catch {
    return shown('fieldStrength', strength, 'uT')
  }
  const share = limitFor(sheet, 'compass.strength').max / 100
  return judged(
    'fieldStrength',
    strength,
    'uT',
    { min: earth * (1 - share), max: earth * (1 + share) },
    byHand(
      `The field at the shop is ${earth.toFixed(1)} uT. Run it again away from iron, out of doors if need be; if it fails again, replace the compass.`,
      ['replace compass'],
    ),
  )
}

/**
 * What is left with the correction that the board has, as a share of the field: how far what it says lies from where the fit points, so
 * that one that mirrors or swaps axes counts, though it keeps every length. Nothing where the evidence does not say what the board has.
 */
const inForce = (settings: Settings | undefined, { mx, my, mz }: MagStream, fit: EllipsoidFit): number[] => {
  if (settings?.['compass.hardX'] === undefined) return []
  const told = correctionIn(settings)
  let squares = 0
  for (let i = 0; i < mx.length; i++) {
    const raw: Vec3 = [mx[i] as number, my[i] as number, mz[i] as number]
    const [says, points] = [corrected(told, raw), corrected(fit, raw)]
    const size = length(points)
    squares += [0, 1, 2].reduce((sum, k) => sum + ((says[k] as number) / fit.strength - (points[k] as number) / size) ** 2, 0)
  }
  return [Math.sqrt(squares / mx.length)]
}

/** The field in the sensor's axes, uT, with hard and soft iron taken out. */
export const corrected = ({ hardIron, softIron }: Correction, raw: Vec3): Vec3 =>
  apply(softIron, [raw[0] - hardIron[0], raw[1] - hardIron[1], raw[2] - hardIron[2]])

export interface Correction {
  readonly hardIron: Vec3
  readonly softIron: Rotation
}

/** The correction that a board has; none where its settings are not told. */
export const correctionIn = (settings: Settings = {}): Correction => {
  const s = (name: string, otherwise = 0) => settings[`compass.${name}`] ?? otherwise
  return {
    hardIron: [s('hardX'), s('hardY'), s('hardZ')],
    softIron: [
      [s('softXX', 1), s('softXY'), s('softXZ')],
      [s('softXY'), s('softYY', 1), s('softYZ')],
      [s('softXZ'), s('softYZ'), s('softZZ', 1)],
    ],
  }
}

const writeRemedy = (hard: Vec3, soft: Rotation) => {
  const [uT, share] = [decimals(2), decimals(4)]
  return {
    by: 'settings' as const,
    act: 'Write this hard and soft iron.',
    settings: {
      'compass.hardX': uT(hard[0]),
      'compass.hardY': uT(hard[1]),
      'compass.hardZ': uT(hard[2]),
      'compass.softXX': share(soft[0][0]),
      'compass.softYY': share(soft[1][1]),
      'compass.softZZ': share(soft[2][2]),
      'compass.softXY': share(soft[0][1]),
      'compass.softXZ': share(soft[0][2]),
      'compass.softYZ': share(soft[1][2]),
    },
  }
}
