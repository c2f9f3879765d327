import type { Column, Evidence, Finding, Question, Segment } from '@taraf/contract'
import { rulesOf } from '../arming/rules'
import { whyUnarmed } from '../arming/unarmed'
import { cellsOf, midPackVolts } from '../cells'
import { byHand, judged, judgedAs, refusal, shown } from '../check'
import { localGravity } from '../gravity'
import { outputsOf } from '../geometry'
import { limitFor } from '../limits'
import { powerSpectrum, rmsBetween } from '../motors/spectrum'
import { outputColumn } from '../motors/speeds'
import { trimRemedy } from '../orientation/trim'
import { answersOf } from '../questions'
import { degrees } from '../rotation'
import { mean, median, standardDeviation } from '../statistics'
import { highestOf, worstStretch } from '../worst'
import { hoverOf } from './known'

type Streams = Segment['streams']

/** A hover shorter than this proves nothing, s. */
const leastS = 3
/** A hover begins once it is up and ends before it is brought down: a second at each end is none of it. */
const endS = 1
/** It left the ground where it felt more than this of its own weight for a tenth of a second. */
const liftOff = 1.05
/** What held its height felt its own weight, on the whole, within this share. */
const heldWithin = 0.03
/** Beyond this lean, deg, it turned over. */
const tippedDeg = 60

/** What a hop says, by the log of the board. */
export const hopFindings = (evidence: Evidence, gate: readonly Question[]): Finding[] => {
  const { segments } = evidence
  const answers = answersOf(evidence)
  const notSo = gate.find(({ id }) => answers.get(id)?.answer === false)
  if (notSo !== undefined)
    return refusal(`it was not flown, for this is not so: ${notSo.words}`, 'Make it so, then run it again.')
  const segment = segments.find(({ label }) => label === 'hop')
  if (segment === undefined)
    return refusal('the log of the flight was not read', 'Fly it again, and put the cable in once it has landed.')
  const { outputs, attitude, imu } = segment.streams
  if (outputs?.command === undefined || attitude === undefined || imu === undefined)
    return refusal('the log holds no command, attitude or specific force', 'Fly it again.')
  if (imu.stage !== 'body') return refusal(`the imu stream is in stage ${imu.stage}, not body`, 'Capture it in stage body.')
  const unarmed = segment.events === undefined ? null : whyUnarmed(evidence, segment.label)
  if (unarmed !== null) return unarmed
  const other = otherFlight(evidence, segment)
  if (other !== null) return refusal(other, 'Fly it again: arm it once, and put the cable in once it has landed.')
  const tipped = Math.max(...[attitude.roll, attitude.pitch].map((angle) => degrees(Math.max(...Array.from(angle, Math.abs)))))
  if (tipped > tippedDeg) return [judgedAs('tips', 'turned over', 'stays upright', overRemedy)]
  const highest = highestOf(outputs.command)
  const found = hoverIn(outputs.t, outputs.command, highest)
  const wrong = found === null ? tooShort : notFlown(evidence, segment, found)
  // With nearly all that it has it must lift: what does not has no pilot to blame.
  if ((wrong === tooShort || wrong === onGround) && highest > nearlyAll)
    return [judgedAs('lifts', `stays on the ground at ${(100 * highest).toFixed(0)} % of full command`, 'lifts off', pushesDown)]
  if (found === null || wrong !== null) return refusal(wrong ?? tooShort, flyAgain)
  const upright = judgedAs('tips', 'stays upright', 'stays upright')
  const spin = spinIn(evidence, imu, found)
  // Of what spins, the rest says nothing about what is wrong.
  if (spin.verdict === 'fail') return [upright, spin]
  const hovered = [upright, spin, ...inHover(evidence, segment.streams, found)]
  // What is wrong anyhow is said; what seems right is not, where the rows are too slow to show how it shakes.
  return hovered.some(({ verdict }) => verdict === 'fail') || burstIn(segment.streams, found) !== null
    ? hovered
    : refusal('the log holds no burst of the hover: how it shakes was not seen', flyAgain)
}

