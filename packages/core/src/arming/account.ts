import type { Column, Evidence, EvidenceEvent, Finding, Remedy, Segment } from '@taraf/contract'
import { byHand, judgedAs } from '../check'
import { outputsOf } from '../geometry'
import { setting } from '../remedy'
import { rulesOf } from './rules'

/** A part of a step, from a time to a time, and between what its command must stay, 0..1. */
export interface Phase {
  readonly from: number
  readonly to: number
  /** Said of what is wrong in it: "while it waits". */
  readonly words: string
  readonly least?: number
  readonly most?: number
}

export interface Account {
  /** Whether it is armed as the step begins. */
  readonly isArmed: boolean
  readonly phases: readonly Phase[]
  /** The craft lies level: no output has to stand far from the others. */
  readonly isLevel?: boolean
  /** Outputs may stand though it is armed, as the sheet wants with throttle down. */
  readonly mayStand?: boolean
}

type Outputs = NonNullable<Segment['streams']['outputs']>

/** The columns of a stream of outputs that are outputs, by name. */
export const driven = (outputs: Outputs): [string, Column][] =>
  Object.entries(outputs).filter((entry): entry is [string, Column] => /^o\d+$/.test(entry[0]) && entry[1] !== undefined)

/** Told less, a motor stands, whatever it is told (common practice). */
const turnsFrom = 0.03
/** So far the outputs may lie from the command that they carry out, 0..1: rounding, and what an idle adds. */
const apart = 0.03
/** An output that stands at its limit has nothing left to hold the craft level with. */
const atLimit = 0.98
/** What a frame that is held still has a board gather takes an output to its limit by itself after so long in one phase, s. */
const windsUpS = 15
/** Events and rows are told up to so far apart, s. */
const slackS = 0.02
/** So long something must last to be none of the moment in which one state goes over into another, s. */
const [momentS, lastsS] = [0.01, 0.05]

export const asCommanded = 'as commanded'

/**
 * The account of a step in which a board drives motors: every row of its outputs, in whichever phase, and every arming. Nothing is driven
 * while it is disarmed; armed, each motor is told enough to turn; the outputs carry out the command; the command stays where its phase
 * lets it. The first that is wrong, in words; `asCommanded` where nothing is.
 */
export const accountOf = (evidence: Evidence, { events = [], streams: { outputs } }: Segment, account: Account): string => {
  const armedAgain = account.isArmed ? events.find(({ what }) => what === 'armed') : undefined
  if (armedAgain !== undefined) return `it arms by itself ${whenIn(account.phases, armedAgain.t)}`.trim()
  return outputs === undefined ? asCommanded : (wrongRows(evidence, outputs, events, account) ?? asCommanded)
}

const wrongRows = (evidence: Evidence, outputs: Outputs, events: readonly EvidenceEvent[], account: Account): string | null => {
  const { sheet, board } = evidence
  const { phases, mayStand = false, isLevel = false } = account
  const { t } = outputs
  const all = driven(outputs)
  const inUse = outputsOf(sheet)
  const used = all.filter(([name]) => inUse.includes(Number(name.slice(1))))
  const command = (outputs as { command?: Column }).command
  const idle = board.settings?.['motors.idle'] ?? rulesOf(sheet).idle
  const most = sheet.settings?.['motors.most'] ?? 1
  const armed = armedRows(t, events, account.isArmed)
  const at = (column: Column, row: number): number => column[row] as number
  const mean = (row: number): number => used.reduce((sum, [, column]) => sum + at(column, row), 0) / used.length
  const said = (run: Run | null, leastS: number, words: string): string | null =>
    run === null || run.s < leastS ? null : `${words} ${lastsFor(run)} ${whenIn(phases, run.from)}`.trim()

  const kinds: (() => string | null)[] = [
    () =>
      said(
        longest(t, (row) => armed[row] === false && all.some(([, column]) => at(column, row) > 0)),
        momentS,
        'driven though it is disarmed',
      ),
  ]
  // Set so that its motors stand with throttle down, they do: Idle and Motor cut judge that.
  const cuts = board.settings?.['motors.turnWhenArmed'] === 0 || board.settings?.['loss.throttleCuts'] === 1
  const isCut = (row: number) => cuts && command !== undefined && at(command, row) <= 0
  if (!mayStand && rulesOf(sheet).turns)
    for (const [name, column] of used)
      kinds.push(() =>
        said(
          longest(t, (row) => armed[row] === true && at(column, row) < turnsFrom && !isCut(row)),
          momentS,
          `output ${name.slice(1)} stands`,
        ),
      )
  if (command !== undefined && used.length > 0) {
    // What is clamped at one end lifts or lowers the mean of all; what is not stays what it is.
    const isUnder = (row: number) =>
      mean(row) < most * at(command, row) - apart && used.every(([, column]) => at(column, row) < atLimit)
    const isOver = (row: number) =>
      mean(row) > at(command, row) + idle + apart && used.every(([, column]) => at(column, row) > idle + 0.01)
    kinds.push(
      () =>
        said(
          longest(t, (row) => armed[row] === true && isUnder(row)),
          lastsS,
          'the outputs stay under the command',
        ),
      () =>
        said(
          longest(t, (row) => armed[row] === true && isOver(row)),
          lastsS,
          'the outputs are over the command',
        ),
    )
    for (const { from, to, least = -Infinity, most: highest = Infinity } of phases) {
      const isIn = (row: number) => at(t, row) > from + slackS && at(t, row) < to - slackS
      kinds.push(
        () =>
          said(
            longest(t, (row) => isIn(row) && at(command, row) > highest),
            lastsS,
            'the command is too high',
          ),
        () =>
          said(
            longest(t, (row) => isIn(row) && at(command, row) < least),
            lastsS,
            'the command is too low',
          ),
      )
    }
  }
  const isWoundUp = (time: number) => phases.some(({ from, to }) => time >= from + windsUpS && time < to)
  if (isLevel)
    for (const [name, column] of used)
      kinds.push(() =>
        said(
          longest(t, (row) => armed[row] === true && at(column, row) >= atLimit && !isWoundUp(at(t, row))),
          lastsS,
          `output ${name.slice(1)} is at its limit`,
        ),
      )
  for (const kind of kinds) {
    const wrong = kind()
    if (wrong !== null) return wrong
  }
  return null
}

