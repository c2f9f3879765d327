import { mostLeapS } from './radio/frames'
import { median } from './statistics'

/** How a moved control stands: which channel moved, how often it was out, what is wrong or nothing, and what share is there. */
export interface ControlState {
  /** How it is at rest is known: it may be moved. */
  readonly known: boolean
  /** Counted from 1; null while none has moved. */
  readonly channel: number | null
  readonly outings: number
  readonly fault: 'two' | null
  readonly share: number
}

interface Wanted {
  readonly leastUs: number
  readonly times: number
  readonly ends: 'back' | 'there'
  readonly heldS: number
  readonly ignores?: readonly number[] | undefined
}

// Common practice: a stick at rest trembles by a few us, and one that was let go of comes back within some tens.
const backUs = 30
const stillUs = 12
// A receiver that shakes more is told so by its own check; a control that is held on it is held all the same. Of ten rows the largest is two
// deviations or less from the middle, and hardly one row lies six away.
const shakes = 3
// A rest that was shorter would not be measured well: a check that looks at rests wants 0.4 s of them.
const settleS = 0.6
const restRows = 10

/**
 * Watches the channels of a transmitter while one control is moved: finds by itself which one moved, and says when it was out as often
 * as it is wanted, each time held for long enough, and where it is to end.
 */
export class ControlWatch {
  private rest: number[] | null = null
  /** How far each channel strayed at rest, us. */
  private strayed: number[] = []
  private first: number[][] = []
  /** Since when each channel is away from rest, s; Infinity while it is not. */
  private since: number[] = []
  private channel: number | null = null
  private two = false
  private outings = 0
  private isOut = false
  private still: { since: number; at: number } | null = null

  constructor(private readonly wanted: Wanted) {}

  /** Takes the channels of one received frame, us, at a time in seconds. */
  push(t: number, received: readonly number[]): ControlState {
    const { ignores = [] } = this.wanted
    const channels = ignores.length === 0 ? received : received.map((us, c) => (ignores.includes(c + 1) ? 0 : us))
    if (this.rest === null) {
      if (this.first.some((row) => channels.some((us, c) => Math.abs(us - (row[c] as number)) > backUs))) this.first = []
      this.first.push([...channels])
      if (this.first.length < restRows) return this.state(0)
      const rest = channels.map((_, c) => median(this.first.map((row) => row[c] as number)))
      this.strayed = rest.map((us, c) => Math.max(...this.first.map((row) => Math.abs((row[c] as number) - us))))
      this.rest = rest
      return this.state(0)
    }
    const rest = this.rest
    const away = channels.map((us, c) => Math.abs(us - (rest[c] as number)))
    const { since } = this
    this.since = away.map((far, c) => (far < this.wanted.leastUs ? Infinity : Math.min(since[c] ?? Infinity, t)))
    // A contact that opens for a moment is no control that is moved.
    const moved = away.map((far, c) => (t - (this.since[c] as number) > mostLeapS ? far : 0))
    const farthest = moved.indexOf(Math.max(...moved))
    if (this.channel === null && (moved[farthest] as number) > 0) this.channel = farthest
    if (this.channel === null) return this.state(0)
    this.two ||= moved.some((far, c) => c !== this.channel && far > 0)
    const at = channels[this.channel] as number
    const stillWithin = Math.max(stillUs, shakes * (this.strayed[this.channel] ?? 0))
    if (this.still === null || Math.abs(at - this.still.at) > stillWithin) this.still = { since: t, at }
    const heldFor = t - this.still.since
    const far = away[this.channel] as number
    if (!this.isOut && far >= this.wanted.leastUs && heldFor >= this.wanted.heldS) {
      this.isOut = true
      this.outings += 1
    } else if (this.isOut && far <= backUs) this.isOut = false
    const done =
      this.outings >= this.wanted.times &&
      (this.wanted.ends === 'there' ? this.isOut : !this.isOut && far <= backUs && heldFor >= settleS)
    return this.state(done ? 1 : Math.min(0.95, this.outings / this.wanted.times))
  }

  private state(share: number): ControlState {
    return {
      known: this.rest !== null,
      channel: this.channel === null ? null : this.channel + 1,
      outings: this.outings,
      fault: this.two ? 'two' : null,
      share,
    }
  }
}

/** What to tell the technician about a control that is moved, in a few words. */
export const controlWords = ({ known, channel, outings, fault, share }: ControlState, { times, ends }: Wanted): string => {
  if (share >= 1) return 'Done.'
  if (!known) return 'Leave it at rest.'
  if (channel === null) return 'Move it.'
  if (fault === 'two') return 'Two channels move: move this control alone.'
  if (outings < times) return times === 1 ? 'Further, to its end.' : `${outings} of ${times}`
  return ends === 'back' ? 'Let it go back.' : 'Hold it there.'
}
