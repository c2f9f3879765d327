import type { Evidence, Finding } from '@taraf/contract'
import { byHand, judged, refusal } from '../check'
import { limitFor } from '../limits'
import { mean } from '../statistics'
import { centred, farUs, timesOut } from './asked'
import { framesOf, standsIn, unheard, type Frames, type Values } from './frames'
import { armedMeanwhile } from './meanwhile'
import { channelOf, type Control } from './sticks'
const restS = 0.4
const withinUs = 10
const middleUs = 1500

/** Where the sticks come to rest once they are let go of, and how well they find back. */
export const centreFindings = (evidence: Evidence): Finding[] => {
  const found: Finding[] = armedMeanwhile(evidence)
  for (const control of centred) {
    const frames = framesOf(evidence, control)
    if (frames === null) return unheard(control)
    const channel = channelOf(evidence.board.settings, control)
    const rests = restsIn(frames, channel)
    if (rests === null)
      return refusal(
        `${control}: channel ${channel} did not come to rest three times from each side`,
        'Run it again: to one end, let go, wait half a second, to the other end, let go, wait; three timesOut.',
      )
    found.push(...judgeCentre(evidence, control, channel, rests))
  }
  return found
}

/** Every rest after letting go from each side, us; null where there are fewer than three from one. */
export const restsIn = (frames: Frames, channel: number): number[] | null => {
  const us = frames.channel(channel)
  if (us === null) return null
  const sides: { low: number[]; high: number[] } = { low: [], high: [] }
  let before = 0
  for (const { from, to, us: at } of standsIn(frames.t, us, restS, withinUs)) {
    if (Math.abs(at - middleUs) >= farUs) continue
    const side = lastSide(us.subarray(before, from), at)
    if (side !== null) sides[side].push(at)
    before = to
  }
  if (sides.low.length < timesOut || sides.high.length < timesOut) return null
  return [...sides.low, ...sides.high]
}

/** From which end it came, the last one that it was at; null where it was at none. */
const lastSide = (us: Values, rest: number): 'low' | 'high' | null => {
  for (let i = us.length - 1; i >= 0; i--) {
    const away = (us[i] as number) - rest
    if (Math.abs(away) >= farUs) return away > 0 ? 'high' : 'low'
  }
  return null
}

const judgeCentre = ({ sheet }: Evidence, control: Control, channel: number, rests: readonly number[]): Finding[] => {
  const centre = mean(rests as number[])
  const most = limitFor(sheet, 'radio.centre').max
  const subTrimUs = Number((middleUs - centre).toFixed(1))
  return [
    judged(
      `${control}Centre`,
      centre,
      'us',
      { min: middleUs - most, max: middleUs + most },
      {
        by: 'transmitter',
        act:
          `Move the sub-trim of channel ${channel} by ${subTrimUs} us, on the transmitter. ` +
          'Where trim and sub-trim stand at zero already, calibrate the sticks of the transmitter.',
        transmitter: [{ channel, subTrimByUs: subTrimUs }],
      },
    ),
    judged(
      `${control}Return`,
      Math.max(...rests) - Math.min(...rests),
      'us',
      { max: limitFor(sheet, 'radio.return').max },
      byHand('Calibrate the sticks of the transmitter; if it says so again, the stick is worn: have it repaired.', [
        'calibrate sticks',
      ]),
    ),
  ]
}
