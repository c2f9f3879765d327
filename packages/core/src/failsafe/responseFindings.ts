import type { Column, Evidence, EvidenceEvent, Finding, Observation, Remedy, Segment } from '@taraf/contract'
import { halfUs, stickAt } from '../arming/moved'
import { byHand, judged, judgedAs, refusal, shown } from '../check'
import { outputsOf } from '../geometry'
import { hoverFindings, hoverOf } from '../hover/known'
import { isWithin, limitFor } from '../limits'
import { modeName } from '../switches/modeName'
import { worstStretch, type Extremes } from '../worst'
import { accountFinding, accountOf, type Phase } from '../arming/account'
import { armLabel, lossesOf, type Loss, type LossFrom } from './losses'
import { endsItself, whyNotArmed } from './losing'
import { again, choiceOf, setting } from '../remedy'
import {
  commandIn,
  fallsFor,
  gapIn,
  jumpAt,
  modeIn,
  phasesOf,
  rowsIn,
  standingIn,
  turnsIn,
  type Gap,
  type Phases,
} from './phases'

/** Whether the segments are those of a take that follows the plan of its sheet. */
export const isPlanned = ({ segments }: Evidence): boolean => segments.some(({ label }) => label.startsWith('arm-'))

export const responseFindings = (evidence: Evidence): Finding[] => {
  const { sheet, segments } = evidence
  if (!isPlanned(evidence)) return firstRefused(segments.map((segment) => lostIn(evidence, segment, null)))
  return firstRefused([
    hoverFindings(evidence),
    ...lossesOf(sheet).map((loss) => {
      const unarmed = loss.from === 'disarmed' ? null : whyNotArmed(evidence, armLabel(loss.id), words(loss))
      if (unarmed !== null) return unarmed
      const segment = segments.find(({ label }) => label === loss.id)
      if (segment === undefined) return refusal(`${words(loss)}: it was not tried to its end`, again)
      return lostIn(evidence, segment, loss)
    }),
  ])
}

const words = ({ from, mode }: Loss): string =>
  from === 'half' ? `Above half throttle, mode ${modeName(mode)}` : from === 'idle' ? 'From idle' : 'Disarmed'

/** A loss that proves nothing leaves nothing to judge. */
const firstRefused = (found: readonly Finding[][]): Finding[] =>
  found.find((some) => some.some(({ verdict }) => verdict === 'refused')) ?? found.flat()

/** What became of one loss. */
const lostIn = (evidence: Evidence, segment: Segment, planned: Loss | null): Finding[] => {
  const { label, events = [], streams } = segment
  const named = planned === null ? `"${label}"` : words(planned)
  const refused = (why: string) => refusal(`${named}: ${why}`, again)
  const gap = gapIn(segment)
  if (typeof gap === 'string') return refused(gap)
  const said = evidence.observations?.findLast((one) => one.segment === label) ?? null
  const from: LossFrom = planned?.from ?? (said?.throttle === 'idle' || said?.throttle === 'disarmed' ? said.throttle : 'half')
  const wrong = planned === null ? null : notAsAsked(evidence, segment, planned, gap)
  if (wrong !== null) return refused(wrong)
  const phases = phasesOf(events, gap)
  if (phases.act === null && from !== 'disarmed' && gap.to - gap.from < mostUntilActS(evidence))
    return refused('the signal came back before the board acted')
  const { outputs } = streams
  if (outputs === undefined) return refused('no output was sampled')
  const of = `${label}.`
  const timed = timesOf(evidence, of, gap, phases)
  const account =
    planned === null ? [] : [accountFinding(evidence, `${of}account`, accountOfLoss(evidence, segment, planned, gap, phases))]
  if (from === 'disarmed') return [...timed.noticed, ...stays(of, segment), ...account]
  const acted = phases.act === null ? [] : actedFindings(evidence, segment, phases, said)
  const ended = from === 'idle' && planned !== null ? endsFindings(evidence, of, segment, phases, gap) : []
  return [
    ...timed.noticed,
    ...timed.waited,
    ...acted,
    ...timed.given,
    ...jumps(evidence, of, segment, phases),
    ...ended,
    ...account,
  ]
}

