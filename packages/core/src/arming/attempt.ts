import { entryOf, type EvidenceEvent, type Segment, type Want, type WantOf } from '@taraf/contract'
import type { Got } from '../take'

/** What became of one try to arm. */
export interface Tried {
  /** Why the board refused, at the last; null where it did not say. */
  readonly reasons: readonly string[] | null
  readonly armedAt: number | null
}

const reasonsOf = (event: EvidenceEvent | undefined): readonly string[] =>
  (event as { reasons?: readonly string[] } | undefined)?.reasons ?? []

export const triedIn = ({ events = [] }: Pick<Segment, 'events'>): Tried => {
  const armed = events.find(({ what }) => what === 'armed')
  const refusing = events.findLast(({ what }) => what === 'refusing')
  return {
    armedAt: armed?.t ?? null,
    reasons: refusing === undefined ? null : reasonsOf(refusing),
  }
}

/** When a reason to refuse came up that was not there before; null where it was there all the while, or never. */
export const cameUp = ({ events = [] }: Pick<Segment, 'events'>, reason: string): number | null => {
  let was: boolean | null = null
  for (const event of events) {
    if (event.what !== 'gates') continue
    const is = reasonsOf(event).includes(reason)
    if (is && was === false) return event.t
    was = is
  }
  return null
}

/** Whether a reason to refuse was there at any moment. */
export const wasThere = ({ events = [] }: Pick<Segment, 'events'>, reason: string): boolean =>
  events.some((event) => event.what === 'gates' && reasonsOf(event).includes(reason))

/** What takes away each reason that a board may refuse for. */
const clearing: Readonly<Record<string, string>> = {
  throttle: 'bring throttle down',
  tilt: 'lay it level',
  'no radio': 'switch the transmitter on',
  'switch on at power-up': 'put every switch off once, that of failsafe too',
  'not calibrated': 'end this, and let the board measure its sensors',
  'low battery': 'put a charged pack in',
  'no battery': 'put the battery in',
  'no fix': 'wait for the fix, under open sky',
  sensor: 'end this: a sensor does not answer',
  permit: 'end this, confirm props off, and run it again',
  busy: 'wait until the board has measured',
}
const mostTries = 3

/**
 * One try to arm that must be refused for one reason alone. Where the board refuses for another as well it proves nothing: what to clear
 * first is said, and the step comes again. Where it arms, everything stands before the next one. True where it was refused.
 */
export function* attempt(step: WantOf<'watch'>, reason: string): Generator<Want, boolean, Got> {
  let { ask } = step
  for (let tries = 0; tries < mostTries; tries++) {
    const { segment }: Got = yield { ...step, ask }
    const { armedAt, reasons } = triedIn(segment ?? {})
    if (armedAt !== null) {
      yield {
        kind: 'state',
        label: 'stand',
        ask: 'It armed, and must not have. Arm switch off, throttle down.',
        state: { disarmed: true },
      }
      // Armed before its edge was there: a slip of the hand, which is said at once and not at the end.
      if (step.lead === undefined || wasThere(segment ?? {}, step.lead.gate)) return false
      ask = `It armed: you were not told yet that it would refuse. Then again: ${step.ask}`
      continue
    }
    const others = (reasons ?? []).filter((one) => one !== reason)
    if (others.length === 0) return reasons !== null
    const clears = others.map((one) => entryOf(clearing, one) ?? `see why it says “${one}”`)
    ask = `It refuses for ${others.join(', ')} as well, which proves nothing: ${clears.join(', ')} first. Then again: ${step.ask}`
  }
  return false
}
