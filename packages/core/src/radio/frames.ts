import type { Column, Evidence, Finding, Streams } from '@taraf/contract'
import { refusal } from '../check'
import { median } from '../statistics'

/** Samples of one channel, or their times. */
export type Values = Float64Array<ArrayBuffer>

/** The frames that were received: rows of quality 0 are none. Channels are counted from 1, us; those that are not there are null. */
export interface Frames {
  readonly t: Values
  readonly channel: (number: number) => Values | null
  /** The usual time from one row to the next, received or not, s. */
  readonly everyS: number
  /** When the segment began and ended, whether or not anything was received then, s. */
  readonly span: readonly [from: number, to: number]
  /** The numbers of the channels that are there. */
  readonly there: readonly number[]
}

type Radio = NonNullable<Streams['radio']>
const mostChannels = 16

/** The received frames of a segment, or null where nothing was received in it. */
export const framesOf = (evidence: Evidence, label: string): Frames | null => {
  const radio = evidence.segments.find((s) => s.label === label)?.streams.radio
  if (radio === undefined) return null
  const heard = heardIn(radio)
  const picked = (column: Column): Values => Float64Array.from(heard, (row) => column[row] as number)
  const columns = new Map<number, Values>()
  for (let number = 1; number <= mostChannels; number++) {
    const column = (radio as Readonly<Record<string, Column | undefined>>)[`ch${number}`]
    if (column !== undefined) columns.set(number, picked(column))
  }
  if (heard.length === 0) return null
  return {
    t: picked(radio.t),
    channel: (number) => columns.get(number) ?? null,
    everyS: median(Array.from(radio.t, (at, i) => at - (radio.t[i - 1] ?? NaN)).slice(1)),
    span: [radio.t[0] as number, radio.t[radio.t.length - 1] as number],
    there: [...columns.keys()],
  }
}

/** Why a segment in which nothing was received proves nothing; `of` is what was to be moved in it. */
export const unheard = (of?: string): Finding[] =>
  refusal(
    `${of === undefined ? '' : `${of}: `}nothing was received`,
    'Make sure that the receiver hears the transmitter, then run it again.',
  )

const heardIn = ({ t, quality }: Radio): number[] => {
  const rows: number[] = []
  for (let row = 0; row < t.length; row++) if (quality === undefined || (quality[row] as number) > 0) rows.push(row)
  return rows
}

/** A stretch in which a channel stands: its rows (from, to), and its middle value, us. */
export interface Stand {
  readonly from: number
  readonly to: number
  readonly us: number
}

/** The stretches of `leastS` or longer that stay within `withinUs` of where they stand, to either side, one after the other. */
export const standsIn = (t: Values, us: Values, leastS: number, withinUs: number): Stand[] => {
  const stands: Stand[] = []
  for (let from = 0; from < us.length;) {
    let low = us[from] as number
    let high = low
    let to = from + 1
    for (; to < us.length; to++) {
      const next = us[to] as number
      if (Math.max(high, next) - Math.min(low, next) > 2 * withinUs) break
      low = Math.min(low, next)
      high = Math.max(high, next)
    }
    if ((t[to - 1] as number) - (t[from] as number) >= leastS) {
      stands.push({ from, to, us: median(us.subarray(from, to)) })
      from = to
    } else from += 1
  }
  return stands
}

const chunkS = 0.25
const movesUs = 20

/** The first channel of these whose middle value wanders by more than a hand at rest lets it; null where none does. */
export const movedOf = (frames: Frames, channels: readonly number[]): number | null => {
  const moved = channels.find((number) => {
    const us = frames.channel(number)
    if (us === null) return false
    const middles = middlesOf(frames.t, us)
    return Math.max(...middles) - Math.min(...middles) > movesUs
  })
  return moved ?? null
}

const middlesOf = (t: Values, us: Values): number[] => {
  const middles: number[] = []
  for (let from = 0, to = 1; to <= us.length; to++) {
    if (to < us.length && (t[to] as number) - (t[from] as number) < chunkS) continue
    middles.push(median(us.subarray(from, to)))
    from = to
  }
  return middles
}

/** Away from where it stands, and as far as it leaps, us; nothing that a hand does is over so soon, s. */
const [awayUs, leastLeapUs] = [50, 200]
export const mostLeapS = 0.15
/** A contact that is bad leaps again and again. */
export const leastLeaps = 2
/** What is away for more of the time than this, of all rows, is no leap: two transmitters are heard in turns. */
const mostAway = 0.2

/** How often each of these channels leapt for a moment while no other did: then its control leaps, and not the reception. */
export const leapsAlone = ({ t, channel }: Frames, numbers: readonly number[]): Map<number, number> => {
  const leaps = new Map(
    numbers.flatMap((number): [number, Leap[]][] => {
      const us = channel(number)
      return us === null ? [] : [[number, leapsOf(t, us)]]
    }),
  )
  const isShared = (number: number, { from, to }: Leap) =>
    [...leaps].some(([other, all]) => other !== number && all.some((leap) => leap.from < to && from < leap.to))
  return new Map([...leaps].map(([number, all]) => [number, all.filter((leap) => !isShared(number, leap)).length]))
}

/** The rows of a leap, the last one excluded. */
interface Leap {
  readonly from: number
  readonly to: number
}
const leapsOf = (t: Values, us: Values): Leap[] => {
  const stands = median(us)
  const leaps: Leap[] = []
  for (let from = 1; from < us.length; from++) {
    let to = from
    let far = 0
    for (; to < us.length && Math.abs((us[to] as number) - stands) > awayUs; to++)
      far = Math.max(far, Math.abs((us[to] as number) - stands))
    // One that goes on to the end may be no leap.
    if (far >= leastLeapUs && to < us.length && (t[to] as number) - (t[from] as number) <= mostLeapS) leaps.push({ from, to })
    from = to
  }
  const away = leaps.reduce((sum, { from, to }) => sum + to - from, 0)
  return away <= mostAway * us.length ? leaps : []
}

/** What is done about a control that leaps by itself. */
export const mendControl = 'Repair the switch or the stick of the transmitter that it is on, or take another transmitter.'