/** What the board is let do from the last frame to the end of the step, phase by phase. */
const accountOfLoss = (evidence: Evidence, segment: Segment, { from }: Loss, gap: Gap, phases: Phases): string => {
  const isArmed = from !== 'disarmed'
  return accountOf(evidence, segment, {
    isArmed,
    isLevel: true,
    phases: isArmed ? phasesOfLoss(evidence, segment, gap, phases) : [],
  })
}

/**
 * From the last frame on, the command stays as it was until it acts; it acts steadily; and it comes back to what the sticks say, which nobody
 * moves. A board that holds its height moves the command as it needs to.
 */
export const phasesOfLoss = (
  evidence: Evidence,
  { events = [], streams: { outputs } }: Segment,
  gap: Gap,
  phases: Phases,
): Phase[] => {
  const before = outputs === undefined ? null : commandIn(outputs, gap.from - beforeS, gap.from)
  const end = (events.find(({ what, t }) => what === 'disarmed' && t > gap.from) ?? { t: Infinity }).t
  const { act, next, none } = phases
  const acted = outputs === undefined || act === null ? null : commandIn(outputs, act, Math.min(next ?? Infinity, end))
  if (before === null) return []
  const jump = (limitFor(evidence.sheet, 'loss.jump').max ?? 0) / 100
  const around = (...commands: number[]) => ({ least: Math.min(...commands) - jump, most: Math.max(...commands) + jump })
  const holdsIn = (from: number, to: number) => heldModes.includes(modeIn(events, 'rate', from, to))
  // A switch brings its mode with it: what it was in is looked at a moment before.
  const held = holdsIn(gap.from - modeS, gap.from - modeS + 1e-6)
  const waits = { from: gap.from, to: act ?? gap.to, words: 'before it acts', ...(held ? {} : around(before)) }
  if (act === null || acted === null) return [waits]
  const holds = holdsIn(act, Math.min(next ?? Infinity, end, endOf({ events, streams: { outputs } })))
  const acting = { from: act, to: Math.min(next ?? gap.to, end), words: 'while it acts', ...(holds ? {} : around(acted)) }
  const back = {
    from: Math.max(acting.to, gap.to),
    to: Infinity,
    words: none === null ? '' : 'as control comes back',
    ...(held ? {} : around(before, acted)),
  }
  return [waits, acting, ...(end === Infinity ? [back] : [])]
}
const [beforeS, modeS] = [0.3, 0.05]

/** Longer than this is no signal that came back too soon, s. */
export const mostUntilActS = ({ sheet }: Evidence): number =>
  (limitFor(sheet, 'loss.notice').max ?? 0) + (limitFor(sheet, 'loss.wait').max ?? 0)

