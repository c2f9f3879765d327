import type { Column, Evidence, Finding, Segment, SheetPart, WantOf } from '@taraf/contract'
import { halfUs, stickAt } from '../arming/moved'
import { isOfArming } from '../arming/rules'
import { whyUnarmed } from '../arming/unarmed'
import { defineCheck, refusal } from '../check'
import { mixerOf, positionsOf } from '../geometry'
import { raised, tilts, type Movement } from '../motors/movements'
import { leantIn, mapOf, meansOver, notHeld, pushDiffers, pushing, sharesOf } from '../motors/pushes'
import { onTheWay } from '../radio/sticks'
import { degrees } from '../rotation'
import { canBeArmed } from '../sheetHas'
import { modeName } from '../switches/modeName'
import { want } from '../take'
import { allOff, armedIn, back, gone, readyFor, soFarOf, taken, tried, wordsIn, type Tried } from './losing'
import { plainest } from './losses'
import { accountFinding, accountOf } from '../arming/account'
import { gapIn, modeIn, phasesOf, rowsIn } from './phases'
import { again, setting } from '../remedy'
import { endOf, idleUs, phasesOfLoss } from './responseFindings'

/** One tilt about each axis: no push that is always the same can be against both. */
const held: readonly Movement[] = tilts.filter(({ label }) => label === 'right-down' || label === 'nose-up')
const labelOf = ({ label }: Movement): string => `held-${label}`
const armLabel = 'arm-held'

/** What is tried, in its order, and by which step. */
export const heldTried = (): Tried[] =>
  held.map((movement) => ({ label: labelOf(movement), words: `${movement.words}: its motors must push it back.` }))

/** Where every mode levels, throttle stays down: what a board gathered against the tilt before the loss would push on in any case. */
const isLow = (sheet: SheetPart): boolean => plainest(sheet) !== 'rate'

const holding = (sheet: SheetPart, movement: Movement): WantOf<'watch'> => ({
  kind: 'watch',
  ...taken,
  stage: 'body',
  streams: [...taken.streams, 'imu'],
  mayLack: ['radio'],
  label: labelOf(movement),
  ask: `Throttle down, and hold ${movement.ask} by about 20 deg. ${isLow(sheet) ? 'Leave throttle down' : 'Then throttle just over the middle'}, and ${gone.transmitter}; go on holding it still.`,
  during: 'Armed: hold it tilted and still, take the signal away, and give it back as the step says',
  onlyAfter: 'loss:wait',
  then: [
    {
      event: 'loss:act',
      words: `It acts. Hold it for two seconds more: does it push back? Then: ${back.transmitter.toLowerCase()}, sticks as they are.`,
    },
  ],
  afterS: 0.4,
})

/** That it levels itself at loss, by what its outputs do about a tilt: the name of a mode proves nothing. */
export const levels = defineCheck({
  id: 'failsafe.levels',
  version: 2,
  station: 'failsafe',
  title: 'Levels itself',
  proves: 'Tilted while it acts on a loss, the motors push it back to level.',
  words: Object.fromEntries(
    held.flatMap((movement) => [
      [`${labelOf(movement)}.harder`, `${movement.words}: pushes harder`],
      [`${labelOf(movement)}.account`, `${movement.words}: motors, moment by moment`],
    ]),
  ),
  needs: ['failsafe.response'],
  reads: {
    settings: [
      'loss.*',
      'arm.*',
      'switch.arm.*',
      'radio.throttle.*',
      'gain.*',
      'output.*',
      'board.*',
      'chip.*',
      'motors.turnWhenArmed',
      'motors.most',
    ],
    parts: ['board', ...onTheWay, 'receiver at loss'],
    acts: ['board', 'remount', 'transmitter'],
    onTransmitter: isOfArming(false),
    image: true,
  },
  appliesTo: canBeArmed,
  stages: ['body'],
  *take(soFar) {
    const { sheet } = soFar
    yield* want.state(readyFor(sheet))
    const { short } = yield armedIn(sheet, armLabel, plainest(sheet))
    for (const movement of short === true ? [] : held) {
      const whyNot = (segment: Segment) => wordsIn(heldIn(soFarOf(soFar, levels.id, segment), segment, movement))
      if (!(yield* tried(holding(sheet, movement), whyNot))) break
    }
    yield* want.state(allOff)
  },
  // One that is never armed has none of the rest; what is missing of one that was is said by name.
  optional: held.map((movement) => holding({}, movement)),
  evaluate: (evidence) => levelsFindings(evidence),
})

const levelsFindings = (evidence: Evidence): Finding[] => {
  const { sheet, segments } = evidence
  if (sheet.geometry === undefined) return refusal('the sheet has no geometry', 'Write the booms into the build sheet.')
  const unarmed = whyUnarmed(evidence, armLabel)
  if (unarmed !== null) return unarmed
  const found: Finding[] = []
  for (const movement of held) {
    const segment = segments.find(({ label }) => label === labelOf(movement))
    const one = segment === undefined ? 'it was not tried' : heldIn(evidence, segment, movement)
    if (segment === undefined || typeof one === 'string') return refusal(`${movement.words}: ${one}`, again)
    found.push(one, accountFinding(evidence, `${segment.label}.account`, accountOfHeld(evidence, segment)))
  }
  return found
}

