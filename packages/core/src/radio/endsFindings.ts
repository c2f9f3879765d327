import type { Evidence, Finding, Remedy, Settings } from '@taraf/contract'
import { judged, refusal } from '../check'
import { limitFor } from '../limits'
import { nearUs, travelOf } from './asked'
import { framesOf, standsIn, unheard, type Frames } from './frames'
import { armedMeanwhile } from './meanwhile'
import { channelOf, controls, isReversed, type Control } from './sticks'
const heldS = 0.5
const withinUs = 15
const middleUs = 1500
const beyondUs = 12
/** 100 % of travel is 500 us from the middle, and transmitters commonly give 125 % at the most (common practice). */
const usOfPercent = 5
const usualMost = 100
const commonlyMost = 125
/** The ends of a sound stick lie about as far from the middle as each other: less than this is no trim. */
const leastTrimUs = 20

type Side = 'Low' | 'High'
interface Ends {
  readonly low: number
  readonly high: number
}

/** Where each control ends, against the gates of the board. */
export const endsFindings = (evidence: Evidence): Finding[] => {
  const found: Finding[] = armedMeanwhile(evidence)
  for (const control of controls) {
    const frames = framesOf(evidence, control)
    if (frames === null) return unheard(control)
    const channel = channelOf(evidence.board.settings, control)
    const reached = endsIn(frames, channel)
    if (reached === null)
      return refusal(
        `${control}: channel ${channel} was not held at both of its ends`,
        'Run it again: hold the control at each end for a second.',
      )
    const judgedEnds = judgeEnds(evidence, control, channel, reached)
    found.push(...judgedEnds, ...(control === 'throttle' ? throttleRest(evidence, reached, judgedEnds) : []))
  }
  return [...found, ...gateFindings(evidence)]
}

/** Gates that lie far inside the range are passed by sticks that never reach their ends. */
const gateFindings = ({ sheet, board: { settings } }: Evidence): Finding[] =>
  (
    [
      ['radio.lowGate', -1, 1060],
      ['radio.highGate', 1, 1940],
    ] as const
  ).flatMap(([name, out, usual]): Finding[] => {
    const gate = settings?.[name]
    if (gate === undefined) return []
    const wanted = sheet.settings?.[name] ?? usual
    const act = `Set ${name} to ${wanted} us, as the ends of the sticks of a build are meant.`
    return [
      judged(
        `gate${out < 0 ? 'Low' : 'High'}`,
        out * (gate - middleUs),
        'us from the middle',
        { min: limitFor(sheet, 'radio.gate').min },
        {
          by: 'settings',
          act,
          settings: { [name]: wanted },
        },
      ),
    ]
  })

/** The two ends that were held, us; null where one of them was not, or lies by the middle. */
export const endsIn = (frames: Frames, channel: number): Ends | null => {
  const us = frames.channel(channel)
  if (us === null) return null
  const stands = standsIn(frames.t, us, heldS, withinUs).map((s) => s.us)
  const low = Math.min(...stands)
  const high = Math.max(...stands)
  return stands.length > 0 && low <= middleUs - nearUs && high >= middleUs + nearUs ? { low, high } : null
}

/** The gates as the channel meets them: those of an inverted control are mirrored. */
export const gatesOf = (settings: Settings | undefined, control: Control): Ends => {
  const low = Number(settings?.['radio.lowGate'] ?? 1060)
  const high = Number(settings?.['radio.highGate'] ?? 1940)
  return isReversed(settings, control) ? { low: 2 * middleUs - high, high: 2 * middleUs - low } : { low, high }
}

/** The travel that puts an end at `target`: travel and distance from the middle are in proportion. */
export const newTravel = (travel: number, measured: number, target: number): number =>
  (travel * (target - middleUs)) / (measured - middleUs)

