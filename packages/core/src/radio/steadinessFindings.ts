import type { Evidence, Finding, Settings } from '@taraf/contract'
import { byHand, judged, refusal, shown } from '../check'
import { limitFor, limits } from '../limits'
import { median } from '../statistics'
import { framesOf, leapsAlone, leastLeaps, mendControl, movedOf, unheard, type Frames, type Values } from './frames'
import { channelOf, controls, strengthOf } from './sticks'

/** The channels that settings give to a control or to a switch, without the strength channel, in order. */
export const channelsInUse = (settings: Settings | undefined): number[] => {
  const ofSwitches = Object.entries(settings ?? {}).flatMap(([name, value]) =>
    /^switch\.[^.]+\.(channel|withChannel)$/.test(name) ? [Number(value)] : [],
  )
  const strength = strengthOf(settings)
  return [...new Set([...controls.map((c) => channelOf(settings, c)), ...ofSwitches])]
    .filter((number) => number > 0 && number !== strength)
    .sort((a, b) => a - b)
}

/** How steady the channels are with everything at rest, and whether frames were missed. */
export const steadinessFindings = (evidence: Evidence): Finding[] => {
  const frames = framesOf(evidence, 'rest')
  if (frames === null) return unheard()
  const channels = channelsInUse(evidence.board.settings).filter((number) => frames.there.includes(number))
  const restless = movedOf(frames, channels)
  if (restless !== null) return refusal(`channel ${restless} moved`, 'Leave sticks and switches alone, then run it again.')
  const { gaps, lost, longestGapMs } = dropOutsOf(frames.t, frames.span, frames.everyS)
  const { sheet } = evidence
  const antenna = byHand("Place the receiver's antenna clear of carbon and leads. If it says so again, replace the receiver.", [
    'place receiver antenna',
    'replace receiver',
  ])
  const alone = leapsAlone(frames, channels)
  const remedyFor = (number: number) => {
    if ((alone.get(number) ?? 0) >= leastLeaps) return byHand(mendControl, ['mend transmitter'])
    return leaps(frames.channel(number) as Values) ? antenna : byHand('Replace the receiver and bind it.', ['replace receiver'])
  }
  return [
    ...channels.map((number) =>
      judged(
        `ch${number}Noise`,
        noiseOf(frames.channel(number) as Values),
        'us rms',
        { max: limitFor(sheet, 'radio.noise').max },
        remedyFor(number),
      ),
    ),
    judged('gaps', gaps, '', { max: limitFor(sheet, 'radio.gaps').max }, antenna),
    judged('lost', lost, '% of frames', { max: limitFor(sheet, 'radio.lost').max }, antenna),
    shown('longestGap', longestGapMs, 'ms'),
  ]
}

const leapUs = 50
/** Some frames leap and the rest are steady: that is reception, and not the receiver that shakes. */
const leaps = (us: Values): boolean => {
  const middle = median(us)
  const steady = us.filter((value) => Math.abs(value - middle) <= leapUs)
  return steady.length < us.length && noiseOf(steady) <= limits['radio.noise'].max
}

/** Root mean square about the median. */
export const noiseOf = (us: Values): number => {
  const middle = median(us)
  return Math.sqrt(us.reduce((sum, value) => sum + (value - middle) ** 2, 0) / us.length)
}

const gapTimes = 2.5

/**
 * What is missing of the frames of a span: gaps of two frames or more, the share that was lost, and the longest gap. Silence before the first
 * frame and after the last one counts like any other, as between frames that came just before and just after the span.
 */
export const dropOutsOf = (
  t: Values,
  [from, to]: Frames['span'],
  everyS = Infinity,
): { gaps: number; lost: number; longestGapMs: number } => {
  // Where each second frame is bad, the good ones are as regular as ever.
  const usual = Math.min(everyS, median(stepsOf([...t])))
  const steps = stepsOf([from - usual, ...t, to + usual])
  const missing = steps.reduce((sum, step) => sum + Math.max(0, Math.round(step / usual) - 1), 0)
  return {
    gaps: steps.filter((step) => step > gapTimes * usual).length,
    lost: (100 * missing) / (missing + t.length),
    longestGapMs: 1000 * Math.max(...steps),
  }
}
const stepsOf = (t: readonly number[]): number[] => t.slice(1).map((at, i) => at - (t[i] as number))