/** Why a loss of the plan is another one than was asked for, or null. */
const notAsAsked = (evidence: Evidence, segment: Segment, loss: Loss, gap: Gap): string | null => {
  const { events = [] } = segment
  const before = (what: string) => events.some((event) => event.what === what && event.t < gap.from)
  if (loss.from === 'disarmed') return before('armed') ? 'it was armed as the signal went' : null
  if (before('disarmed')) return 'it was disarmed before the signal went'
  const stopped = events.find((event) => event.what === 'disarmed' && (event as { cause?: string }).cause !== 'failsafe')
  if (stopped !== undefined && stopped.t < gap.to) return 'somebody disarmed it while the signal was gone'
  if (loss.from === 'half' && endsItself(events.filter(({ t }) => t < gap.to)))
    return 'it came to its end before the signal was back: give it back while it acts'
  if (loss.from === 'idle' && isBackBeforeItsEnd(evidence, events, gap))
    return 'the signal came back before its end: wait until it is disarmed'
  const us = stickAt(segment, evidence, 'throttle', gap.from)
  if (us === null) return 'throttle was not received'
  if (loss.from === 'half' && us < halfUs) return `throttle was at ${us.toFixed(0)} us as the signal went, not over the middle`
  if (loss.from === 'idle' && us > idleUs) return `throttle was at ${us.toFixed(0)} us as the signal went, not down`
  const mode = modeIn(events, 'rate', gap.from, gap.from + 1e-6)
  return mode === loss.mode || loss.from === 'idle'
    ? null
    : `it was in mode ${modeName(mode)} as the signal went, not in ${modeName(loss.mode)}`
}
/** Longer than any board that is left alone acts, s (common practice). */
const mostActS = 120
/** Whether the signal came back while the board, by what it is set to, was still to act. */
const isBackBeforeItsEnd = ({ board }: Evidence, events: readonly EvidenceEvent[], gap: Gap): boolean => {
  if (events.some(({ what, t }) => what === 'disarmed' && t <= gap.to)) return false
  const act = phasesOf(events, gap).act
  return act !== null && gap.to - act < (board.settings?.['loss.end'] ?? mostActS) + 0.5
}
/** Throttle that is down, us (common practice). */
export const idleUs = 1150

export const timesOf = (evidence: Evidence, of: string, gap: Gap, { wait, act, none }: Phases) => ({
  noticed: [timed(evidence, `${of}notice`, wait === null ? null : Math.max(0, wait - gap.from), 'loss.notice')],
  waited: [timed(evidence, `${of}wait`, act === null || wait === null ? null : act - wait, 'loss.wait')],
  given: [timed(evidence, `${of}back`, none === null ? null : Math.max(0, none - gap.to), 'loss.back')],
})

/** The setting behind each time, and what it is set to where the sheet does not say (common practice). */
const behind = {
  'loss.notice': { usual: 300, act: 'Have the board notice a loss sooner.' },
  'loss.wait': { usual: 700, act: 'Have the board act sooner once it knows of a loss.' },
  'loss.back': { usual: 400, act: 'Have the sticks count again sooner.' },
} as const

const timed = (evidence: Evidence, key: string, value: number | null, name: keyof typeof behind): Finding => {
  const { max } = limitFor(evidence.sheet, name)
  const { usual, act } = behind[name]
  const remedy = setting(evidence, act, { [name]: evidence.sheet.settings?.[name] ?? usual })
  if (value === null) return { ...judgedAs(key, 'never', `within ${max} s`, remedy) }
  return judged(key, value, 's', { max }, remedy)
}

const heldModes = ['altitude', 'position', 'returnHome']
/** What the command is under hover as it sinks, where nothing else is wanted. */
const underHover = 0.04

/** What it does while it acts: the mode that it goes into, and its command against hover. */
export const actedFindings = (evidence: Evidence, segment: Segment, phases: Phases, said: Observation | null): Finding[] => {
  const { sheet } = evidence
  const { label, events = [], streams } = segment
  const act = phases.act as number
  const short = phases.next === null || phases.next - act < shortS
  const until = (short ? (phases.recover ?? phases.next) : phases.next) ?? endOf(segment)
  const mode = modeIn(events, said?.mode ?? 'rate', act, until)
  const found =
    mode === 'rate'
      ? {
          ...judgedAs(`${label}.mode`, modeName(mode), 'one that levels itself', setting(evidence, levels, { 'loss.levels': 1 })),
        }
      : { ...judgedAs(`${label}.mode`, modeName(mode), modeName(mode)) }
  const { outputs } = streams
  const command = outputs === undefined ? null : commandIn(outputs, act, until)
  if (outputs === undefined || command === null) return refusal(`"${label}": the command was not sampled while it acted`, again)
  const standing = standingIn(outputs, outputsOf(sheet), act, until)
  if (standing.length > 0)
    return [found, judgedAs(`${label}.outputs`, `output ${standing.join(', ')} stands`, 'all are driven', standsRemedy)]
  const hover = said?.hover ?? hoverOf(evidence)?.command
  const holds = heldModes.includes(mode)
  const reached = commandFinding(
    evidence,
    `${label}.command`,
    { middle: command, ...worstCommand(outputs, act, until) },
    hover,
    holds,
  )
  if (reached.verdict === 'fail') return [found, reached]
  const fall = fallIn(evidence, outputs, `${label}.lift`, { from: act, to: until }, hover)
  if (fall === null) return [found, reached]
  return [found, reached, { ...fall, remedy: holds ? hoverRemedy(evidence, hover) : fallsRemedy }]
}

