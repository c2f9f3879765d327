import type { Evidence, MagStream } from '@taraf/contract'
import { byHand, defineCheck, judged, refusal, shown } from '../check'
import { outputsOf } from '../geometry'
import { limitFor } from '../limits'
import { length, type Vec3 } from '../rotation'
import { mean, noiseLevel } from '../statistics'
import { want } from '../take'
import { corrected, correctionIn, magOf } from './compass'

const sampled = {
  seconds: 3,
  enoughS: 2,
  stage: 'raw',
  streams: ['imu', 'mag', 'power'],
  mayLack: ['imu'],
  still: 'laid',
} as const
const state = { battery: true, props: 'off' } as const
const after = {
  ...sampled,
  kind: 'capture',
  label: 'after',
  ask: 'Leave it where it is, hands off.',
  atOnce: true,
  state,
} as const
/** A field that comes back to within this share of itself once the motors stand was not turned meanwhile: half a degree or so. */
const backWithin = 0.01
/** Less than this tells nothing about what the hover draws. */
const leastAmps = 0.4
const share = 0.4
/** What bare motors take to reach it and to settle. */
const runUpS = 1.5

/**
 * What the current of the motors does to the compass: the field with the motors still, and turning with the props off. Bare motors
 * draw little, so what one ampere shifts is carried on to what the airframe draws in hover, where the sheet says that.
 */
export const compassShift = defineCheck({
  id: 'sensors.compassShift',
  version: 3,
  station: 'sensors',
  title: 'Compass near the motors',
  proves: 'The compass does not turn with the throttle.',
  words: {
    amps: 'Current of the motors',
    perAmp: 'Shift of the field per ampere',
    atAmps: 'Computed for',
    shift: 'Shift at that current',
  },
  // Motors turn in it: what makes them turn comes first.
  needs: ['intake.firstPower', 'sensors.compass', 'escs.signal'],
  reads: {
    settings: ['compass.*', 'esc.signal', 'power.ampScale', 'power.ampDivides'],
    parts: ['board', 'compass', 'power wiring', 'ESC', 'motor'],
    acts: ['knock'],
    image: true,
  },
  appliesTo: (sheet) => sheet.fitted?.includes('compass') === true,
  stages: null,
  *take({ sheet }) {
    yield* want.capture({
      ...sampled,
      label: 'still',
      ask: 'Lay the airframe on the plate, battery in, props off, and take your hands off it.',
      state,
    })
    yield* want.turn({
      ...sampled,
      label: 'turning',
      ask: 'Press and hold the button: all motors turn for as long as you hold it.',
      during: 'Turning: keep holding, and leave the airframe alone',
      streams: [...sampled.streams, 'escs'],
      mayLack: [...sampled.mayLack, 'escs'],
      state,
      outputs: outputsOf(sheet).map((output) => ({ output, share })),
      runUpS,
    })
    yield after
  },
  optional: [after],
  evaluate: (evidence) => {
    const [still, turning] = [readingOf(evidence, 'still'), readingOf(evidence, 'turning')]
    if ('why' in still) return refusal(still.why, still.act)
    if ('why' in turning) return refusal(turning.why, turning.act)
    const amps = turning.amps - still.amps
    if (amps < leastAmps)
      return refusal(
        `the motors drew only ${amps.toFixed(2)} A more than at rest`,
        'Make sure every motor turns and the current is measured, then run it again.',
      )
    const told = correctionIn(evidence.board.settings)
    const [a, b] = [corrected(told, still.field), corrected(told, turning.field)]
    const moved = movedMeanwhile(evidence, a, b)
    if (moved !== null)
      return refusal(
        moved,
        'Lay it where nothing can move it, props off. Leave it alone until the motors stop, and run it again.',
      )
    const perAmp = distance(a, b) / amps
    const at = evidence.sheet.hoverAmps ?? amps
    return [
      shown('amps', amps, 'A'),
      shown('perAmp', perAmp, 'uT/A'),
      shown('atAmps', at, 'A'),
      judged(
        'shift',
        (100 * perAmp * at) / length(a),
        '% of the field',
        { max: limitFor(evidence.sheet, 'compassShift.shift').max },
        byHand(
          'Route the power wires away from the compass and twist plus and minus together. If it fails again, fit a compass on a mast.',
          ['replace compass'],
        ),
      ),
    ]
  },
})

const distance = (a: Vec3, b: Vec3): number => length([b[0] - a[0], b[1] - a[1], b[2] - a[2]])
/** What the difference of two means of so many rows can be by noise alone, uT. */
const uncertain = ({ mx, my, mz }: MagStream, rows: number): number =>
  8 * Math.hypot(noiseLevel(mx), noiseLevel(my), noiseLevel(mz)) * Math.sqrt(2 / rows)

/** Whether the airframe was turned between still and turning: the field does not come back, or has all of its length and another way. */
const movedMeanwhile = (evidence: Evidence, still: Vec3, turning: Vec3): string | null => {
  const [mag, again] = [magOf(evidence, 'still'), magOf(evidence, 'after')]
  if (mag === null) return null
  const noise = uncertain(mag, mag.t.length)
  if (again !== null) {
    const raw: Vec3 = [mean(again.mx), mean(again.my), mean(again.mz)]
    const off = distance(still, corrected(correctionIn(evidence.board.settings), raw))
    return off > Math.max(backWithin * length(still), noise)
      ? 'with the motors still again the field is not what it was before: the airframe was moved'
      : null
  }
  const shift = distance(still, turning)
  return shift > Math.max(2 * backWithin * length(still), noise) && Math.abs(length(turning) - length(still)) < noise / 4
    ? 'the field kept its strength and changed its way: it cannot be told from the airframe being moved'
    : null
}

type Reading = { field: Vec3; amps: number } | { why: string; act: string }

const readingOf = (evidence: Evidence, label: string): Reading => {
  const mag = magOf(evidence, label)
  const power = evidence.segments.find((s) => s.label === label)?.streams.power
  if (mag === null || power === undefined)
    return {
      why: `the segment "${label}" lacks its ${mag === null ? 'mag' : 'power'} stream`,
      act: 'Make sure the compass answers and the current is measured, then run it again.',
    }
  const n = mag.t.length
  const third = (from: number): Vec3 => [
    mean(mag.mx, from, from + Math.floor(n / 3)),
    mean(mag.my, from, from + Math.floor(n / 3)),
    mean(mag.mz, from, from + Math.floor(n / 3)),
  ]
  const [first, last] = [third(0), third(n - Math.floor(n / 3))]
  if (distance(first, last) > Math.max(backWithin * length(first), uncertain(mag, n / 3)))
    return { why: `"${label}": the field did not stay as it was`, act: 'Leave it alone while it is captured, and run it again.' }
  return { field: [mean(mag.mx), mean(mag.my), mean(mag.mz)], amps: mean(power.amps) }
}
