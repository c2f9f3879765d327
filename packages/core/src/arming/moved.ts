import type { Evidence, Segment } from '@taraf/contract'
import { framesOf } from '../radio/frames'
import { channelOf, isReversed } from '../radio/sticks'
import { bandsOf } from './rules'

/** What a hand did in a segment, by the channels as they were received. */

/** Times of the frames, s, and a stick as the board takes it at each, us. */
export interface StickIn {
  readonly t: readonly number[]
  readonly us: readonly number[]
}
const usual = { roll: 1, pitch: 2, throttle: 3, yaw: 4 } as const
/** A stick at its end, throttle that is down, and throttle as in flight, us (common practice). */
const [leftUs, rightUs, lowUs] = [1100, 1900, 1150]
export const halfUs = 1480

export const stickIn = ({ label }: Segment, evidence: Evidence, control: keyof typeof usual): StickIn | null => {
  const { settings } = evidence.board
  const frames = framesOf(evidence, label)
  const column = frames?.channel(channelOf(settings, control) || usual[control]) ?? null
  if (frames === null || column === null) return null
  return { t: [...frames.t], us: [...column].map((one) => (isReversed(settings, control) ? 3000 - one : one)) }
}

/** Where a stick stood at a time, us; null where it was not received. */
export const stickAt = (segment: Segment, evidence: Evidence, control: keyof typeof usual, t: number): number | null => {
  const stick = stickIn(segment, evidence, control)
  return stick?.us[stick.t.findLastIndex((one) => one <= t + 1e-6)] ?? null
}

/** Since when both sticks stood in the corner that arms (right) or disarms (left), s; null where they never did. */
export const cornerSince = (segment: Segment, evidence: Evidence, side: 'left' | 'right'): number | null => {
  const [yaw, throttle] = [stickIn(segment, evidence, 'yaw'), stickIn(segment, evidence, 'throttle')]
  if (yaw === null || throttle === null) return null
  const isThere = (us: number) => (side === 'left' ? us <= leftUs : us >= rightUs)
  return yaw.t.find((_, row) => isThere(yaw.us[row] as number) && (throttle.us[row] as number) <= lowUs) ?? null
}

/** How long yaw stood fully to the left with throttle as in flight, at its longest, and when that ended, s; null where it never did. */
export const yawHeldInFlight = (segment: Segment, evidence: Evidence): { readonly s: number; readonly to: number } | null => {
  const [yaw, throttle] = [stickIn(segment, evidence, 'yaw'), stickIn(segment, evidence, 'throttle')]
  let longest: { s: number; to: number } | null = null
  let from: number | null = null
  yaw?.t.forEach((t, row) => {
    const isHeld = (yaw.us[row] as number) <= leftUs && (throttle?.us[row] ?? 0) >= halfUs
    from = isHeld ? (from ?? t) : null
    if (from !== null && t - from >= (longest?.s ?? 0)) longest = { s: t - from, to: t }
  })
  return longest
}

/** The last moment in which throttle was not down, s. */
export const raisedUntil = (segment: Segment, evidence: Evidence): number => {
  const throttle = stickIn(segment, evidence, 'throttle')
  return throttle?.t.findLast((_, row) => (throttle.us[row] as number) > lowUs) ?? -Infinity
}

/** Whether the switch of a function was on, frame by frame; null where nothing was heard or the board has no such switch. */
export const switchIn = (
  { label }: Segment,
  evidence: Evidence,
  name = 'arm',
): { readonly t: readonly number[]; readonly isOn: readonly boolean[] } | null => {
  const frames = framesOf(evidence, label)
  const bands = bandsOf(name, evidence.board.settings)
  if (frames === null || bands.length === 0) return null
  const isOn = (row: number) =>
    bands.every(({ channel, low, high }) => {
      const us = Math.round(frames.channel(channel)?.[row] ?? 0)
      return us >= low && us <= high
    })
  const t = [...frames.t]
  return { t, isOn: t.map((_, row) => isOn(row)) }
}

/** When the switch of a function came to be on, or off, s; null where it never did. */
export const switchedAt = (segment: Segment, evidence: Evidence, to: 'on' | 'off', name = 'arm'): number | null => {
  const found = switchIn(segment, evidence, name)
  const isTo = (row: number) => found?.isOn[row] === (to === 'on')
  return found?.t.find((_, row) => row > 0 && isTo(row) && !isTo(row - 1)) ?? null
}