/** Whether it is armed at each row; null close to where that changes. */
const armedRows = (t: Column, events: readonly EvidenceEvent[], isArmed: boolean): (boolean | null)[] => {
  const changes = events.filter(({ what }) => what === 'armed' || what === 'disarmed')
  return Array.from(t, (time) => {
    const last = changes.findLast((event) => event.t <= time)
    if (changes.some((event) => Math.abs(event.t - time) <= slackS)) return null
    return last === undefined ? isArmed : last.what === 'armed'
  })
}

interface Run {
  readonly from: number
  readonly s: number
}
/** The longest run of rows of which something is so. */
const longest = (t: Column, isSo: (row: number) => boolean): Run | null => {
  let most: Run | null = null
  let from = NaN
  for (let row = 0; row < t.length; row++) {
    if (!isSo(row)) {
      from = NaN
      continue
    }
    const now = t[row] as number
    if (Number.isNaN(from)) from = now
    // A row stands for the time up to the next one.
    const s = (t[row + 1] ?? now) - from
    if (most === null || s > most.s) most = { from, s }
  }
  return most
}

const lastsFor = ({ s }: Run): string => `for ${s < 0.095 ? s.toFixed(2) : s.toFixed(1)} s`
const whenIn = (phases: readonly Phase[], t: number): string => phases.find(({ from, to }) => t >= from && t < to)?.words ?? ''

/** What became of an account as a finding. */
export const accountFinding = (evidence: Evidence, key: string, found: string): Finding =>
  judgedAs(key, found, asCommanded, remedyOf(evidence, found))

/**
 * The account of steps that begin disarmed, in one finding: the first that is wrong; none where nobody sampled what motors were told. Once it
 * arms, motors may take their time to begin: Idle judges what they do then.
 */
export const accountOfStep = (evidence: Evidence, segments: readonly Segment[]): Finding[] => {
  const sampled = segments.filter(({ streams }) => streams.outputs !== undefined)
  if (sampled.length === 0) return []
  const found = sampled.map((segment) => accountOf(evidence, segment, { isArmed: false, phases: [], mayStand: true }))
  return [accountFinding(evidence, 'account', found.find((one) => one !== asCommanded) ?? asCommanded)]
}

const remedyOf = (evidence: Evidence, found: string): Remedy => {
  const { board, sheet } = evidence
  const most = sheet.settings?.['motors.most'] ?? 1
  if ((board.settings?.['motors.most'] ?? most) < most && /under the command|stands|at its limit/.test(found))
    return setting(evidence, 'Let the outputs go as far as the sheet says.', { 'motors.most': most })
  const idle = rulesOf(sheet).idle
  if ((board.settings?.['motors.idle'] ?? idle) < idle && found.includes('stands'))
    return setting(evidence, 'Raise the idle command: it does not turn every motor.', { 'motors.idle': idle })
  return byHand(
    'Do not fly it. Battery out. The board does not drive its motors as it should: compare its settings with the sheet, write its firmware again, and run this again.',
  )
}