/** The link is seen to go and to come back by its samples, which come in blocks: so far from the moment at the most, s. */
const clocksS = 1.5
/** Why the rows of a log are not those of this one flight, or null. */
const otherFlight = ({ segments }: Evidence, { events = [], streams: { outputs } }: Segment): string | null => {
  const t = outputs?.t ?? []
  const [first, last] = [t[0] as number, t[t.length - 1] as number]
  if (events.filter((event) => event.what === 'armed' && event.t >= first - clocksS && event.t <= last).length > 1)
    return 'it was armed more than once in this log'
  const link = segments.flatMap(({ events: told = [] }) => told.filter(({ what }) => what === 'link')) as readonly {
    readonly t: number
    readonly link?: string
  }[]
  const [out, back] = [link.find((event) => event.link === 'lost')?.t, link.findLast((event) => event.link === 'up')?.t]
  return (out !== undefined && first < out - clocksS) || (back !== undefined && last > back + clocksS)
    ? 'the log is not of the time in which the cable was out'
    : null
}

/** What is down at its end has landed: the command is back at what idles, and who landed it disarmed it. */
const hasLanded = ({ events, streams: { outputs } }: Segment, { to }: Hover): boolean => {
  const command = outputs?.command as Column
  const { t } = outputs as NonNullable<Streams['outputs']>
  const last = rowAt(t, (t[t.length - 1] as number) - 0.1)
  const isDown = last > 0 && highestOf(command, last) < 0.3 * highestOf(command)
  return isDown && (events === undefined || events.some((event) => event.what === 'disarmed' && event.t >= to))
}

const spinIn = ({ sheet }: Evidence, imu: NonNullable<Streams['imu']>, hover: Hover): Finding => {
  const { max } = limitFor(sheet, 'hop.spin')
  const rate = degrees(mean(within(imu.t, hover)(imu.gz)))
  return judged(
    'spin',
    rate,
    'deg/s',
    { min: -max, max },
    byHand('It spins: a prop or a motor turns the other way. Take Order and direction and Prop plan again.', ['put right prop']),
  )
}

const onGround = 'it never left the ground'
const tooShort = `it was not held up for ${leastS} s between lift-off and landing`
const nearlyAll = 0.8
const flyAgain = 'Fly it again: lift it slowly, hold it in its place for eight seconds, and land.'
const overRemedy = byHand(
  'Battery out. It turned over: take Order and direction, Board orientation and Response again, and look at which prop sits on which position.',
  ['put right prop'],
)

/** From when to when it hovered, s. */
interface Hover {
  readonly from: number
  readonly to: number
  /** When its stretch began, a second before. */
  readonly up: number
}

/** The longest stretch with the command near that which held it up, less its ends; null where it is too short. */
const hoverIn = (t: Column, command: Column, highest: number): Hover | null => {
  const n = t.length
  const high = Array.from(command).filter((share) => share > highest / 2)
  if (high.length === 0) return null
  const least = 0.7 * median(high)
  let best: Hover | null = null
  for (let i = 0, first = 0; i <= n; i++) {
    if (i < n && (command[i] as number) > least) continue
    if (i > first) {
      const [up, down] = [t[first] as number, t[i - 1] as number]
      if (best === null || down - up > best.to - best.from + 2 * endS) best = { up, from: up + endS, to: down - endS }
    }
    first = i + 1
  }
  return best === null || best.to - best.from < leastS ? null : best
}

