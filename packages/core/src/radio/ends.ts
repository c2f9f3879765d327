import type { Evidence, Finding, Settings } from '@taraf/contract'
import { defineCheck, judged, refusal } from '../check'
import { want } from '../take'
import { limitFor } from '../limits'
import { channelOf, controls, framesOf, isReversed, standsIn, type Control, type Frames } from './frames'

/** Each control held at both of its ends. */
export const ends = defineCheck({
  id: 'radio.ends',
  version: 1,
  station: 'radio',
  title: 'Stick ends',
  proves: 'Each stick passes the gates of the board at both ends, by a little.',
  words: Object.fromEntries(
    (['throttle', 'roll', 'pitch', 'yaw'] as const).flatMap((control) => [
      [`${control}Low`, `Low end of ${control}`],
      [`${control}High`, `High end of ${control}`],
    ]),
  ),
  needs: ['radio.order'],
  reads: {
    settings: ['radio.throttle.*', 'radio.roll.*', 'radio.pitch.*', 'radio.yaw.*', 'radio.lowGate', 'radio.highGate'],
    parts: ['receiver'],
    acts: ['transmitter'],
    image: true,
  },
  appliesTo: (sheet) => !sheet.setAside?.includes('radio.ends'),
  stages: null,
  *take() {
    for (const control of controls)
      yield* want.control({
        label: control,
        ask:
          control === 'throttle'
            ? 'Throttle fully up, hold it there for a second, fully down, and leave it there.'
            : `Move ${control} to one end and hold it there for a second, then to the other end.`,
        seconds: 60,
        enoughS: 1.5,
        streams: ['radio'],
        leastUs: nearUs,
        times: control === 'throttle' ? 1 : 2,
        ends: 'back',
        heldS: 0.6,
        atOnce: true,
        state: { transmitter: true, disarmed: true },
      })
  },
  evaluate: (evidence) => endsFindings(evidence),
})

const heldS = 0.5
const withinUs = 15
const middleUs = 1500
const nearUs = 200
const beyondUs = 12
/** 100 % of travel is 500 us from the middle, and transmitters commonly give 125 % at the most (common practice). */
const usOfPercent = 5
const commonlyMost = 125

interface Ends {
  readonly low: number
  readonly high: number
}

/** Where each control ends, against the gates of the board. */
export const endsFindings = (evidence: Evidence): Finding[] => {
  const found: Finding[] = []
  for (const control of controls) {
    const frames = framesOf(evidence, control)
    if (frames === null)
      return refusal(`${control}: nothing was received`, 'Make sure that the receiver hears the transmitter, then run it again.')
    const channel = channelOf(evidence.board.settings, control)
    const ends = endsIn(frames, channel)
    if (ends === null)
      return refusal(
        `${control}: channel ${channel} was not held at both of its ends`,
        'Run it again: hold the control at each end for a second.',
      )
    found.push(...judgeEnds(evidence, control, channel, ends))
  }
  return found
}

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

const judgeEnds = (evidence: Evidence, control: Control, channel: number, ends: Ends): Finding[] => {
  const gates = gatesOf(evidence.board.settings, control)
  const { min, max } = limitFor(evidence.sheet, 'radio.beyondGate')
  const set = evidence.observations?.findLast((o) => o.segment === control) as
    { readonly travelLow?: unknown; readonly travelHigh?: unknown } | undefined
  const one = (side: 'Low' | 'High', measured: number, gate: number): Finding => {
    const out = side === 'Low' ? -1 : 1
    const told = set?.[`travel${side}`]
    const travel = typeof told === 'number' ? told : Math.abs(measured - middleUs) / usOfPercent
    const percent = Number(newTravel(travel, measured, gate + out * beyondUs).toFixed(1))
    const bounds = [gate + out * min, gate + out * max]
    return judged(
      `${control}${side}`,
      measured,
      'us',
      { min: Math.min(...bounds), max: Math.max(...bounds) },
      {
        by: 'transmitter',
        act:
          `Set the travel of channel ${channel} on its ${side === 'Low' ? 'low' : 'high'} side to ${percent} %, on the transmitter.` +
          (percent > commonlyMost
            ? ` That is more than most transmitters give: calibrate its sticks first. Where that does not help, set the board's gate.`
            : ''),
        transmitter: [{ channel, [`travel${side}`]: percent }],
      },
    )
  }
  return [one('Low', ends.low, gates.low), one('High', ends.high, gates.high)]
}
