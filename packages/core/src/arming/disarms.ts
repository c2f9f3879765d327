import type { Evidence, Finding, Remedy, Segment, SheetPart, WantOf } from '@taraf/contract'
import { byHand, defineCheck, judged, judgedAs, refusal } from '../check'
import { limitFor } from '../limits'
import { onTheWay } from '../radio/sticks'
import { canBeArmed } from '../sheetHas'
import { want } from '../take'
import { accountFinding, accountOf } from './account'
import { armingStep } from './arms'
import { triedIn } from './attempt'
import { imageAgain } from '../remedy'
import { cornerSince, halfUs, raisedUntil, stickAt, switchedAt, yawHeldInFlight } from './moved'
import { isOfArming, ready, rulesOf } from './rules'
import { whyUnarmed } from './unarmed'

interface Way {
  readonly id: 'switch' | 'sticks' | 'stop' | 'idle'
  readonly words: string
  readonly ask: string
  /** What the board says that it was. */
  readonly cause: string
  readonly seconds: number
  /** Tried at flight throttle, after a full stick of yaw there. */
  readonly inFlight?: true
}

/** Before the first way out, as in flight: no stick may end that. */
const flown = 'Throttle just over the middle. Hold yaw fully to the left for two seconds, and let go: it must stay armed.'
const bySticks = 'Throttle down: hold the stick of yaw to the left until it is disarmed.'

const waysOf = (sheet: SheetPart): readonly Way[] => {
  const { bySwitch, sticksDisarm, idleOffS } = rulesOf(sheet)
  const most = limitFor(sheet, 'disarming.idle').max ?? 30
  const all: Way[] = []
  if (bySwitch)
    all.push({
      id: 'switch',
      words: 'By its switch',
      ask: `${flown} Then put the arm switch off, throttle as it is.`,
      cause: 'switch',
      seconds: 30,
      inFlight: true,
    })
  if (sticksDisarm || !bySwitch)
    all.push({
      id: 'sticks',
      words: 'By the sticks',
      ask: bySwitch ? bySticks : `${flown} Then: ${bySticks}`,
      cause: 'sticks',
      seconds: bySwitch ? 8 : 30,
      ...(bySwitch ? {} : { inFlight: true }),
    })
  all.push({ id: 'stop', words: 'By Stop all', ask: 'Press Stop all.', cause: 'stop all', seconds: 30 })
  if (idleOffS > 0)
    all.push({
      id: 'idle',
      words: 'By itself',
      ask: `Leave it: throttle down, hands off the sticks, for ${idleOffS} s.`,
      cause: 'idle',
      seconds: Math.max(most, idleOffS) + 5,
    })
  return all
}

const armLabel = (id: Way['id']) => `arm-${id}`
const offLabel = ({ id, inFlight }: Way) => (inFlight === true ? 'off-flight' : `off-${id}`)
/** What a way was called while it was tried with throttle down. */
const offBefore = ({ id }: Way) => `off-${id}`
const offOf = (one: Way, segments: readonly Segment[]) =>
  segments.find(({ label }) => label === offLabel(one)) ?? segments.find(({ label }) => label === offBefore(one))

const disarming = (one: Way): WantOf<'watch'> => ({
  kind: 'watch',
  permit: 'armed-bench',
  streams: ['radio', 'outputs'],
  mayLack: ['radio'],
  label: offLabel(one),
  ask: one.ask,
  seconds: one.seconds,
  until: ['disarmed'],
  afterS: 0.4,
  atOnce: true,
  state: { battery: true, props: 'off' },
})

