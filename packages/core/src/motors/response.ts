import type { Column, Evidence, Finding, ImuStream, Question, Remedy, Segment, WantOf } from '@taraf/contract'
import { byHand, defineCheck, refusal } from '../check'
import { mixerOf, positionsOf, type MixRow, type MotorPosition } from '../geometry'
import { findingsOfList } from '../questions'
import { degrees } from '../rotation'
import { hasMotors } from '../sheetHas'
import { mean } from '../statistics'
import { want, type Got } from '../take'
import { raised, tilts, type Movement } from './movements'
import { leantIn, mapOf, meansOver, notHeld, pushDiffers, pushing, sharesOf } from './pushes'

const yaw = (row: MixRow, mirrored: boolean): number => (mirrored ? -row.yaw : row.yaw)
const turns: readonly Movement[] = [
  { label: 'turn-right', words: 'Turned to the right', against: (row, mirrored) => -yaw(row, mirrored), ask: 'to the right' },
  { label: 'turn-left', words: 'Turned to the left', against: (row, mirrored) => yaw(row, mirrored), ask: 'to the left' },
]
/** Every tilt and both turns, each with what must push against it. */
const movements = [...tilts, ...turns]

const leastTurnDeg = 20
const mostLeanDeg = 3
/** Long enough for a quarter turn; under the three seconds after which what a board gathers hides what it does. */
const turnS = 2.5

const ready = { battery: true, props: 'off', transmitter: true } as const
const armed = { ...ready, armed: true } as const
const sampled = {
  stage: 'body',
  streams: ['outputs', 'attitude', 'imu', 'escs'],
  mayLack: ['escs'],
  permit: 'armed-bench',
  atOnce: true,
} as const

const arming = {
  kind: 'watch',
  label: 'arm',
  permit: 'armed-bench',
  streams: [],
  ask: 'Lay it level, every switch where it is at power-up, self-level on. Then arm it: the motors turn.',
  seconds: 90,
  until: ['armed'],
  state: ready,
} as const satisfies WantOf<'watch'>
const disarming = {
  kind: 'watch',
  label: 'disarm',
  permit: 'armed-bench',
  streams: [],
  ask: 'Throttle down, and disarm it.',
  seconds: 60,
  until: ['disarmed'],
  state: { battery: true, props: 'off' },
} as const satisfies WantOf<'watch'>

const tilting = ({ label, ask }: Movement): Omit<WantOf<'capture'>, 'kind'> => ({
  ...sampled,
  label,
  ask: `Throttle down. Hold ${ask} by about 20 deg, then throttle up a little until it goes on.`,
  during: `Throttle down. Hold ${ask}, then throttle up a little.`,
  seconds: 20,
  enoughS: 0.3,
  until: { stream: 'outputs', column: 'command', least: raised, lastsS: 0.5, fromBelow: true },
  state: armed,
})
const turning = ({ label, ask }: Movement): Omit<WantOf<'capture'>, 'kind'> => ({
  ...sampled,
  label,
  ask: `Throttle down, laid on the bench. Then throttle up a little, and at once turn its nose ${ask} by a quarter turn.`,
  during: `Throttle down on the bench, then a little up, and turn its nose ${ask}.`,
  seconds: 20,
  enoughS: 0.5,
  until: { stream: 'outputs', column: 'command', least: raised, lastsS: turnS, fromBelow: true },
  state: armed,
})

const levelled = {
  kind: 'capture',
  ...sampled,
  label: 'level',
  ask: 'Hold it level in one hand, away from you; throttle up a little until it goes on.',
  during: 'Held level: throttle up a little',
  seconds: 30,
  enoughS: 0.3,
  until: { stream: 'outputs', column: 'command', least: raised, lastsS: 0.5, fromBelow: true },
  state: armed,
} as const satisfies WantOf<'capture'>
const steps = (): WantOf<'capture'>[] => [
  ...tilts.map((tilt) => ({ kind: 'capture' as const, ...tilting(tilt) })),
  ...turns.map((turn) => ({ kind: 'capture' as const, ...turning(turn) })),
]

