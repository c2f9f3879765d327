import { byHand, defineCheck, judged, refusal, shown } from '../check'
import { discontinuity } from '../continuity'
import { limitFor } from '../limits'
import { mean } from '../statistics'
import { want } from '../take'

const leastSeconds = 30
const driftOverS = 300
/** A drift that lies nearer to its limit than so many of its own deviations is not told yet. */
const surely = 3

/**
 * The barometer at rest: how much its height trembles, and how far it drifts in five minutes. A drift that lies far enough from
 * its limit is told by the slope of half a minute; the nearer it lies, the longer the take.
 */
export const barometer = defineCheck({
  id: 'sensors.barometer',
  version: 2,
  station: 'sensors',
  title: 'Barometer',
  proves: 'At rest the height stays where it is.',
  needs: [],
  reads: { settings: ['baro.*'], parts: ['board', 'barometer'], acts: ['knock'], image: true },
  appliesTo: (sheet) => sheet.fitted?.includes('barometer') === true && !sheet.setAside?.includes('sensors.barometer'),
  stages: null,
  *take() {
    yield* want.capture({
      label: 'rest',
      seconds: driftOverS,
      leastSeconds,
      ask: 'Lay the airframe down out of the draught, doors shut.',
      streams: ['baro'],
    })
  },
  evaluate: (evidence) => {
    const baro = evidence.segments.find((s) => s.label === 'rest')?.streams.baro
    if (baro === undefined)
      return refusal('the segment "rest" has no baro stream', 'See that the barometer answers, then take it again.')
    const gap = discontinuity(baro.t, 20)
    if (gap !== null) return refusal(gap, 'Check the cable, then take it again.')
    const { slope, slopeSigma, residual } = lineThrough(baro.t, baro.height)
    const [drift, sigma] = [slope * driftOverS, slopeSigma * driftOverS]
    const most = limitFor(evidence.sheet, 'barometer.drift').max
    const span = (baro.t[baro.t.length - 1] as number) - (baro.t[0] as number)
    const noiseMost = limitFor(evidence.sheet, 'barometer.noise').max
    const isTold = Math.abs(Math.abs(drift) - most) >= surely * sigma || span >= driftOverS * 0.98
    // A height that is too noisy fails by that: its drift need not be waited for.
    if (!isTold && residual <= noiseMost)
      return refusal(
        `after ${span.toFixed(0)} s the drift is ${drift.toFixed(1)} m in 5 min give or take ${(surely * sigma).toFixed(1)}: not told yet`,
        'Take it again and leave it to its end, five minutes at most.',
      )
    return [
      judged(
        'noise',
        residual,
        'm rms',
        { max: noiseMost },
        byHand('Cover it from draught and light with foam and take it again; if it stays, replace it.', ['replace barometer']),
      ),
      shown('driftSigma', sigma, 'm in 5 min'),
      isTold
        ? judged(
            'drift',
            drift,
            'm in 5 min',
            { min: -most, max: most },
            byHand('Let it warm up, shut doors and windows and take it again; if it stays, replace it.', ['replace barometer']),
          )
        : shown('drift', drift, 'm in 5 min'),
    ]
  },
})

/** The straight line of least squares: its slope with the deviation of that, and the root mean square about it. */
export const lineThrough = (
  t: ArrayLike<number>,
  y: ArrayLike<number>,
): { slope: number; slopeSigma: number; residual: number } => {
  const n = t.length
  const [tm, ym] = [mean(t as number[]), mean(y as number[])]
  let [tt, ty, yy] = [0, 0, 0]
  for (let i = 0; i < n; i++) {
    const [dt, dy] = [(t[i] as number) - tm, (y[i] as number) - ym]
    tt += dt * dt
    ty += dt * dy
    yy += dy * dy
  }
  const slope = ty / tt
  const residual = Math.sqrt(Math.max(0, yy - slope * ty) / Math.max(1, n - 2))
  return { slope, slopeSigma: residual / Math.sqrt(tt), residual }
}
