import type { Frames, Values } from '../radio/frames'
import { standsIn, type Stand } from '../radio/frames'
import { median } from '../statistics'

const standS = 0.3
const withinUs = 10
/** Positions of one switch lie further apart than a channel wanders. */
export const apartUs = 60
const movedUs = 100

/** The positions that a switch was moved through, us, from the lowest; or why they cannot be told. */
export const positionsIn = (
  frames: Frames,
  channel: number,
  others: readonly number[],
): { readonly positions: number[] } | { readonly why: string } => {
  const us = frames.channel(channel)
  if (us === null) return { why: `channel ${channel} is not there` }
  const another = others.find((number) => number !== channel && reachOf(frames.channel(number)) >= movedUs)
  if (another !== undefined) return { why: `channel ${another} moved too` }
  const stands = standsAt(frames, channel).map((s) => s.us)
  if (stands.length === 0) return { why: `channel ${channel} never came to rest` }
  const groups: number[][] = []
  for (const at of [...stands].sort((a, b) => a - b)) {
    const last = groups.at(-1)
    if (last !== undefined && at - (last.at(-1) as number) <= apartUs) last.push(at)
    else groups.push([at])
  }
  return { positions: groups.map((group) => median(group)) }
}

/** Where a switch stood, one after the other. */
export const standsAt = (frames: Frames, channel: number): Stand[] =>
  standsIn(frames.t, frames.channel(channel) ?? new Float64Array(0), standS, withinUs)

const reachOf = (us: Values | null): number => (us === null ? 0 : Math.max(...us) - Math.min(...us))
