import type { Column, Evidence, Finding, Remedy, Segment } from '@taraf/contract'
import { defineCheck, judged, refusal, shown } from '../check'
import { outputWords, powered } from '../escs/read'
import { outputsOf } from '../geometry'
import { limitFor } from '../limits'
import { hasMotors } from '../sheetHas'
import { mean, median } from '../statistics'
import { want } from '../take'
import { notAlone, rpmOf, streamsOf } from './speeds'
import { velocityAt, velocityBetween, velocitySpectrum, wholeBand } from './spectrum'
import { labelOf } from './told'

/** Slow enough for a grating bearing not to drown in what a bell out of balance shakes. */
const share = 0.2
const parts = 4
const thinned = 4
/** A stretch of a burst that shakes this much more than the middle one was shaken by something else. */
const leapsOut = 2.5

const turning = (output: number) =>
  ({
    label: labelOf(output),
    ask: `Press and hold the button: output ${output} turns. Hands off the airframe and the bench.`,
    during: 'Turning: keep holding, and leave the airframe alone',
    streams: ['imuBurst', 'escs'],
    seconds: 2,
    enoughS: 0.5,
    outputs: [{ output, share }],
    runUpS: 1.5,
    state: powered,
  }) as const

/** How each motor shakes the frame, alone, at one command. */
export const smooth = defineCheck({
  id: 'motors.smooth',
  version: 4,
  station: 'motors',
  title: 'Smooth running',
  proves: 'No motor shakes the frame more than it should: none is out of balance, none grates.',
  words: (sheet) => ({
    ...Object.fromEntries(
      outputsOf(sheet).flatMap((output) => [
        [`atTurning${output}`, `At its turning rate, output ${output}`],
        [`whole${output}`, `As a whole, output ${output}`],
        [`beside${output}`, `Against the other motors, output ${output}`],
        [`speed${output}`, `Speed, output ${output}`],
      ]),
    ),
  }),
  needs: ['escs.data', 'motors.order'],
  reads: {
    // What is found of an output is said of the motor that it drives.
    settings: ['esc.poles', 'esc.signal', 'esc.replies', 'output.*'],
    parts: ['motor', 'ESC', 'board', 'power wiring'],
    acts: ['board', 'remount', 'knock', 'lead'],
    image: true,
    escs: ['timingDeg', 'switchingKHz'],
  },
  appliesTo: hasMotors,
  stages: null,
  *take({ sheet }) {
    for (const output of outputsOf(sheet)) yield* want.turn(turning(output))
  },
  evaluate: (evidence) => smoothFindings(evidence),
})

interface Shake {
  readonly output: number
  readonly atTurning: number
  readonly whole: number
  readonly rpm: number
}

const smoothFindings = (evidence: Evidence): Finding[] => {
  const { sheet } = evidence
  const found = shakesIn(evidence)
  if (!Array.isArray(found)) return [found]
  const limit = { atTurning: limitFor(sheet, 'smooth.atTurning'), whole: limitFor(sheet, 'smooth.whole') }
  const most = limitFor(sheet, 'smooth.beside').max
  return found.flatMap(({ output, atTurning, whole, rpm }) => {
    const others = found.filter((other) => other.output !== output)
    const beside = Math.max(
      ...(['atTurning', 'whole'] as const).map((of) => {
        const middle = others.length === 0 ? Infinity : median(others.map((other) => other[of]))
        return { atTurning, whole }[of] / Math.max(middle, leastShake)
      }),
    )
    const remedy = shakes(output, atTurning / Math.max(whole, 1e-9))
    return [
      shown(`speed${output}`, rpm, 'rpm'),
      judged(`atTurning${output}`, atTurning, 'mm/s rms', { max: limit.atTurning.max }, remedy),
      judged(`whole${output}`, whole, 'mm/s rms', { max: limit.whole.max }, remedy),
      ...(others.length < 2 ? [] : [judged(`beside${output}`, beside, 'times the middle one', { max: most }, remedy)]),
    ]
  })
}

