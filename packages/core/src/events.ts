import { entryOf, streams, type BoardEvent, type EvidenceEvent, type WantOf } from '@taraf/contract'

/** What a board tells, by the word that evidence has for it. */
const words: Readonly<Record<string, EvidenceEvent['what']>> = {
  armed: 'armed',
  disarmed: 'disarmed',
  refusing: 'refusing',
  gates: 'gates',
  mode: 'mode',
  phase: 'loss',
  light: 'light',
  tone: 'tone',
  power: 'power',
  taught: 'taught',
}

/** What a board told, as evidence keeps it; null for what no check reads. */
export const evidenceEvent = ({ t, what, detail }: Pick<BoardEvent, 't' | 'what' | 'detail'>): EvidenceEvent | null => {
  const known = entryOf(words, what)
  return known === undefined ? null : { ...detail, t, what: known }
}

/** Whether an event is one of those that are waited for, each named as `what` or `what:detail`. */
export const isWaitedFor = (event: EvidenceEvent, until: readonly string[]): boolean =>
  until.some((wanted) => {
    const [what, detail] = wanted.split(':')
    return event.what === what && (detail === undefined || Object.values(event).flat().includes(detail))
  })

type EndOf = Pick<WantOf<'watch'>, 'until' | 'offFirst' | 'onlyAfter'>

/** Watches for what ends a step: after what must come before it, and of a refusal with the switch seen off. */
export class EndWatch {
  private wasOff: boolean
  private mayEnd: boolean

  constructor(private readonly want: EndOf) {
    this.wasOff = (want.offFirst ?? []).length === 0
    this.mayEnd = want.onlyAfter === undefined
  }

  /** Takes one received frame: the switch is off where a channel lies outside the band in which it is on. */
  push(us: (channel: number) => number): void {
    this.wasOff ||= (this.want.offFirst ?? []).some(({ channel, low, high }) => us(channel) < low || us(channel) > high)
  }

  /** Takes an event; whether it is one that is waited for. */
  ends(event: EvidenceEvent): boolean {
    const { until, onlyAfter } = this.want
    if (onlyAfter !== undefined && isWaitedFor(event, [onlyAfter])) this.mayEnd = true
    return this.mayEnd && (this.wasOff || event.what !== 'refusing') && isWaitedFor(event, until)
  }
}

/** What to do next once an event came, by the step. */
export const nextWords = ({ then = [] }: Pick<WantOf<'watch'>, 'then'>, event: EvidenceEvent): string | null =>
  then.find((one) => isWaitedFor(event, [one.event]))?.words ?? null

/** Watches one column until it has stood at a value or over it for so long without a break: neither a lower row nor a pause of its rows. */
export class LastingWatch {
  private since: number | null = null
  private before = -Infinity
  private counts: boolean
  private readonly least: number
  private readonly lastsS: number
  private readonly longestPauseS: number

  constructor({ stream, least, lastsS, fromBelow }: Omit<NonNullable<WantOf<'capture'>['until']>, 'column'>) {
    this.least = least
    this.lastsS = lastsS
    this.longestPauseS = rowsMissed / (streams[stream].leastHz ?? Infinity)
    this.counts = fromBelow !== true
  }

  /** Takes a row; true once it has lasted. */
  push(t: number, value: number): boolean {
    this.counts ||= value < this.least
    if (t - this.before > this.longestPauseS) this.since = null
    this.before = t
    this.since = this.counts && value >= this.least ? (this.since ?? t) : null
    return this.since !== null && t - this.since >= this.lastsS
  }
}
/** So many rows of the slowest that a stream may be: nothing came in that time. */
const rowsMissed = 5
