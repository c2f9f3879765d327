import type { Column, Evidence, Finding, Remedy, Segment, WantOf } from '@taraf/contract'
import { defineCheck, judged, judgedAs, refusal, shown } from '../check'
import { outputsOf } from '../geometry'
import { limitFor } from '../limits'
import { apart, oddOnes, otherKv } from '../motors/speeds'
import { notTurning } from '../motors/stands'
import { hasMotors } from '../sheetHas'
import { mean } from '../statistics'
import { want } from '../take'
import { isPulse } from './frame'
import { turningHzBy } from './poles'
import { outputWords, powered } from './read'
import { leastTaughtS } from './teachWatch'

/** Two commands far apart, both of them well above where a motor begins. */
const commands = { slow: 0.2, fast: 0.5 } as const
type Pace = keyof typeof commands
const labelAt = (pace: Pace, output: number): string => `${pace}-${output}`
/** Speeds between these shares of what the motor's own constant makes of the volts are looked for. */
const sought = { from: 0.2, to: 1.8 } as const
const leastVolts = 2.5

const teach = {
  kind: 'watch',
  label: 'teach',
  ask: 'Look at every motor: props and nuts are off. Then hold the button: high goes to every ESC, and you have half a minute to put the battery in.',
  streams: ['outputs'],
  seconds: 45,
  until: ['taught'],
  permit: 'teach',
} as const satisfies WantOf<'watch'>

const turning = (pace: Pace, output: number): Omit<WantOf<'turn'>, 'kind'> => ({
  label: labelAt(pace, output),
  ask: `Press and hold the button: output ${output} turns, ${pace === 'slow' ? 'slowly' : 'fast'}. Hands off the airframe and the bench.`,
  during: 'Turning: keep holding, and leave the airframe alone',
  streams: ['imuBurst', 'meter'],
  seconds: 2,
  enoughS: 1,
  outputs: [{ output, share: commands[pace] }],
  runUpS: 1.5,
  state: powered,
})

/** Whether every ESC of a sheet understands pulses alone, whose ends it must be taught. */
export const isAnalogue = (understands: readonly string[]): boolean => understands.length > 0 && understands.every(isPulse)

/** The checks that ask an ESC how fast it turns: one that only pulses reach does not say. */
export const asksSpeeds = ['escs.data', 'motors.start', 'motors.smooth', 'motors.heat'] as const

/** Teaches the ends of an analogue signal, and measures what became of it: each motor's speed at two commands, by what it shakes. */
export const range = defineCheck({
  id: 'escs.range',
  version: 1,
  station: 'escs',
  title: 'Range of the signal',
  proves: 'Every ESC stands at the lowest signal of the board and gives full speed at the highest.',
  words: (sheet) => ({
    taught: 'Taught',
    volts: 'Battery while they turn',
    speeds: 'Between the fastest and the slowest',
    ...Object.fromEntries(
      outputsOf(sheet).flatMap((output) => [
        [`nought${output}`, `Zero of output ${output}`],
        [`full${output}`, `All of output ${output}`],
      ]),
    ),
  }),
  needs: ['escs.signal'],
  reads: {
    settings: ['esc.signal'],
    parts: ['ESC', 'motor', 'power wiring'],
    acts: ['board', 'knock'],
    image: true,
    escs: ['timingDeg'],
  },
  appliesTo: (sheet) => hasMotors(sheet) && isAnalogue(sheet.escs?.understands ?? []),
  stages: null,
  *take({ sheet }) {
    yield* want.state({
      label: 'battery-out',
      ask: 'Take the battery out: teaching begins without it.',
      state: { battery: false },
    })
    yield teach
    yield* want.state({
      label: 'props',
      ask: 'The range is taught. Look at every motor once more, and hold the button: props and nuts are off for this battery.',
      state: powered,
    })
    for (const output of outputsOf(sheet)) for (const pace of ['slow', 'fast'] as const) yield* want.turn(turning(pace, output))
  },
  evaluate: (evidence) => rangeFindings(evidence),
})