/** Every way out of being armed, tried and timed. */
export const disarms = defineCheck({
  id: 'arming.disarms',
  version: 6,
  station: 'arming',
  title: 'Must disarm',
  proves: 'Every way there is disarms it at once; left alone, it disarms itself.',
  words: (sheet) =>
    Object.fromEntries(
      waysOf(sheet).flatMap(({ id, words }) => [
        [id, words],
        [`${id}Took`, `${words}: took`],
        [`${id}Off`, `${words}: from the time that is set`],
        [`${id}Flight`, 'Full stick of yaw at flight throttle'],
        [`${id}Outputs`, `${words}: outputs`],
        [`${id}Account`, `${words}: motors, moment by moment`],
      ]),
    ),
  needs: ['arming.arms'],
  reads: {
    settings: [
      'arm.*',
      'switch.arm.*',
      'radio.throttle.*',
      'radio.yaw.*',
      'output.*',
      'motors.idle',
      'motors.most',
      'motors.turnWhenArmed',
    ],
    parts: ['board', ...onTheWay],
    acts: ['board', 'transmitter'],
    onTransmitter: isOfArming(true),
    image: true,
  },
  appliesTo: canBeArmed,
  stages: null,
  *take({ sheet }) {
    yield* want.state({ label: 'ready', ask: 'Battery in, props and nuts off, transmitter on, throttle down.', state: ready })
    for (const one of waysOf(sheet)) {
      yield armingStep(sheet, armLabel(one.id))
      yield disarming(one)
    }
  },
  stepsOf: ({ sheet, segments }) =>
    waysOf(sheet).flatMap((one) => {
      const off = disarming(one)
      return [armingStep(sheet, armLabel(one.id)), { ...off, label: offOf(one, segments)?.label ?? off.label }]
    }),
  evaluate: (evidence) => waysOf(evidence.sheet).flatMap((one) => findingsOf(one, evidence)),
})

const findingsOf = (one: Way, evidence: Evidence): Finding[] => {
  const { id, cause, words } = one
  const { sheet, board, segments } = evidence
  const armed = segments.find(({ label }) => label === armLabel(id))
  const off = offOf(one, segments)
  if (armed === undefined || off === undefined) return refusal(`${words}: it was not tried`, 'Run it again.')
  const unarmed = whyUnarmed(evidence, armLabel(id), words)
  if (unarmed !== null) return unarmed
  const armedAt = triedIn(armed).armedAt as number
  const told = off.events?.find(({ what }) => what === 'disarmed')
  const flight = off.label === offLabel(one) && one.inFlight === true ? inFlight(one, off, evidence, told?.t ?? null) : []
  if (typeof flight === 'string') return refusal(`${words}: ${flight}`, `Run it again. ${one.ask}`)
  if (flight.some(({ verdict }) => verdict === 'fail')) return flight
  const since = beganAt(one, off, evidence, armedAt)
  if (told === undefined) {
    const lasted = endOf(off) - (since ?? Infinity)
    return lasted >= leastTriedS[id] || (id === 'idle' && lasted >= (limitFor(sheet, 'disarming.idle').max ?? 0))
      ? [...flight, judgedAs(id, 'it stays armed', 'disarmed', remedyFor(one, evidence))]
      : refusal(`${words}: nobody did what was asked for long enough`, `Run it again. ${one.ask}`)
  }
  const by = (told as { cause?: string }).cause ?? ''
  // A person who sees that it goes on stops it in another way: it went on, and that counts.
  if (by !== cause && since !== null && told.t - since >= leastTriedS[id])
    return [...flight, judgedAs(id, 'it stays armed', 'disarmed', remedyFor(one, evidence))]
  if (by !== cause) return refusal(`${words}: it was disarmed by something else, ${by}`, `Run it again. ${one.ask}`)
  if (since === null) return refusal(`${words}: it disarmed before anybody did what was asked`, `Run it again. ${one.ask}`)
  const took = told.t - since
  if (took < -toldBeforeS)
    return refusal(`${words}: it was disarmed before anybody did what was asked`, `Run it again. ${one.ask}`)
  const driven = drivenAfter(off, told.t)
  const set = board.settings?.['arm.idleOff']
  const found = [
    ...flight,
    judgedAs(id, 'disarmed', 'disarmed'),
    judgedAs(`${id}Outputs`, driven ? 'still told to turn' : 'at zero', 'at zero', stillDriven),
    accountFinding(evidence, `${id}Account`, accountOf(evidence, off, { isArmed: true, phases: [] })),
  ]
  if (id === 'stop') return found
  if (id !== 'idle') {
    const { max } = limitFor(sheet, id === 'switch' ? 'disarming.took' : 'disarming.sticks')
    return [...found, judged(`${id}Took`, took, 's', { max }, took > farTooLateS ? imageAgain(evidence, obeysLate) : tooLate)]
  }
  const own = sheet.settings?.['arm.idleOff']
  const near = limitFor(sheet, 'disarming.idleOff').max ?? 0
  const { min, max } = own === undefined ? limitFor(sheet, 'disarming.idle') : { min: own - near, max: own + near }
  const judgedTook = judged('idleTook', took, 's', { min, max }, remedyFor(one, evidence))
  if (set === undefined) return [...found, judgedTook]
  const beside = { max: limitFor(sheet, 'disarming.idleOff').max }
  return [...found, judgedTook, judged('idleOff', Math.abs(took - set), 's from what is set', beside, tooLate)]
}
/** What its radio does not explain, s. */
const farTooLateS = 2
const obeysLate = 'It stops long after it was told to.'

