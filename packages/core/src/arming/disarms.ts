import type { Evidence, Finding, Remedy, Segment, SheetPart, WantOf } from '@taraf/contract'
import { byHand, defineCheck, judged, judgedAs, refusal } from '../check'
import { limitFor } from '../limits'
import { onTheWay } from '../radio/sticks'
import { want } from '../take'
import { accountFinding, accountOf } from './account'
import { armingStep } from './arms'
import { triedIn } from './attempt'
import { cornerSince, raisedUntil, switchedAt } from './moved'
import { applies, isOfArming, ready, rulesOf } from './rules'
import { whyUnarmed } from './unarmed'

interface Way {
  readonly id: 'switch' | 'sticks' | 'stop' | 'idle'
  readonly words: string
  readonly ask: string
  /** What the board says that it was. */
  readonly cause: string
  readonly seconds: number
}

const waysOf = (sheet: SheetPart): readonly Way[] => {
  const { bySwitch, sticksDisarm, idleOffS } = rulesOf(sheet)
  const most = limitFor(sheet, 'disarming.idle').max ?? 30
  const all: Way[] = []
  if (bySwitch) all.push({ id: 'switch', words: 'By its switch', ask: 'Put the arm switch off.', cause: 'switch', seconds: 30 })
  if (sticksDisarm || !bySwitch)
    all.push({
      id: 'sticks',
      words: 'By the sticks',
      ask: 'Throttle down: hold the stick of yaw to the left until it goes on.',
      cause: 'sticks',
      seconds: 8,
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
const offLabel = (id: Way['id']) => `off-${id}`

const disarming = ({ id, ask, seconds }: Way): WantOf<'watch'> => ({
  kind: 'watch',
  permit: 'armed-bench',
  streams: ['radio', 'outputs'],
  mayLack: ['radio'],
  label: offLabel(id),
  ask,
  seconds,
  until: ['disarmed'],
  afterS: 0.4,
  atOnce: true,
  state: { battery: true, props: 'off' },
})

/** Every way out of being armed, tried and timed. */
export const disarms = defineCheck({
  id: 'arming.disarms',
  version: 4,
  station: 'arming',
  title: 'Must disarm',
  proves: 'Every way there is disarms it at once; left alone, it disarms itself.',
  words: (sheet) =>
    Object.fromEntries(
      waysOf(sheet).flatMap(({ id, words }) => [
        [id, words],
        [`${id}Took`, `${words}: took`],
        [`${id}Off`, `${words}: from the time that is set`],
        [`${id}Outputs`, `${words}: outputs`],
        [`${id}Account`, `${words}: motors, moment by moment`],
      ]),
    ),
  needs: ['arming.arms'],
  reads: {
    settings: ['arm.*', 'switch.arm.*', 'radio.throttle.*', 'radio.yaw.*', 'motors.idle', 'motors.turnWhenArmed'],
    parts: ['board', ...onTheWay],
    acts: ['board', 'transmitter'],
    onTransmitter: isOfArming(true),
    image: true,
  },
  appliesTo: (sheet) => applies(sheet, 'arming.disarms'),
  stages: null,
  *take({ sheet }) {
    yield* want.state({ label: 'ready', ask: 'Battery in, props and nuts off, transmitter on, throttle down.', state: ready })
    for (const one of waysOf(sheet)) {
      yield armingStep(sheet, armLabel(one.id))
      yield disarming(one)
    }
  },
  evaluate: (evidence) => waysOf(evidence.sheet).flatMap((one) => findingsOf(one, evidence)),
})

const findingsOf = (one: Way, evidence: Evidence): Finding[] => {
  const { id, cause, words } = one
  const { sheet, board, segments } = evidence
  const armed = segments.find(({ label }) => label === armLabel(id))
  const off = segments.find(({ label }) => label === offLabel(id))
  if (armed === undefined || off === undefined) return refusal(`${words}: it was not tried`, 'Run it again.')
  const unarmed = whyUnarmed(evidence, armLabel(id), words)
  if (unarmed !== null) return unarmed
  const armedAt = triedIn(armed).armedAt as number
  const told = off.events?.find(({ what }) => what === 'disarmed')
  const since = beganAt(one, off, evidence, armedAt)
  if (told === undefined) {
    const lasted = endOf(off) - (since ?? Infinity)
    return lasted >= leastTriedS[id] || (id === 'idle' && lasted >= (limitFor(sheet, 'disarming.idle').max ?? 0))
      ? [judgedAs(id, 'it stays armed', 'disarmed', remedyFor(one, evidence))]
      : refusal(`${words}: nobody did what was asked for long enough`, `Run it again. ${one.ask}`)
  }
  const by = (told as { cause?: string }).cause ?? ''
  if (by !== cause) return refusal(`${words}: it was disarmed by something else, ${by}`, `Run it again. ${one.ask}`)
  if (since === null) return refusal(`${words}: it disarmed before anybody did what was asked`, `Run it again. ${one.ask}`)
  const took = told.t - since
  if (took < -toldBeforeS)
    return refusal(`${words}: it was disarmed before anybody did what was asked`, `Run it again. ${one.ask}`)
  const driven = drivenAfter(off, told.t)
  const set = board.settings?.['arm.idleOff']
  // Motors that stand as they are set to: Idle judges that.
  const mayStand = board.settings?.['motors.turnWhenArmed'] === 0
  const found = [
    judgedAs(id, 'disarmed', 'disarmed'),
    judgedAs(`${id}Outputs`, driven ? 'still told to turn' : 'at nought', 'at nought', stillDriven),
    accountFinding(evidence, `${id}Account`, accountOf(evidence, off, { isArmed: true, phases: [], mayStand })),
  ]
  if (id === 'stop') return found
  if (id !== 'idle') {
    const { max } = limitFor(sheet, id === 'switch' ? 'disarming.took' : 'disarming.sticks')
    return [...found, judged(`${id}Took`, took, 's', { max }, tooLate)]
  }
  const own = sheet.settings?.['arm.idleOff']
  const near = limitFor(sheet, 'disarming.idleOff').max ?? 0
  const { min, max } = own === undefined ? limitFor(sheet, 'disarming.idle') : { min: own - near, max: own + near }
  const judgedTook = judged('idleTook', took, 's', { min, max }, remedyFor(one, evidence))
  if (set === undefined) return [...found, judgedTook]
  const beside = { max: limitFor(sheet, 'disarming.idleOff').max }
  return [...found, judgedTook, judged('idleOff', Math.abs(took - set), 's from what is set', beside, tooLate)]
}
/** How long something must have been done before it is said to do nothing, s. */
const leastTriedS = { switch: 1, sticks: 3, stop: Infinity, idle: Infinity } as const

const tooLate = byHand('It stops too late. Look at the rate and the steadiness of the radio, and take this check again.')
const stillDriven = byHand(
  'Battery out at once. The board says that it is disarmed and drives its outputs: write its firmware again, and do not put props on it.',
)

const remedyFor = ({ id, words }: Way, { sheet, board: { settings } }: Evidence): Remedy => {
  const rules = rulesOf(sheet)
  const wanted: Partial<Record<Way['id'], Record<string, number>>> = {
    sticks: { 'arm.sticksDisarm': 1 },
    idle: { 'arm.idleOff': rules.idleOffS },
  }
  const write = wanted[id]
  const isSo = write !== undefined && Object.entries(write).every(([name, value]) => settings?.[name] === value)
  return write === undefined || isSo
    ? byHand(`Battery out. ${words} it must disarm, and does not: take Switches again, then write its firmware again.`)
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