/** That it is let fall within a while, by what a board that holds its height can be told; null where it is held up. */
export const fallIn = (
  evidence: Evidence,
  outputs: NonNullable<Segment['streams']['outputs']>,
  key: string,
  { from, to }: Gap,
  hover = hoverOf(evidence)?.command,
): Finding | null => {
  const fallsS = fallsFor(outputs, outputsOf(evidence.sheet), leastLift(hover), from, to)
  if (fallsS === 0 || fallsS < Math.min(mostFallS, (to - from) / 2)) return null
  return judgedAs(key, `falls for ${fallsS.toFixed(1)} s`, 'never falls', hoverRemedy(evidence, hover))
}

/** The command while it acts against hover: shown where nobody knows hover, and where the board itself holds the height. */
const commandFinding = (
  evidence: Evidence,
  key: string,
  { middle, lowest, highest }: { middle: number } & Extremes,
  hover: number | undefined,
  holds: boolean,
): Finding => {
  if (hover === undefined) return shown(key, 100 * middle, 'points')
  if (holds) return shown(key, 100 * (middle - hover), 'points from hover')
  const { min, max = Infinity } = limitFor(evidence.sheet, 'loss.command')
  const over = 100 * ((100 * (highest - hover) > max ? highest : lowest) - hover)
  return judged(key, over, 'points from hover', { min, max }, commandRemedy(evidence, hover))
}
/** The lowest and the highest command of any fifth of a second. */
const worstCommand = (outputs: NonNullable<Segment['streams']['outputs']>, from: number, to: number): Extremes => {
  const rows = rowsIn(outputs, from + edgeS, to - edgeS)
  const command = (outputs as { command?: Column }).command ?? []
  return worstStretch(outputs.t, command, 0.2, rows[0], (rows[rows.length - 1] ?? -1) + 1)
}
const edgeS = 0.02

/** Less than this lets it fall: half of hover, and never more than what is allowed under it; without a hover what idles (common practice). */
const leastLift = (hover?: number): number => (hover === undefined ? idles : Math.min(hover / 2, hover - 0.08))
const idles = 0.07
/** A fall of so long is one of five metres, s. */
const mostFallS = 1
const fallsRemedy = byHand(
  'Do not fly it. While it acts the board lets it fall: compare what is set for a loss with the sheet, then write its firmware again.',
)
/** A board that holds a height begins at the hover that it is told of. */
const hoverRemedy = (evidence: Evidence, hover?: number): Remedy =>
  hover === undefined || evidence.board.settings?.['rotor.hover'] === undefined
    ? fallsRemedy
    : setting(evidence, 'Tell the board what it hovers at.', { 'rotor.hover': Math.round(100 * hover) / 100 })
const shortS = 0.1
const standsRemedy = byHand(
  'Do not fly it. While it acts the board leaves a motor without a command: compare the map of outputs with the sheet, then write its firmware again.',
)
const levels = 'Have it level itself at loss.'