/** Below this, a motor is as smooth as can be told, mm/s (common practice): no ratio to it says anything. */
const leastShake = 0.02

/** How each motor shook, or the one finding that says why that cannot be told. */
const shakesIn = (evidence: Evidence): Shake[] | Finding => {
  const outputs = outputsOf(evidence.sheet)
  const shakes: Shake[] = []
  for (const output of outputs) {
    const streams = streamsOf(evidence, labelOf(output))
    const { imuBurst } = streams
    const wrong =
      notAlone(streams, output, outputs) ??
      (imuBurst === undefined
        ? `there is no burst of output ${output}`
        : (otherClock(streams, output) ?? leapIn(imuBurst, output)))
    if (wrong !== null || imuBurst === undefined) return refusedFor(wrong ?? '')
    const rpm = rpmOf(streams, output)
    const spectrum = velocitySpectrum(imuBurst)
    shakes.push({
      output,
      rpm,
      atTurning: velocityAt(spectrum, rpm / 60),
      whole: velocityBetween(spectrum, wholeBand.fromHz, wholeBand.toHz),
    })
  }
  return shakes
}

const refusedFor = (why: string): Finding =>
  refusal(
    why,
    'Lay it on the bare plate with nothing else running beside it, hold the button until each is done, and run it again.',
  )[0] as Finding

/** A burst and what is sampled beside it last as long, to within this, s. */
const besideS = 0.15
/** Why the rates of a burst cannot be told: by its own clock it lasted longer, or shorter, than what was sampled beside it. */
const otherClock = ({ imuBurst, escs }: Segment['streams'], output: number): string | null => {
  const spanOf = (t: Column | undefined) =>
    t === undefined || t.length < 2 ? null : (t[t.length - 1] as number) - (t[0] as number)
  const [burst, beside] = [spanOf(imuBurst?.t), spanOf(escs?.t)]
  return burst === null || beside === null || Math.abs(burst - beside) <= besideS + 0.05 * beside
    ? null
    : `the burst of output ${output} lasts ${burst.toFixed(1)} s by its own clock, and what was sampled beside it ${beside.toFixed(1)} s`
}

/** Why a burst is not of the motor alone: a part of it shakes far more than the others, as a knock on the bench does. */
const leapIn = (burst: Parameters<typeof velocitySpectrum>[0], output: number): string | null => {
  const rows = Math.floor(burst.t.length / parts)
  if (rows < 200) return null
  const whole = Array.from({ length: parts }, (_, i) => {
    // A knock is slow, and slow is what velocity is made of: the means of four rows tell it as well.
    const of = (name: 't' | 'ax' | 'ay' | 'az') =>
      Float64Array.from({ length: Math.floor(rows / thinned) }, (_, k) =>
        mean(burst[name], i * rows + k * thinned, i * rows + (k + 1) * thinned),
      )
    const part = velocitySpectrum({ t: of('t'), ax: of('ax'), ay: of('ay'), az: of('az') })
    return velocityBetween(part, 2 * wholeBand.fromHz, wholeBand.toHz)
  })
  const most = Math.max(...whole)
  return most > leapsOut * median(whole) && most > leastLeap
    ? `something knocked the airframe or the bench while output ${output} turned`
    : null
}
/** mm/s: what a knock shakes at the least. */
const leastLeap = 0.3

const shakes = (output: number, share: number): Remedy =>
  share > 0.7
    ? byWork(
        output,
        `The bell of the motor at ${outputWords([output])} is out of balance. Battery out; take off what sits on it, a flag or a shaving, and run it again. If it still shakes, replace the motor.`,
      )
    : byWork(
        output,
        `The motor at ${outputWords([output])} shakes at many rates: a bearing that grates. Battery out; turn it by hand beside another one, feel its screws, replace it.`,
      )
const byWork = (output: number, act: string): Remedy => ({ by: 'work', act, work: ['replace motor'], outputs: [output] })
