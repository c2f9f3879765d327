import { byHand, defineCheck, judged, refusal, shown } from '../check'
import { limitFor } from '../limits'
import { mean } from '../statistics'
import { want } from '../take'

const leastSeconds = 60
const driftOverS = 300
/** A drift is told early only so many of its own deviations within its limit, and only while what lies about the line is noise. */
const surely = 3
/** The integrated autocorrelation of white noise is 1; of so few values it comes out a little more or less. */
const noiseAlone = 1.5

/**
 * The barometer at rest: how much its height trembles, and how far it drifts in five minutes. A drift that lies well within its limit is
 * told by the slope of a minute while nothing else wanders. All else takes the five minutes: a room whose pressure goes up and down by a
 * hand's breadth looks like a drift for a while.
 */
export const barometer = defineCheck({
  id: 'sensors.barometer',
  version: 3,
  station: 'sensors',
  title: 'Barometer',
  proves: 'At rest the reported height does not drift.',
  words: { noise: 'Height, noise', driftSigma: 'Height drift, uncertainty', drift: 'Height drift' },
  needs: [],
  reads: { settings: ['baro.*'], parts: ['board', 'barometer'], acts: ['knock'], image: true },
  appliesTo: (sheet) => sheet.fitted?.includes('barometer') === true,
  stages: null,
  *take() {
    yield* want.capture({
      label: 'rest',
      seconds: driftOverS,
      leastSeconds,
      enoughS: 20,
      ask: 'Lay the airframe down out of the draught, doors shut.',
      streams: ['baro'],
    })
  },
  evaluate: (evidence) => {
    const baro = evidence.segments.find((s) => s.label === 'rest')?.streams.baro
    if (baro === undefined)
      return refusal('the segment "rest" has no baro stream', 'Make sure the barometer answers, then run it again.')
    const { slope, residual } = lineThrough(baro.t, baro.height)
    const { slopeSigma, hangsTogether } = wanderOf(baro.t, baro.height)
    const [drift, sigma] = [slope * driftOverS, slopeSigma * driftOverS]
    const most = limitFor(evidence.sheet, 'barometer.drift').max
    const span = (baro.t[baro.t.length - 1] as number) - (baro.t[0] as number)
    const noiseMost = limitFor(evidence.sheet, 'barometer.noise').max
    const isEarly = span >= leastSeconds * 0.98 && hangsTogether <= noiseAlone && Math.abs(drift) + surely * sigma <= most
    const isTold = isEarly || span >= driftOverS * 0.98
    // A height that is too noisy fails by that: its drift need not be waited for.
    if (!isTold && residual <= noiseMost)
      return refusal(
        `after ${span.toFixed(0)} s the drift is ${drift.toFixed(1)} m in 5 min give or take ${(surely * sigma).toFixed(1)}: not told yet`,
        'Run it again and leave it to its end, five minutes at most.',
      )
    return [
      judged(
        'noise',
        residual,
        'm rms',
        { max: noiseMost },
        byHand('Cover it from draught and light with foam and run it again; if it fails again, replace it.', [
          'replace barometer',
        ]),
      ),
      shown('driftSigma', sigma, 'm in 5 min'),
      isTold
        ? judged(
            'drift',
            drift,
            'm in 5 min',
            { min: -most, max: most },
            byHand('Let it warm up, shut doors and windows and run it again; if it fails again, replace it.', [
              'replace barometer',
            ]),
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

const blockS = 1

/**
 * What lies about the straight line: one deviation of the line's slope, and how far it hangs together in time. What a wandering room does
 * is no noise of many samples but of few. Means of a second, and the integrated autocorrelation of what they leave, summed as long as it is
 * positive (Geyer, Practical Markov chain Monte Carlo, 1992, from memory).
 */
export const wanderOf = (t: ArrayLike<number>, y: ArrayLike<number>): { slopeSigma: number; hangsTogether: number } => {
  const { times, means } = blocksOf(t, y)
  const { slope, slopeSigma } = lineThrough(times, means)
  const [tm, ym] = [mean(times), mean(means)]
  const left = means.map((value, i) => value - ym - slope * ((times[i] as number) - tm))
  const n = left.length
  const covariance = (lag: number) => {
    let sum = 0
    for (let i = lag; i < n; i++) sum += (left[i] as number) * (left[i - lag] as number)
    return sum / n
  }
  const variance = covariance(0)
  if (!(variance > 0)) return { slopeSigma, hangsTogether: 1 }
  let hangsTogether = 1
  for (let lag = 1; lag < n; lag++) {
    const share = covariance(lag) / variance
    if (share <= 0) break
    hangsTogether += 2 * share
  }
  // As many independent values as there are; the two that the line has taken do not count.
  const independent = Math.max(0.5, n / hangsTogether - 2)
  return { slopeSigma: slopeSigma * Math.sqrt(n / independent), hangsTogether }
}

const blocksOf = (t: ArrayLike<number>, y: ArrayLike<number>): { times: number[]; means: number[] } => {
  const [times, means]: [number[], number[]] = [[], []]
  let from = 0
  for (let i = 1; i <= t.length; i++) {
    if (i < t.length && (t[i] as number) - (t[from] as number) < blockS) continue
    times.push(mean(t as number[], from, i))
    means.push(mean(y as number[], from, i))
    from = i
  }
  return { times, means }
}