export const notTold = 'not told'
const sides = ['right', 'left', 'front', 'rear'] as const
const fasterId = (label: string): string => `faster ${label}`
const questions: Question[] = tilts.map(({ label, words }) => ({
  id: fasterId(label),
  words: `${words}: the motors that ran faster`,
  why: 'Outputs say what the board asked for; ears and fingers say where it came.',
  answer: [...sides, notTold] as [string, string, ...string[]],
  optional: true,
}))

/** Armed on the bench, self-levelling: the outputs push against every tilt and turn as the geometry says. */
export const response = defineCheck({
  id: 'motors.response',
  version: 2,
  station: 'motors',
  title: 'Response',
  proves: 'Tilted or turned while it levels itself, the motors that must push harder do.',
  words: Object.fromEntries(movements.map(({ label, words }) => [`${label}.harder`, `${words}: pushes harder`])),
  needs: ['motors.order', 'orientation.follow', 'orientation.level'],
  reads: {
    settings: [
      'output.*',
      'motors.mirrored',
      'board.*',
      'chip.*',
      'gain.*',
      'radio.*',
      'switch.arm.*',
      'switch.selfLevel.*',
      'arm.*',
    ],
    parts: ['board', 'ESC', 'motor', 'receiver', 'receiver leads', 'sockets'],
    acts: ['board', 'remount', 'lead', 'transmitter'],
    // Whether it arms and which way its sticks go; how far they go moves nothing here.
    onTransmitter: ({ name }) => name === 'inverted',
    image: true,
  },
  appliesTo: (sheet) => hasMotors(sheet) && sheet.switches !== undefined,
  stages: ['body'],
  *take() {
    yield* want.state({ label: 'ready', ask: 'Battery in, props and nuts off, transmitter on, throttle down.', state: ready })
    const { short }: Got = yield arming
    if (short === true) return
    yield levelled
    yield* steps()
    yield disarming
    yield* want.answers({ label: 'felt', ask: 'Say which motors ran faster, where you could tell.', questions })
  },
  // One that is never armed has none of the rest; what is missing of one that was is said by name.
  optional: [
    arming,
    levelled,
    ...steps(),
    disarming,
    { kind: 'answers', label: 'felt', ask: 'Say which motors ran faster.', questions },
  ],
  evaluate: (evidence) => responseFindings(evidence),
})

const again = 'Run it again: throttle down, hold it as is asked, then throttle up a little.'

const responseFindings = (evidence: Evidence): Finding[] => {
  const { sheet, board, segments } = evidence
  if (sheet.geometry === undefined) return refusal('the sheet has no geometry', 'Write the booms into the build sheet.')
  const segmentOf = (label: string): Segment | undefined => segments.find((s) => s.label === label)
  const notArmed = whyNotArmed(segmentOf('arm'))
  if (notArmed !== null) return [notArmed]
  const mode = (segmentOf('arm')?.events ?? []).findLast(({ what }) => what === 'mode') as { mode?: string } | undefined
  if (mode?.mode === 'rate')
    return refusal('it was armed in mode rate, in which nothing pushes against a tilt', 'Put self-level on, then run it again.')
  if (isUnfelt(evidence))
    return refusal(
      'nobody told which motors ran faster: outputs say only what the board asked for',
      'Run it again, and say of one tilt at least on which side the motors ran faster: by ear, or by a finger at the arm.',
    )
  const positions = positionsOf(sheet.geometry)
  const mix = mixerOf(positions)
  const mirrored = board.settings?.['motors.mirrored'] === 1
  const map = mapOf(sheet, board.settings)
  const level = segmentOf('level')
  if (level === undefined) return refusal('it was never held level', again)
  const base = meansOf(level, map, positions.length, () => true)
  if (base === null) return refusal('throttle was not raised while it was held level', again)
  const found: Finding[] = []
  for (const movement of movements) {
    const segment = segmentOf(movement.label)
    const wrong = segment === undefined ? `it was never held ${movement.ask}` : notAsAsked(movement, segment)
    if (wrong !== null || segment === undefined) return refusal(wrong ?? '', again)
    const { moving, before } = rowsOf(movement, segment)
    const now = meansOf(segment, map, positions.length, moving)
    if (now === null) return refusal(`throttle was not raised: ${movement.words.toLowerCase()}`, again)
    // A turn is short: what pushed right before it is what it is compared with, where it was seen.
    const from = meansOf(segment, map, positions.length, before) ?? base
    const seen = sharesOf(now.map((value, i) => value - (from[i] as number)))
    const wanted = sharesOf(mix.map((row) => movement.against(row, mirrored)))
    found.push(compared(movement, seen, wanted, positions))
  }
  const felt = findingsOfList(questions, evidence, (question, answer) => feltAs(question, answer))
  return [...found, ...felt.filter(({ value }) => value !== notTold)]
}

