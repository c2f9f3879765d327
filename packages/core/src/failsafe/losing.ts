import type { Evidence, EvidenceEvent, Finding, Segment, SheetPart, Want, WantOf } from '@taraf/contract'
import { armingStep } from '../arming/arms'
import { armWords, ready, rulesOf } from '../arming/rules'
import { whyUnarmed } from '../arming/unarmed'
import { refusal } from '../check'
import { isWaitedFor } from '../events'
import { modeName } from '../switches/modeName'
import { want, type Got, type TakeSoFar } from '../take'

/** One thing that a check of this station tries: the label of its step, and what must come of it. */
export interface Tried {
  readonly label: string
  readonly words: string
}

/** How the signal is taken away, and how it is given back. */
export const gone = { transmitter: 'switch the transmitter off', 'receiver lead': 'pull the lead of the receiver' } as const
export const back = { transmitter: 'Transmitter on again', 'receiver lead': 'Lead of the receiver in again' } as const

/** A step in which the signal goes and comes back: nothing of it may be between two. */
export const taken = {
  permit: 'armed-bench',
  streams: ['radio', 'outputs', 'attitude'],
  mayLack: ['radio', 'attitude'],
  seconds: 90,
  until: ['loss:none'],
  atOnce: true,
  state: { battery: true, props: 'off' },
} as const

/** Watches until it is armed in a flight mode; `first` is what is caused before that, once it is disarmed. */
export const armedIn = (sheet: SheetPart, label: string, mode: string, first = ''): WantOf<'watch'> => {
  const { on, off } = armWords(rulesOf(sheet))
  const step = armingStep(sheet, label)
  const then = `mode ${modeName(mode)}. Then ${on}.`
  if (first === '') return { ...step, ask: `${off}, throttle down, laid level, ${then}` }
  const ask = `${off}, throttle down. ${first} Lay it level, ${then}`
  return { ...step, ask, streams: ['radio', 'fix'], mayLack: ['radio', 'fix'], seconds: fixS }
}
/** A receiver that was switched on just now finds its place in some minutes (common practice). */
const fixS = 300
/** A fix that came is one that stays for so long, s. */
const fixLastsS = 2

const skyLabel = (arming: string): string => `sky-${arming}`
/** Under open sky until it has a fix, before the step in which it is armed. */
export const underSky = (arming: string): WantOf<'capture'> => ({
  kind: 'capture',
  label: skyLabel(arming),
  ask: 'Bring it under open sky, and wait for the fix.',
  during: 'Under open sky: waiting for a fix',
  streams: ['fix'],
  seconds: fixS,
  enoughS: 1,
  until: { stream: 'fix', column: 'fixed', least: 1, lastsS: fixLastsS },
  atOnce: true,
  state: { battery: true, disarmed: true },
})
const isWithoutFix = ({ streams: { fix } }: Segment): boolean => fix !== undefined && Array.from(fix.fixed).at(-1) !== 1
/** Disarmed, and then under open sky: nobody carries what may be armed. Says whether there is a fix to go on with. */
export function* fixedFirst(sheet: SheetPart, arming: string): Generator<Want, boolean, Got> {
  const ask = `${armWords(rulesOf(sheet)).off}, throttle down.`
  yield* want.state({ label: `disarm-${arming}`, ask, state: { disarmed: true } })
  const { segment } = yield underSky(arming)
  return segment === undefined || !isWithoutFix(segment)
}

/** Why nothing is proved by a step in which it was to be armed; null where it was armed. */
export const whyNotArmed = (evidence: Evidence, label: string, of = ''): Finding[] | null => {
  const sky = evidence.segments.find((segment) => segment.label === skyLabel(label))
  if (sky === undefined || !isWithoutFix(sky)) return whyUnarmed(evidence, label, of)
  const why = 'it had no fix under open sky'
  return refusal(
    of === '' ? why : `${of}: ${why}`,
    'Carry it where nothing covers the sky, wait until it has a fix, and run it again.',
  )
}

/** Everything off, at the end of a take of this station. */
export const allOff = {
  label: 'failsafe-done',
  ask: 'Throttle down, arm switch off, battery out.',
  state: { battery: false, disarmed: true },
} as const
/** Its first step. The switch of failsafe may have been left on by a take that ended early: nothing arms until it is off. */
export const readyFor = ({ switchPlan = [] }: SheetPart) =>
  ({
    label: 'ready',
    ask: `Battery in, props and nuts off, transmitter on, throttle down${switchPlan.some((row) => row.function === 'failsafe') ? ', switch of failsafe off' : ''}.`,
    state: ready,
  }) as const

/** A board that cuts as it begins to act is none that was left to its end. */
const leastActS = 1
/** Whether a board that acted for a while then disarmed itself. */
export const endsItself = (events: readonly EvidenceEvent[]): boolean => {
  const act = events.find((event) => event.what === 'loss' && (event as { phase?: string }).phase === 'act')?.t ?? Infinity
  return events.some(
    (event) => event.what === 'disarmed' && (event as { cause?: string }).cause === 'failsafe' && event.t - act >= leastActS,
  )
}

const mostTries = 3
const cameIn = ({ events = [] }: Pick<Segment, 'events'>, name: string): boolean =>
  events.some((event) => isWaitedFor(event, [name]))

/** Why a loss that must act proves nothing, or null. */
export const notActed = (segment: Segment): string | null =>
  cameIn(segment, 'loss:act') ? null : 'The signal came back before the board acted: wait for longer'
export const notEnded = (segment: Segment): string | null =>
  cameIn(segment, 'disarmed') ? null : 'The signal came back before the board disarmed: wait for longer'

/**
 * One step, and again where it proves nothing: why is said.
 *
 * @param whyNot why what became of it proves nothing, in words; null where it proves something
 * @param isOver whether what came leaves nothing to go on with
 * @returns whether there is something to go on with
 */
export function* tried(
  step: WantOf<'watch'>,
  whyNot: (segment: Segment) => string | null,
  isOver: (segment: Segment) => boolean = ({ events = [] }) => endsItself(events),
): Generator<Want, boolean, Got> {
  let { ask } = step
  for (let tries = 1; ; tries++) {
    const { segment, short } = yield { ...step, ask }
    if (short === true) return false
    // A plan is walked without events.
    if (segment?.events === undefined || tries === mostTries) return true
    if (isOver(segment)) return false
    const why = whyNot(segment)
    if (why === null) return true
    ask = `${firstUp(why)}. Again: ${step.ask}`
  }
}

export const firstUp = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1)

/** The document of one segment, as far as a take knows it. */
export const soFarOf = ({ sheet, settings }: TakeSoFar, check: string, segment: Segment): Evidence => ({
  format: 'taraf-evidence/1',
  check,
  sheet,
  board: { settings },
  segments: [segment],
})

/** What was found is something; words are why it is nothing. */
export const wordsIn = (found: unknown): string | null => (typeof found === 'string' ? found : null)