/** What a full stick of yaw does with throttle as in flight: nothing may come of it. Why that is not told, where it is not. */
const inFlight = (one: Way, off: Segment, evidence: Evidence, disarmedAt: number | null): Finding[] | string => {
  const held = yawHeldInFlight(off, evidence)
  const isByYaw =
    disarmedAt !== null &&
    held !== null &&
    disarmedAt <= held.to + 0.3 &&
    (one.id !== 'switch' || (switchedAt(off, evidence, 'off') ?? Infinity) > disarmedAt)
  if (isByYaw)
    return [
      judgedAs(
        `${one.id}Flight`,
        'it disarms',
        'it stays armed',
        imageAgain(evidence, 'A stick of yaw stops its motors in the air.'),
      ),
    ]
  if (held === null || held.s < heldInFlightS)
    return 'yaw was not held fully to the left for two seconds, with throttle over the middle'
  const switched = one.id === 'switch' ? switchedAt(off, evidence, 'off') : null
  if (switched !== null && (stickAt(off, evidence, 'throttle', switched) ?? 0) < halfUs)
    return 'throttle was not over the middle as the switch was put off'
  return [judgedAs(`${one.id}Flight`, 'it stays armed', 'it stays armed')]
}
/** Longer than any board takes sticks in a corner for a sign (common practice), s. */
const heldInFlightS = 1.2

/** How long something must have been done before it is said to do nothing, s. */
const leastTriedS = { switch: 1, sticks: 3, stop: Infinity, idle: Infinity } as const

const tooLate = byHand('It stops too late. Look at the rate and the steadiness of the radio, and take this check again.')
const stillDriven = byHand(
  'Battery out at once. The board says that it is disarmed and drives its outputs: write its firmware again, and do not put props on it.',
)

const remedyFor = ({ id, words }: Way, evidence: Evidence): Remedy => {
  const {
    sheet,
    board: { settings },
  } = evidence
  const rules = rulesOf(sheet)
  const wanted: Partial<Record<Way['id'], Record<string, number>>> = {
    sticks: { 'arm.sticksDisarm': 1 },
    idle: { 'arm.idleOff': rules.idleOffS },
  }
  const write = wanted[id]
  const isSo = write !== undefined && Object.entries(write).every(([name, value]) => settings?.[name] === value)
  return write === undefined || isSo
    ? imageAgain(evidence, `${words} it must disarm, and does not; Switches says that the board hears it.`)
    : { by: 'settings', act: `Have it disarm ${words.toLowerCase()}.`, settings: write }
}

/** When what was to disarm it began; null where it was not done. */
const beganAt = ({ id }: Way, off: Segment, evidence: Evidence, armedAt: number): number | null => {
  switch (id) {
    case 'switch':
      return switchedAt(off, evidence, 'off')
    case 'sticks':
      return cornerSince(off, evidence, 'left')
    case 'stop':
      return startOf(off)
    case 'idle':
      return Math.max(armedAt, raisedUntil(off, evidence))
  }
}

const startOf = ({ events = [], streams: { outputs } }: Segment): number =>
  Math.min(outputs?.t[0] ?? Infinity, ...events.map((event) => event.t))
const endOf = ({ events = [], streams: { outputs } }: Segment): number =>
  Math.max(outputs?.t[outputs.t.length - 1] ?? -Infinity, ...events.map((event) => event.t))

/** An event may be told a moment before the frame that it followed, s. */
const toldBeforeS = 0.05
const stopsWithinS = 0.1
/** Whether any output is still told to turn once it is said to be disarmed. */
const drivenAfter = ({ streams: { outputs } }: Segment, t: number): boolean => {
  if (outputs === undefined) return true
  const rows = Array.from({ length: outputs.t.length }, (_, i) => i).filter((i) => (outputs.t[i] as number) >= t + stopsWithinS)
  const columns = Object.entries(outputs).flatMap(([name, column]) => (/^o\d+$/.test(name) ? [column as ArrayLike<number>] : []))
  return rows.length === 0 || rows.some((i) => columns.some((column) => (column[i] ?? 0) > 0))
}