/** Whether everything that was asked of ears and fingers was left open. Evidence may come without. */
const isUnfelt = ({ observations = [] }: Evidence): boolean => {
  const answers = observations.filter(({ item }) => questions.some(({ id }) => id === item)).map(({ answer }) => answer)
  return answers.length > 0 && answers.every((answer) => answer === notTold)
}

/** What a technician felt or heard, against the side that must run faster. */
const feltAs = ({ id }: Question, answer: string | number): Finding => {
  const wanted = tilts.find(({ label }) => fasterId(label) === id)?.faster ?? ''
  const base = { key: id, value: answer, unit: '' }
  if (answer === notTold) return { ...base, verdict: 'shown' }
  if (answer === wanted) return { ...base, limit: { equals: wanted }, verdict: 'pass' }
  return {
    ...base,
    limit: { equals: wanted },
    verdict: 'fail',
    remedy: byHand(
      'The board asked the right outputs, and other motors answered: two were tapped in exchange. Battery out; follow the leads of the motors, then run Motor order again, looking at the flags and not at the screen.',
      ['look at motor leads'],
    ),
  }
}

/** Why it was never armed, and what the board wants for it; null where it was. */
const whyNotArmed = (arm: Segment | undefined): Finding | null => {
  if (arm === undefined || arm.events?.some(({ what }) => what === 'armed') === true) return null
  const refusing = arm.events?.findLast(({ what }) => what === 'refusing')
  const reasons = (refusing as { reasons?: readonly string[] } | undefined)?.reasons ?? []
  const remedy: Remedy = reasons.includes('not calibrated')
    ? { by: 'calibration', act: 'Lay it down and let the board measure its gyro: it was never calibrated.', calibrate: 'gyro' }
    : byHand('Put right what the board refuses for, lay it level with throttle down, and run it again.')
  const value = reasons.length === 0 ? 'it was not armed in time' : `the board refused to arm: ${reasons.join(', ')}`
  return { key: 'refused', value, unit: '', verdict: 'refused', remedy }
}

type Rows = (i: number) => boolean

/** The mean share of each position over the rows in which the board corrects; null where it never does. */
const meansOf = ({ streams }: Segment, map: ReadonlyMap<number, number>, count: number, isWanted: Rows): number[] | null =>
  meansOver(streams, map, count, raisedRows(streams).filter(isWanted))

/** The last rows on end with throttle up: what came before throttle was last down was another step’s. All where there is no collective. */
const raisedRows = ({ outputs }: Segment['streams']): number[] => {
  if (outputs === undefined) return []
  const command = (outputs as { command?: Column }).command
  const all = Array.from({ length: outputs.t.length }, (_, i) => i)
  if (command === undefined) return all
  const up = (i: number) => (command[i] as number) >= raised
  const end = all.findLast(up) ?? -1
  const low = all.slice(0, end + 1).findLast((i) => !up(i)) ?? -1
  return all.slice(low + 1, end + 1)
}