/** Why what looks like a hover is none, or null. */
const notFlown = ({ place }: Evidence, segment: Segment, { up, from, to }: Hover): string | null => {
  const {
    events = [],
    streams: { imu },
  } = segment
  const { t, az } = imu as NonNullable<Streams['imu']>
  const g = localGravity(place)
  const weight = Float64Array.from(az, (value) => -value / g)
  const [first, last] = [rowAt(t, up - 0.5), rowAt(t, from)]
  if (!(worstStretch(t, weight, 0.1, first, last).highest >= liftOff)) return onGround
  const felt = mean(weight, rowAt(t, from), rowAt(t, to))
  if (!hasLanded(segment, { up, from, to })) return 'the log ends before it had landed'
  if (Math.abs(felt - 1) > heldWithin) return `it did not keep its height: it felt ${felt.toFixed(2)} of its weight`
  if (
    events.some(
      (event) => event.what === 'loss' && (event as { phase?: string }).phase !== 'none' && event.t >= up && event.t <= to,
    )
  )
    return 'the signal was lost in the air'
  if (events.some((event) => event.what === 'disarmed' && event.t >= up && event.t <= to)) return 'it was disarmed in the air'
  return null
}

/** The first row at or after a time. */
const rowAt = (t: Column, at: number): number => {
  let [low, high] = [0, t.length]
  while (low < high) {
    const middle = (low + high) >> 1
    if ((t[middle] as number) < at) low = middle + 1
    else high = middle
  }
  return low
}
const within = (t: Column, { from, to }: Hover) => {
  const [first, last] = [rowAt(t, from), rowAt(t, to)]
  return (column: Column): Column => column.slice(first, last)
}

const inHover = (evidence: Evidence, streams: Streams, hover: Hover): Finding[] => {
  const { sheet } = evidence
  const { outputs, attitude, imu } = streams as Required<Streams>
  const share = median(within(outputs.t, hover)(outputs.command as Column))
  const leant = within(attitude.t, hover)
  const lean = { roll: mean(leant(attitude.roll)), pitch: mean(leant(attitude.pitch)) }
  const felt = within(imu.t, hover)
  const rates = powerSpectrum(felt(imu.t), [felt(imu.gx), felt(imu.gy), felt(imu.gz)])
  const { max: most } = limitFor(sheet, 'hop.trim')
  const trim = trimRemedy(evidence, lean, 'In hover it leans')
  const swing = degrees(rmsBetween(rates, 1, 20))
  // Slower than what a spectrum of some seconds tells, it leans to one side and the other.
  const sway = degrees(Math.max(standardDeviation(leant(attitude.roll)), standardDeviation(leant(attitude.pitch))))
  return [
    judged('hoverThrottle', share, 'of full command', { max: limitFor(sheet, 'hop.throttle').max }, tooHeavy),
    ...outputFindings(evidence, streams, hover),
    ...overKnown(evidence, streams, hover, share),
    judged('rollTrim', degrees(lean.roll), 'deg', { min: -most, max: most }, trim),
    judged('pitchTrim', degrees(lean.pitch), 'deg', { min: -most, max: most }, trim),
    judged('wobble', swing, 'deg/s rms', { max: limitFor(sheet, 'hop.wobble').max }, swings),
    judged('sway', sway, 'deg rms', { max: limitFor(sheet, 'hop.sway').max }, swings),
    judged('vibration', shakingIn(streams, hover), 'm/s2 rms', { max: limitFor(sheet, 'hop.vibration').max }, shakes),
    ...powerIn(streams, hover),
    shown('seconds', hover.to - hover.from, 's'),
  ]
}

const tooHeavy = byHand(
  'Battery out. It takes nearly all that it has to hold it up: nothing is left to hold it level with. Weigh it, and look at its motors and props.',
  ['take load off'],
)

/** Outputs that stand at a limit while it hovers: nothing is left to hold it level with, whatever the others do. */
const outputFindings = ({ sheet }: Evidence, streams: Streams, hover: Hover): Finding[] => {
  const { outputs } = streams
  if (outputs === undefined) return []
  const [first, last] = [rowAt(outputs.t, hover.from), rowAt(outputs.t, hover.to)]
  const wrong = outputsOf(sheet).flatMap((output) => {
    const column = outputColumn(streams, output)
    if (column === undefined) return []
    const { lowest, highest } = worstStretch(outputs.t, column, 0.1, first, last)
    if (highest >= fullShare) return [`output ${output} is at its limit`]
    return lowest < standsShare ? [`output ${output} stands`] : []
  })
  return [
    judgedAs(
      'outputs',
      wrong[0] ?? 'all within their limits',
      'all within their limits',
      byHand(
        'Battery out. One motor is asked for all that it has while the craft hovers: turn it by hand, look at its prop, its boom and its ESC, then hop again.',
      ),
    ),
  ]
}
const [fullShare, standsShare] = [0.97, 0.03]