const commandRemedy = (evidence: Evidence, hover: number): Remedy => {
  const { sheet, board } = evidence
  const descends = sheet.settings?.['loss.act'] ?? choiceOf(evidence, 'loss.act', 'descend', -1)
  const sheetSays = sheet.settings?.['loss.throttle']
  const throttle = sheetSays ?? Math.round(100 * (hover - underHover)) / 100
  if (sheetSays !== undefined && !isWithin(100 * (sheetSays - hover), limitFor(sheet, 'loss.command')))
    return byHand(
      `The build sheet wants ${sheetSays} of full command at loss, where it hovers at ${hover.toFixed(2)}: correct loss.throttle of the sheet, then run it again.`,
    )
  return setting(evidence, 'Have it sink slowly at loss, a little under hover.', {
    ...(descends >= 0 && board.settings?.['loss.act'] !== descends ? { 'loss.act': descends } : {}),
    'loss.throttle': throttle,
  })
}

export const jumps = (evidence: Evidence, of: string, { streams: { outputs } }: Segment, { none }: Phases): Finding[] => {
  if (none === null || outputs === undefined) return []
  const jump = jumpAt(outputs, none)
  if (jump === null) return refusal('no output was sampled as the sticks counted again', again)
  const { max } = limitFor(evidence.sheet, 'loss.jump')
  return [
    judged(
      `${of}jump`,
      100 * jump,
      'points',
      { max },
      byHand('The outputs jump as control comes back: look at what the sticks are held at while it waits, then run it again.'),
    ),
  ]
}

/** From idle, left alone: it disarms itself, and nothing turns again before somebody arms it. */
const endsFindings = (evidence: Evidence, of: string, segment: Segment, { act }: Phases, gap: Gap): Finding[] => {
  const { events = [] } = segment
  const off = events.find((event) => event.what === 'disarmed' && event.t >= (act ?? -Infinity))
  const ended = off === undefined || off.t > gap.to ? 'stays armed' : 'disarmed'
  const starts = events.some((event) => event.what === 'armed' && event.t > gap.from)
  const turns = turnsIn(segment.streams.outputs, gap.to + settlesS, endOf(segment))
  const after = starts || turns === true ? 'motors start' : turns === null ? 'not seen' : 'all stand'
  return [
    judgedAs(`${of}end`, ended, 'disarmed', byHand('It must disarm itself at the end of a loss: write its firmware again.')),
    ...(ended === 'disarmed'
      ? [
          ...(off === undefined || act === null ? [] : [lastsFinding(evidence, `${of}lasts`, off.t - act)]),
          judgedAs(
            `${of}after`,
            after,
            'all stand',
            byHand(
              'Battery out at once. It starts by itself as the signal comes back: do not put props on it, and write its firmware again.',
            ),
          ),
        ]
      : []),
  ]
}
const settlesS = 0.1

/** How long it acts before it stops its motors: what ends at once falls from wherever it is. */
const lastsFinding = (evidence: Evidence, key: string, lasts: number): Finding => {
  const { sheet } = evidence
  const limit = limitFor(sheet, 'loss.lasts')
  const wanted = sheet.settings?.['loss.end']
  const remedy =
    wanted !== undefined && !isWithin(wanted, limit)
      ? byHand(
          `The build sheet has it stop its motors ${wanted} s after it acts: correct loss.end of the sheet, then run it again.`,
        )
      : setting(evidence, 'Have it act for longer before it stops its motors.', { 'loss.end': wanted ?? usualEndS })
  return judged(key, lasts, 's', { min: limit.min }, remedy)
}
const usualEndS = 8

/** Disarmed, nothing turns from beginning to end. */
const stays = (of: string, segment: Segment): Finding[] => {
  const { events = [], streams } = segment
  const turns = turnsIn(streams.outputs, -Infinity, Infinity) === true || events.some(({ what }) => what === 'armed')
  return [
    judgedAs(
      `${of}outputs`,
      turns ? 'told to turn' : 'at zero',
      'at zero',
      byHand(
        'Battery out at once. Disarmed, it drives its motors as the signal goes or comes: do not put props on it, and write its firmware again.',
      ),
    ),
  ]
}

export const endOf = ({ events = [], streams: { outputs } }: Pick<Segment, 'events' | 'streams'>): number =>
  Math.max(outputs?.t[outputs.t.length - 1] ?? -Infinity, ...events.map((event) => event.t))