/** What its motors do from beginning to end, whatever way they push. */
const accountOfHeld = (evidence: Evidence, segment: Segment): string => {
  const gap = gapIn(segment)
  const phases = typeof gap === 'string' ? [] : phasesOfLoss(evidence, segment, gap, phasesOf(segment.events ?? [], gap))
  return accountOf(evidence, segment, { isArmed: true, phases })
}

/** From here on what it does has begun, and after so long what a board gathers hides it, s. */
const [beginsS, hidesS] = [0.1, 1.5]
/** A push is one that lasts: it is looked at in stretches of so long, s. */
const stretchS = 0.3
/** Of full command: a push under this is none. What a still frame has a board gather stays well under it. */
const leastPush = 0.015
/** A frame that leans by more than this after throttle went up has a board gather its own push, deg. */
const stillDeg = 4

/** What pushed against one tilt, or why that is not told. */
const heldIn = (evidence: Evidence, segment: Segment, movement: Movement): Finding | string => {
  const { sheet, board } = evidence
  const { streams, events = [] } = segment
  const gap = gapIn(segment)
  if (typeof gap === 'string') return gap
  const { act, next } = phasesOf(events, gap)
  if (act === null) return 'the board did not act'
  const { outputs, imu, attitude } = streams
  if (outputs === undefined || imu === undefined || attitude === undefined) return 'nothing was sampled'
  if (events.some(({ what, t }) => what === 'disarmed' && t < gap.to)) return 'it was disarmed before the signal was back'
  const mode = modeIn(events, 'rate', gap.from, gap.from + 1e-6)
  if (mode !== plainest(sheet)) return `it was in mode ${modeName(mode)} as the signal went, not in ${modeName(plainest(sheet))}`
  const us = stickAt(segment, evidence, 'throttle', gap.from)
  if (us === null || (isLow(sheet) ? us > idleUs : us < halfUs))
    return `throttle was not ${isLow(sheet) ? 'down' : 'over the middle'} as the signal went`
  const until = Math.min(next ?? endOf(segment), act + hidesS)
  if (until - act < beginsS + 0.3) return 'the signal came back as soon as it acted'
  const flies = modeIn(events, mode, act, until)
  if (flies === 'returnHome') return 'it has a fix and flies home: try it where it has none'
  const since = isLow(sheet) ? act : raisedAt(segment, gap.from)
  if (since === null) return 'throttle was not down before it was tilted'
  const leant = leantIn(imu, act + beginsS, until)
  const wrong = leant === null ? 'nothing was sampled' : notHeld(movement, leant)
  if (wrong !== null) return wrong
  const moved = leansBy(attitude, since, until)
  if (moved > stillDeg) return `it was moved by ${moved.toFixed(0)} deg meanwhile: what pushes back then is no proof`
  const positions = positionsOf(sheet.geometry ?? { body: { lengthM: 0, widthM: 0 }, propDiameterM: 0, booms: [] })
  const wanted = sharesOf(mixerOf(positions).map((row) => movement.against(row, board.settings?.['motors.mirrored'] === 1)))
  let seen: ReturnType<typeof sharesOf> = []
  // It pushes all the while: by the first stretch in which it does not, else by the last.
  for (let from = act + beginsS; from + stretchS <= until + 1e-9; from += stretchS / 3) {
    const means = meansOver(streams, mapOf(sheet, board.settings), positions.length, rowsIn(outputs, from, from + stretchS))
    if (means === null) return 'the outputs were not sampled while it acted'
    seen = sharesOf(means, leastPush)
    if (pushDiffers(seen, wanted)) break
  }
  const base = {
    key: `${segment.label}.harder`,
    value: pushing(seen, positions),
    unit: '',
    limit: { equals: pushing(wanted, positions) },
  }
  if (!pushDiffers(seen, wanted)) return { ...base, verdict: 'pass' }
  return { ...base, verdict: 'fail', remedy: setting(evidence, 'Have it level itself at loss.', { 'loss.levels': 1 }) }
}

/** When throttle was last raised before a time, s; null where it was up all the while. */
const raisedAt = ({ streams: { outputs } }: Segment, before: number): number | null => {
  const command = (outputs as { command?: Column } | undefined)?.command
  if (outputs === undefined || command === undefined) return null
  const low = rowsIn(outputs, -Infinity, before).findLast((i) => (command[i] as number) < raised)
  return low === undefined ? null : (outputs.t[low] as number)
}

/** How far it leans otherwise between two times, about either axis, deg: by what the board follows, which no motor shakes. */
const leansBy = (attitude: NonNullable<Segment['streams']['attitude']>, from: number, to: number): number => {
  const rows = Array.from({ length: attitude.t.length }, (_, i) => i).filter(
    (i) => (attitude.t[i] as number) >= from && (attitude.t[i] as number) <= to,
  )
  const range = (column: Column) => {
    const values = rows.map((i) => degrees(column[i] as number))
    return Math.max(...values) - Math.min(...values)
  }
  return rows.length === 0 ? Infinity : Math.max(range(attitude.roll), range(attitude.pitch))
}