const swings = byHand(
  'It swings about its place: compare its gains and filters with the sheet, then look for a loose boom or board.',
)
const shakes = byHand('It shakes: look at each prop along its edge and at its hub, then take Smooth running again.', [
  'replace prop',
])

/** Specific force above 20 Hz, three axes, m/s2 rms: of the burst where half a second of one is in the hover. */
const shakingIn = (streams: Streams, hover: Hover): number => {
  const { t, axes } = burstIn(streams, hover) ?? cutOf(streams.imu as NonNullable<Streams['imu']>, hover)
  const spectrum = powerSpectrum(t, axes)
  return rmsBetween(spectrum, 20 + spectrum.binHz / 2, Infinity)
}
const cutOf = (stream: NonNullable<Streams['imuBurst']>, hover: Hover) => {
  const cut = within(stream.t, hover)
  return { t: cut(stream.t), axes: [cut(stream.ax), cut(stream.ay), cut(stream.az)] }
}
/** What of a burst is in the hover; null where that is too little. */
const burstIn = ({ imuBurst }: Streams, hover: Hover): ReturnType<typeof cutOf> | null => {
  const burst = imuBurst === undefined ? null : cutOf(imuBurst, hover)
  return burst !== null && spanOf(burst.t) >= leastBurstS ? burst : null
}
const leastBurstS = 0.5
const spanOf = (t: Column): number => (t.length < 2 ? 0 : (t[t.length - 1] as number) - (t[0] as number))

const powerIn = ({ power }: Streams, hover: Hover): Finding[] => {
  if (power === undefined) return []
  const cut = within(power.t, hover)
  return [shown('volts', mean(cut(power.volts)), 'V'), shown('amps', mean(cut(power.amps)), 'A')]
}

/** So many points more are no load: nobody would carry it out. */
const noLoad = 20
const pushesDown = byHand(
  'Battery out. It takes far more to hold it up than any load does: one rotor pushes the wrong way. Take Order and direction and Prop plan again.',
  ['put right prop'],
)
/** What holds it up, at mid-pack voltage, against others of its type, else against the sheet. */
const overKnown = (evidence: Evidence, { power }: Streams, hover: Hover, share: number): Finding[] => {
  const { airframe, hovers = [], sheet, board } = evidence
  const known = hoverOf({ ...evidence, hovers: hovers.filter(({ tag }) => tag !== airframe?.tag) })
  if (known === null) return []
  const volts = power === undefined ? null : mean(within(power.t, hover)(power.volts))
  const mid = known.volts ?? (volts === null ? null : midPackVolts(cellsOf(board.settings, volts)))
  const atMid = volts === null || mid === null ? share : (share * volts) / mid
  const { min, max } = limitFor(sheet, 'hop.over')
  const idle = rulesOf(sheet).idle
  const whose = known.from === 'its type' ? 'others of its type' : 'what the sheet says'
  const over = 100 * (atMid - known.command)
  return [
    judged(
      'over',
      over,
      'points',
      { min, max },
      over > noLoad
        ? pushesDown
        : over > 0
          ? byHand(
              `It takes more to hold it up than ${whose}: weigh it, take off what is not in the sheet, then look at its props.`,
              ['take load off'],
            )
          : (board.settings?.['motors.idle'] ?? idle) > idle + 0.02
            ? {
                by: 'settings',
                act: 'Lower the idle command: its motors lift without being asked to.',
                settings: { 'motors.idle': idle },
              }
            : byHand(
                `It takes less to hold it up than ${whose}: its payload or its pack is another one. Weigh it, then hop again.`,
              ),
    ),
  ]
}