/** Rows of outputs while it turns, and those before it began to: by the sensor, and not by what the board makes of it. A tilt is held all the while. */
const rowsOf = (movement: Movement, { streams }: Segment): { moving: Rows; before: Rows } => {
  const { imu, outputs } = streams
  if (imu === undefined || outputs === undefined || !turns.includes(movement)) return { moving: () => true, before: () => false }
  const way = movement.label === 'turn-right' ? 1 : -1
  const moving = (i: number) => way * degrees(valueAt(imu, imu.gz, outputs.t[i] as number)) > leastRate
  const first = raisedRows(streams).find(moving) ?? 0
  return { moving, before: (i) => i < first }
}
const leastRate = 5 // deg/s

const valueAt = ({ t }: Pick<ImuStream, 't'>, column: Column, at: number): number => {
  let [low, high] = [0, t.length - 1]
  while (low < high) {
    const middle = (low + high) >> 1
    if ((t[middle] as number) < at) low = middle + 1
    else high = middle
  }
  return column[low] as number
}

/** Why a movement was none, or another one, or null. */
const notAsAsked = (movement: Movement, { streams }: Segment): string | null => {
  const { imu, outputs } = streams
  if (imu === undefined || outputs === undefined) return `nothing was sampled: ${movement.words.toLowerCase()}`
  const words = movement.words.toLowerCase()
  const up = raisedRows(streams)
  if (up.length === 0) return `throttle was not raised: ${words}`
  const [from, to] = [outputs.t[up[0] ?? 0] as number, outputs.t[up[up.length - 1] ?? 0] as number]
  const rows = Array.from({ length: imu.t.length }, (_, i) => i).filter(
    (i) => (imu.t[i] as number) >= from && (imu.t[i] as number) <= to,
  )
  if (rows.length === 0) return `nothing was sampled: ${words}`
  if (turns.includes(movement)) {
    const turned = rows.reduce(
      (sum, i) => sum + (i === 0 ? 0 : degrees(imu.gz[i] as number) * ((imu.t[i] as number) - (imu.t[i - 1] as number))),
      0,
    )
    // What a board takes for a lean it pushes against, and gathers: soon that hides what it does about a turn.
    const lean = leanIn(streams, from, to)
    if (lean > mostLeanDeg) return `it leant by ${lean.toFixed(0)} deg as the board sees it, ${words}: lay it level on the bench`
    const way = movement.label === 'turn-right' ? 1 : -1
    return way * turned < leastTurnDeg
      ? `it was to be ${words} by ${leastTurnDeg} deg, and went ${(way * turned).toFixed(0)} deg`
      : null
  }
  const leant = leantIn(imu, from, to)
  return leant === null ? `nothing was sampled: ${words}` : notHeld(movement, leant)
}

/** How far the board takes it to lean, deg; zero where it says nothing of it. */
const leanIn = ({ attitude }: Segment['streams'], from: number, to: number): number => {
  if (attitude === undefined) return 0
  const rows = Array.from({ length: attitude.t.length }, (_, i) => i).filter(
    (i) => (attitude.t[i] as number) >= from && (attitude.t[i] as number) <= to,
  )
  if (rows.length === 0) return 0
  return Math.max(
    ...[attitude.roll, attitude.pitch].map((column) => degrees(Math.abs(mean(rows.map((i) => column[i] as number))))),
  )
}

const compared = (
  { label, words }: Movement,
  seen: readonly number[],
  wanted: readonly number[],
  positions: readonly MotorPosition[],
): Finding => {
  const base = {
    key: `${label}.harder`,
    value: pushing(seen, positions),
    unit: '',
    limit: { equals: pushing(wanted, positions) },
  }
  if (!pushDiffers(seen, wanted)) return { ...base, verdict: 'pass' }
  return { ...base, verdict: 'fail', remedy: wrongPush(words, pushing(seen, positions), pushing(wanted, positions)) }
}

const wrongPush = (words: string, seen: readonly string[], wanted: readonly string[]): Remedy =>
  byHand(
    `Do not fly it. ${words}, ${seen.length === 0 ? 'nothing pushes harder' : `${seen.join(' and ')} ${seen.length === 1 ? 'pushes' : 'push'} harder`}; it should be ${wanted.join(' and ')}. Battery out; follow the leads of the motors, then run Motor order again, and Follow; compare the settings with the sheet.`,
    ['look at motor leads'],
  )