const judgeEnds = (evidence: Evidence, control: Control, channel: number, reached: Ends): Finding[] => {
  const gates = gatesOf(evidence.board.settings, control)
  const { min, max } = limitFor(evidence.sheet, 'radio.beyondGate')
  // A stick that centres itself has its trim judged by its centre.
  const trim = control === 'throttle' ? trimIn(reached, gates, min, max) : null
  const one = (side: Side, measured: number, gate: number): Finding => {
    const out = side === 'Low' ? -1 : 1
    const bounds = [gate + out * min, gate + out * max]
    const limit = { min: Math.min(...bounds), max: Math.max(...bounds) }
    const told = toldTravel(evidence, control, side)
    const travel = told ?? Math.abs(measured - middleUs) / usOfPercent
    const percent = Number(newTravel(travel, measured, gate + out * beyondUs).toFixed(1))
    const remedy = trim === null ? travelRemedy(channel, side, percent, told) : trimRemedy(channel, trim)
    return judged(`${control}${side}`, measured, 'us', limit, remedy)
  }
  return [one('Low', reached.low, gates.low), one('High', reached.high, gates.high)]
}

/** Arming wants the throttle under its own gate, where it rests: an end that is right in itself may be above that. */
const throttleRest = ({ board: { settings } }: Evidence, { low, high }: Ends, ends: readonly Finding[]): Finding[] => {
  const most = settings?.['arm.throttleMost']
  if (most === undefined) return []
  const isTurned = isReversed(settings, 'throttle')
  const wrong = ends.find((f) => f.key === (isTurned ? 'throttleHigh' : 'throttleLow') && f.verdict === 'fail')
  const gate = Number(settings?.['radio.lowGate'] ?? 1060)
  const remedy = wrong?.remedy ?? {
    by: 'settings',
    act: 'Set the arming gate to the low gate of the throttle.',
    settings: { 'arm.throttleMost': gate },
  }
  return [judged('throttleRest', isTurned ? 2 * middleUs - high : low, 'us', { max: most }, remedy)]
}

/** The travel that is set, as the technician read it; null where nobody did. */
const toldTravel = ({ observations = [] }: Evidence, control: Control, side: Side): number | null => {
  const told =
    observations.findLast((o) => o.item === travelOf(`${control}${side}`))?.answer ??
    observations.findLast((o) => o.segment === control)?.[`travel${side}`]
  return typeof told === 'number' ? told : null
}

/** How far both ends lie off to one side, where that alone is wrong: a trim shifts both, a travel moves one. Null where it is not. */
const trimIn = (reached: Ends, gates: Ends, least: number, most: number): number | null => {
  const by = (reached.low + reached.high) / 2 - middleUs
  const isRight = (beyond: number) => beyond >= least && beyond <= most
  const mended = isRight(gates.low - (reached.low - by)) && isRight(reached.high - by - gates.high)
  return Math.abs(by) >= leastTrimUs && mended ? Math.round(by) : null
}

const trimRemedy = (channel: number, by: number): Remedy => ({
  by: 'transmitter',
  act: `Move the trim of channel ${channel} ${by > 0 ? 'down' : 'up'} by ${Math.abs(by)} us, on the transmitter: both ends are off by as much.`,
  transmitter: [{ channel, subTrimByUs: -by }],
})

const travelRemedy = (channel: number, side: Side, percent: number, told: number | null): Remedy => ({
  by: 'transmitter',
  ...(told === null ? {} : { was: { [`travel${side}`]: told } }),
  ...(percent > commonlyMost ? { first: ['calibrate sticks'] } : {}),
  act:
    `Set the travel of channel ${channel} on its ${side.toLowerCase()} side to ${percent} %, on the transmitter.` +
    (percent > commonlyMost
      ? " That is more than most transmitters give: calibrate its sticks first. Where that does not help, set the board's gate."
      : percent > usualMost
        ? " Where it gives less, calibrate its sticks; a worn stick is repaired, or the board's gate is set."
        : ''),
  transmitter: [{ channel, [`travel${side}`]: percent }],
})
