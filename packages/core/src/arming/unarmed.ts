import type { Evidence, Finding, Remedy, Segment } from '@taraf/contract'
import { byHand, refusal } from '../check'
import { triedIn } from './attempt'
import { switchIn } from './moved'

/**
 * Why nothing is proved by a step in which it was to be armed; null where it was armed.
 *
 * @param of what the step is part of, in words
 */
export const whyUnarmed = (evidence: Evidence, label: string, of = ''): Finding[] | null => {
  const segment = evidence.segments.find((one) => one.label === label)
  const refused = (why: string, act: string) => refusal(of === '' ? why : `${of}: ${why}`, act)
  if (segment === undefined) return refused('it was not tried to its end', 'Run it again, and do each step as it is asked.')
  const { armedAt, reasons } = triedIn(segment)
  if (armedAt !== null) return null
  if (reasons === null) return refused('it was not armed', 'Run it again, and arm it when it is asked.')
  return notArmed(evidence, segment, reasons)
}

/** It was asked to arm, and would not: nothing is proved until what it refuses for is put right. */
export const notArmed = (evidence: Evidence, segment: Segment, reasons: readonly string[]): Finding[] => {
  // A board that acts as at a loss looks at no other switch, and says what it makes of that.
  if (switchIn(segment, evidence, 'failsafe')?.isOn.at(-1) === true)
    return refusal('the switch of failsafe was on', 'Put the switch of failsafe off, and run it again.')
  const remedy: Remedy = reasons.includes('not calibrated')
    ? { by: 'calibration', act: 'Lay it down and let the board measure its gyro: it was never calibrated.', calibrate: 'gyro' }
    : byHand('Put right what the board refuses for, lay it level with throttle down, and run it again.')
  return [{ key: 'refused', value: `the board refused to arm: ${reasons.join(', ')}`, unit: '', verdict: 'refused', remedy }]
}