const rangeFindings = (evidence: Evidence): Finding[] => {
  const { sheet, segments } = evidence
  const kv = sheet.rotor?.kv
  if (kv === undefined)
    return refusal('the build sheet does not say the KV of the motors', 'Write rotor.kv into the build sheet, then run it again.')
  const outputs = outputsOf(sheet)
  const taught = taughtIn(
    segments.find(({ label }) => label === teach.label),
    outputs,
  )
  if (taught !== null) return refusal(taught, 'Take the battery out, and run it again from its start.')
  const read = outputs.map((output) => ({
    output,
    slow: pacedIn(segments, 'slow', output, kv),
    fast: pacedIn(segments, 'fast', output, kv),
  }))
  const flat = read.find(({ slow, fast }) => !(slow.volts > leastVolts && fast.volts > leastVolts))
  if (flat !== undefined)
    return refusal(
      `the meter read no battery while output ${flat.output} turned`,
      'Clip the meter to the plug, then run it again.',
    )
  const unheard = read.flatMap(({ output, slow, fast }) => (slow.hz === null || fast.hz === null ? [output] : []))
  if (unheard.length > 0)
    return unheard.map((output) => judgedAs(`turns${output}`, 'not felt to turn', 'turns', notTurning({ output, how: 'stands' })))
  const ends = read.map(({ output, slow, fast }) => ({ output, ...endsBy(slow as Turned, fast as Turned, kv) }))
  const rpms = read.map(({ output, fast }) => ({ output, rpm: 60 * (fast.hz ?? 0) }))
  const [nought, full, speeds] = [limitFor(sheet, 'range.nought'), limitFor(sheet, 'range.full'), limitFor(sheet, 'start.speeds')]
  const isOff = ({ full: at }: { full: number }) => at < full.min || at > full.max
  const all = ends.length > 1 && ends.every(isOff)
  return [
    shown('taught', 'high, then low', ''),
    shown('volts', mean(read.map(({ fast }) => fast.volts)), 'V'),
    ...ends.flatMap(({ output, nought: low, full: high }) => [
      judged(`nought${output}`, low, 'of the signal', { min: nought.min, max: nought.max }, learnsNot([output])),
      judged(`full${output}`, high, 'of the signal', { min: full.min, max: full.max }, all ? otherKv(kv) : learnsNot([output])),
    ]),
    judged('speeds', apart(rpms), '% of the middle one', { max: speeds.max }, learnsNot(oddOnes(rpms, speeds.max))),
  ]
}

const learnsNot = (outputs: readonly number[]): Remedy => ({
  by: 'work',
  act: `The ESC at ${outputWords(outputs)} was taught, and still uses another range. Battery out; replace it, then run this again. If it reads so still, replace its motor.`,
  work: ['replace ESC', 'replace motor'],
  outputs: [...outputs],
})

/** Why a range was not taught whole, by what the outputs were told; null where it was. */
const taughtIn = (segment: Segment | undefined, outputs: readonly number[]): string | null => {
  const told = segment?.streams.outputs
  if (told === undefined || segment?.events?.some(({ what }) => what === 'taught') !== true) return 'the range was not taught'
  const columns = outputs.map((output) => (told as unknown as Readonly<Record<string, Column | undefined>>)[`o${output}`])
  if (columns.includes(undefined)) return 'the board does not tell what it sends to every output'
  const lasted = (is: (command: number) => boolean): number => {
    const times = Array.from(told.t).filter((_, i) => columns.every((column) => is(column?.[i] as number)))
    return times.length === 0 ? 0 : (times[times.length - 1] as number) - (times[0] as number)
  }
  if (lasted((command) => command > 0.98) < leastTaughtS.upper) return 'high was not sent for long enough'
  return lasted((command) => command < 0.02) < leastTaughtS.lower ? 'low was not sent for long enough' : null
}

interface Turned {
  readonly hz: number
  readonly volts: number
}

const pacedIn = (segments: readonly Segment[], pace: Pace, output: number, kv: number): { hz: number | null; volts: number } => {
  const { imuBurst, meter } = segments.find(({ label }) => label === labelAt(pace, output))?.streams ?? {}
  const volts = meter === undefined || meter.volts.length === 0 ? 0 : mean(meter.volts)
  const allHz = (kv * volts * commands[pace]) / 60
  const hz = imuBurst === undefined ? null : turningHzBy(imuBurst, sought.from * allHz, sought.to * allHz)
  return { hz, volts }
}

/**
 * The ends of the range that an ESC goes by, as shares of the board's: speed is the motor's constant times the volts, times the share of
 * full that the ESC makes of the command (no-load speed of a direct-current machine), so that two speeds give the line between.
 */
const endsBy = (slow: Turned, fast: Turned, kv: number): { nought: number; full: number } => {
  const share = ({ hz, volts }: Turned) => (60 * hz) / (kv * volts)
  const [a, b] = [share(slow), share(fast)]
  const perShare = (commands.fast - commands.slow) / (b - a)
  const nought = commands.slow - a * perShare
  return { nought, full: nought + perShare }
}
