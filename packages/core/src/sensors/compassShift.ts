import type { Evidence } from '@taraf/contract'
import { byHand, defineCheck, judged, refusal, shown } from '../check'
import { discontinuity } from '../continuity'
import { outputsOf } from '../geometry'
import { limitFor } from '../limits'
import { apply, length, type Vec3 } from '../rotation'
import { mean } from '../statistics'
import { want } from '../take'
import { correctionIn, magOf } from './compass'

const seconds = 3
const leastSeconds = 2
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
  version: 1,
  station: 'sensors',
  title: 'Compass beside the motors',
  proves: 'The compass does not turn with the throttle.',
  needs: ['intake.firstPower', 'sensors.compass'],
  reads: {
    settings: ['compass.*', 'esc.signal', 'power.ampScale', 'power.ampDivides'],
    parts: ['board', 'compass', 'power wiring'],
    acts: ['knock'],
    image: true,
  },
  appliesTo: (sheet) => sheet.fitted?.includes('compass') === true && !sheet.setAside?.includes('sensors.compassShift'),
  stages: null,
  *take({ sheet }) {
    const sampled = { seconds, stage: 'raw', streams: ['imu', 'mag', 'power'] } as const
    const state = { battery: true, props: 'off' } as const
    yield* want.capture({
      ...sampled,
      label: 'still',
      ask: 'Lay the airframe on the plate, battery in, props off, and take your hands off it.',
      state,
    })
    yield* want.turn({
      ...sampled,
      label: 'turning',
      ask: 'Hold the control: all motors turn for as long as you hold it.',
      during: 'Turning: keep holding, and leave the airframe alone',
      state,
      outputs: outputsOf(sheet).map((output) => ({ output, share })),
      runUpS,
    })
  },
  evaluate: (evidence) => {
    const [still, turning] = [readingOf(evidence, 'still'), readingOf(evidence, 'turning')]
    if ('why' in still) return refusal(still.why, still.act)
    if ('why' in turning) return refusal(turning.why, turning.act)
    const amps = turning.amps - still.amps
    if (amps < leastAmps)
      return refusal(
        `the motors drew only ${amps.toFixed(2)} A more than at rest`,
        'See that every motor turns and that the current is measured, then take it again.',
      )
    const { hardIron, softIron } = correctionIn(evidence.board.settings)
    const from = (v: Vec3): Vec3 => apply(softIron, [v[0] - hardIron[0], v[1] - hardIron[1], v[2] - hardIron[2]])
    const [a, b] = [from(still.field), from(turning.field)]
    const perAmp = length([b[0] - a[0], b[1] - a[1], b[2] - a[2]]) / amps
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
          'Lead the power wires away from the compass and twist plus and minus together. If it stays, replace the compass by one on a mast.',
          ['replace compass'],
        ),
      ),
    ]
  },
})

type Reading = { field: Vec3; amps: number } | { why: string; act: string }

const readingOf = (evidence: Evidence, label: string): Reading => {
  const mag = magOf(evidence, label)
  const power = evidence.segments.find((s) => s.label === label)?.streams.power
  if (mag === null || power === undefined)
    return {
      why: `the segment "${label}" lacks its ${mag === null ? 'mag' : 'power'} stream`,
      act: 'See that the compass answers and the current is measured, then take it again.',
    }
  const gap = discontinuity(mag.t, leastSeconds)
  if (gap !== null) return { why: `"${label}": ${gap}`, act: 'Check the compass lead, then take it again.' }
  return { field: [mean(mag.mx), mean(mag.my), mean(mag.mz)], amps: mean(power.amps) }
}
