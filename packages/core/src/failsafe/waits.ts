import type { Evidence, Finding, Segment, SheetPart, WantOf } from '@taraf/contract'
import { halfUs, stickAt } from '../arming/moved'
import { bandsOf, isOfArming, rulesOf } from '../arming/rules'
import { whyUnarmed } from '../arming/unarmed'
import { byHand, defineCheck, judged, judgedAs, refusal } from '../check'
import { outputsOf, positionsOf, pushAbout } from '../geometry'
import { limitFor } from '../limits'
import { mapOf } from '../motors/pushes'
import { outputColumn } from '../motors/speeds'
import { framesOf } from '../radio/frames'
import { onTheWay } from '../radio/sticks'
import { canBeArmed } from '../sheetHas'
import { lineThrough, mean, median } from '../statistics'
import { modeName } from '../switches/modeName'
import { want } from '../take'
import { allOff, armedIn, back, firstUp, gone, readyFor, soFarOf, taken, tried, wordsIn, type Tried } from './losing'
import { modesOf, plainest } from './losses'
import { accountFinding, accountOf } from '../arming/account'
import { commandIn, gapIn, jumpAt, phasesOf, rowsIn, type Gap, type Phases } from './phases'
import { again, choiceOf, setting } from '../remedy'
import { phasesOfLoss } from './responseFindings'

type Turn = 'roll' | 'pitch' | 'yaw'
interface Held {
  readonly label: string
  readonly sticks: readonly Turn[]
  readonly words: string
  /** The switch of the modes is moved while the signal is gone. */
  readonly switches: boolean
}
const heldOf = (sheet: SheetPart): readonly Held[] => [
  {
    label: 'held-roll-pitch',
    sticks: ['roll', 'pitch'],
    words: 'roll a little to the right and pitch a little forward',
    switches: modesOf(sheet).length > 1,
  },
  { label: 'held-yaw', sticks: ['yaw'], words: 'yaw a little to the right', switches: false },
]
const armLabel = 'arm-waits'

const holding = ({ label, words, switches }: Held): WantOf<'watch'> => ({
  kind: 'watch',
  ...taken,
  label,
  ask: `Laid level, throttle just over the middle. Hold ${words}, a tenth of the way and never more than a fifth; at once ${gone.transmitter}, and go on holding.`,
  during: 'Armed: hold the stick, take the signal away, and give it back as the step says',
  onlyAfter: 'loss:wait',
  then: [
    {
      event: 'loss:act',
      words: `It acts. Let go of the stick${switches ? ', put the switch of the modes elsewhere' : ''}, and wait for two seconds. Then: ${back.transmitter.toLowerCase()}.`,
    },
  ],
  afterS: 0.4,
})

const dropped: WantOf<'watch'> = {
  kind: 'watch',
  ...taken,
  label: 'drop-out',
  ask: 'Throttle just over the middle, sticks let go. Pull the lead of the receiver for a blink, and in again: shorter than the board waits.',
  during: 'Armed: the lead of the receiver out for a blink, and in again',
  onlyAfter: 'loss:notice',
  then: [{ event: 'loss:notice', words: 'The signal is gone: lead of the receiver in again, at once.' }],
  afterS: 0.4,
}
/** What is tried, in its order, and by which step. */
export const waitsTried = (sheet: SheetPart): Tried[] => [
  ...heldOf(sheet).map(({ label, sticks, switches }) => ({
    label,
    words: `${firstUp(sticks.join(' and '))} held as the signal goes: it must let go of ${sticks.length > 1 ? 'them' : 'it'}${switches ? ', and no switch may reach it' : ''}.`,
  })),
  { label: dropped.label, words: 'A drop-out of a blink: it must fly on.' },
]

const isOff = ({ events = [] }: Segment): boolean => events.some((event) => event.what === 'disarmed')

/** What sticks and switches do between the last frame and the act: nothing, or as the sheet says. */
export const waits = defineCheck({
  id: 'failsafe.waits',
  version: 3,
  station: 'failsafe',
  title: 'While it waits',
  proves: 'Before it acts on a loss no stick goes on steering; a short drop-out changes nothing.',
  words: {
    roll: 'Roll held as the signal went',
    pitch: 'Pitch held as the signal went',
    yaw: 'Yaw held as the signal went',
    'held-roll-pitch.command': 'Command while it waits, from before',
    'held-yaw.command': 'Command while it waits, from before, yaw held',
    switches: 'Switch moved while the signal was gone',
    'drop-out.does': 'Short drop-out',
    'drop-out.back': 'Short drop-out: sticks count again after',
    'held-roll-pitch.account': 'Roll and pitch held: motors, moment by moment',
    'held-yaw.account': 'Yaw held: motors, moment by moment',
    'drop-out.account': 'Short drop-out: motors, moment by moment',
    'drop-out.jump': 'Short drop-out: jump as they do',
  },
  needs: ['failsafe.levels'],
  reads: {
    settings: ['loss.*', 'arm.*', 'switch.*', 'radio.*', 'gain.*', 'curve.*', 'level.*', 'motors.*', 'output.*'],
    parts: ['board', ...onTheWay, 'receiver at loss'],
    acts: ['board', 'remount', 'transmitter'],
    onTransmitter: isOfArming(false),
    image: true,
  },
  appliesTo: canBeArmed,
  stages: null,
  *take(soFar) {
    const { sheet } = soFar
    yield* want.state(readyFor(sheet))
    const { short } = yield armedIn(sheet, armLabel, plainest(sheet))
    let goesOn = short !== true
    for (const one of heldOf(sheet))
      goesOn &&= yield* tried(holding(one), (segment) => wordsIn(heldIn(soFarOf(soFar, waits.id, segment), segment, one)))
    if (goesOn) {
      const whyNot = (segment: Segment) => wordsIn(dropOutIn(soFarOf(soFar, waits.id, segment), segment))
      yield* tried(dropped, whyNot, isOff)
    }
    yield* want.state(allOff)
  },
  stepsOf: ({ sheet, segments }) =>
    [armedIn(sheet, armLabel, plainest(sheet)), ...heldOf(sheet).map(holding), dropped].filter(({ label }) =>
      segments.some((segment) => segment.label === label),
    ),
  evaluate: (evidence) => waitsFindings(evidence),
})

const waitsFindings = (evidence: Evidence): Finding[] => {
  const { sheet, segments } = evidence
  if (sheet.geometry === undefined) return refusal('the sheet has no geometry', 'Write the booms into the build sheet.')
  const unarmed = whyUnarmed(evidence, armLabel)
  if (unarmed !== null) return unarmed
  const found: Finding[] = []
  for (const one of heldOf(sheet)) {
    const segment = segments.find(({ label }) => label === one.label)
    const some = segment === undefined ? 'it was not tried' : heldIn(evidence, segment, one)
    if (typeof some === 'string') return refusal(`${firstUp(one.sticks.join(' and '))} held: ${some}`, again)
    found.push(...some)
  }
  const drop = segments.find(({ label }) => label === dropped.label)
  const some = drop === undefined ? 'it was not tried' : dropOutIn(evidence, drop)
  return typeof some === 'string' ? refusal(`Short drop-out: ${some}`, again) : [...found, ...some]
}
/** A stick is held that stands so far out of the middle, us; one that is held further winds up what the board gathers. */
const [leastHeldUs, mostHeldUs] = [40, 250]

const heldIn = (evidence: Evidence, segment: Segment, { sticks, switches }: Held): Finding[] | string => {
  const { events = [], streams } = segment
  const gap = gapIn(segment)
  if (typeof gap === 'string') return gap
  const phases = phasesOf(events, gap)
  if (phases.act === null || phases.wait === null) return 'the signal came back before the board acted'
  if (events.some(({ what, t }) => what === 'disarmed' && t < gap.to)) return 'it was disarmed before the signal was back'
  const us = stickAt(segment, evidence, 'throttle', gap.from)
  if (us === null || us < halfUs) return 'throttle was not over the middle as the signal went'
  if (streams.outputs === undefined) return 'no output was sampled'
  const account = accountFinding(
    evidence,
    `${segment.label}.account`,
    accountOf(evidence, segment, { isArmed: true, phases: phasesOfLoss(evidence, segment, gap, phases) }),
  )
  // What the motors do otherwise says nothing of a stick.
  if (account.verdict === 'fail') return [account]
  const found: Finding[] = [account]
  for (const stick of sticks) {
    const one = steers(evidence, segment, stick, gap, { wait: phases.wait, act: phases.act })
    if (typeof one === 'string') return one
    found.push(one)
  }
  const before = commandIn(streams.outputs, gap.from - 0.3, gap.from)
  const waiting = commandIn(streams.outputs, phases.wait, phases.act)
  if (before === null || waiting === null) return 'the outputs were not sampled while it waited'
  const { max = 0 } = limitFor(evidence.sheet, 'loss.jump')
  const command = judged(`${segment.label}.command`, 100 * (waiting - before), 'points', { min: -max, max }, commandMoves)
  if (!switches) return [...found, command]
  const moved = switchReaches(evidence, segment, gap, phases)
  return typeof moved === 'string' ? moved : [...found, command, moved]
}
const commandMoves = byHand(
  'The command jumps as soon as the signal is gone: compare what is set for a loss with the sheet, and write the firmware of the board again.',
)

const windowS = 0.06
/** Of full command: what takes a stick away moves the push about its axis by this or more. */
const leastStep = 0.006

/** Whether a stick that was held as the signal went goes on steering: its push ends as the board waits, or as it acts. */
const steers = (
  evidence: Evidence,
  segment: Segment,
  stick: Turn,
  gap: Gap,
  { wait, act }: { wait: number; act: number },
): Finding | string => {
  const { sheet, board } = evidence
  const us = stickAt(segment, evidence, stick, gap.from)
  if (us === null) return `${stick} was not received`
  const out = us - 1500
  if (Math.abs(out) < leastHeldUs || Math.abs(out) > mostHeldUs)
    return `${stick} was at ${us.toFixed(0)} us as the signal went: hold it ${leastHeldUs} to ${mostHeldUs} us out of the middle`
  const steps = [wait, act].map((t) => stepAt(evidence, segment, stick, t))
  if (steps.some((step) => step === null)) return 'the outputs were not sampled as it began to wait and to act'
  // Pitch forward is nose down.
  const way = Math.sign(out) * (stick === 'pitch' ? -1 : 1)
  const [atWait, atAct] = steps.map((step) => -way * (step as number)) as [number, number]
  const largest = Math.max(Math.abs(atWait), Math.abs(atAct))
  if (largest < leastStep)
    return `${stick} moved no motor any more as the signal went: hold it less far, and take the signal away at once`
  // Where nothing changes as it begins to wait, it goes on: outputs that stand at their limits show no step later on.
  const isTheSame = Math.abs(atWait) < Math.max(leastStep, largest / 4)
  const is = atWait >= largest / 2 ? letGo : isTheSame || atAct >= largest / 2 ? goesOn : 'steers by itself'
  const wanted = sheet.settings?.['loss.hold'] === choiceOf(evidence, 'loss.hold', 'last sticks', 0) ? goesOn : letGo
  // An output at its limit proves nothing.
  if (is === 'steers by itself' && [wait, act].some((t) => touchesLimit(evidence, segment, t)))
    return `${stick} was held so far that an output came to its limit: hold it less far`
  const centred = choiceOf(evidence, 'loss.hold', wanted === letGo ? 'sticks centred' : 'last sticks', wanted === letGo ? 1 : 0)
  return judgedAs(
    stick,
    is,
    wanted,
    board.settings === undefined
      ? undefined
      : setting(
          evidence,
          wanted === letGo ? 'Have it let go of the sticks while it waits.' : 'Have it go on as the last sticks said.',
          {
            'loss.hold': centred,
          },
        ),
  )
}
const letGo = 'let go'
const goesOn = 'steers on'

/** Whether an output in use stood at either end of what it may be told about a time. */
const touchesLimit = (evidence: Evidence, { streams }: Segment, t: number): boolean => {
  const { sheet, board } = evidence
  const [idle, most] = [board.settings?.['motors.idle'] ?? rulesOf(sheet).idle, board.settings?.['motors.most'] ?? 1]
  const rows = streams.outputs === undefined ? [] : rowsIn(streams.outputs, t - 2 * windowS, t + 0.01 + windowS)
  return outputsOf(sheet).some((output) => {
    const column = outputColumn(streams, output)
    return rows.some((row) => (column?.[row] ?? 1) >= most - nearLimit || (column?.[row] ?? 0) <= idle + nearLimit)
  })
}
const nearLimit = 0.01

/** How the push about one axis leaves its drift at a time; null where too little was sampled. */
const stepAt = ({ sheet, board }: Evidence, { streams }: Segment, stick: Turn, t: number): number | null => {
  const { outputs } = streams
  if (sheet.geometry === undefined || outputs === undefined) return null
  const positions = positionsOf(sheet.geometry)
  const push = pushAbout(positions, stick)
  const map = [...mapOf(sheet, board.settings)]
  const mirrored = stick === 'yaw' && board.settings?.['motors.mirrored'] === 1 ? -1 : 1
  const pushAt = (row: number): number => {
    const shares = Array<number>(positions.length).fill(0)
    for (const [output, position] of map) shares[position] = outputColumn(streams, output)?.[row] ?? 0
    return mirrored * push(shares)
  }
  // What is held winds up what the board gathers: its push drifts, and only what leaves that drift is a step.
  const before = rowsIn(outputs, t - 2 * windowS, t - 1e-9)
  const after = rowsIn(outputs, t + 0.01, t + 0.01 + windowS)
  if (before.length < 6 || after.length < 3) return null
  const times = (rows: number[]) => rows.map((i) => outputs.t[i] as number)
  const drift = lineThrough(times(before), before.map(pushAt))
  return median(after.map(pushAt)) - drift(mean(times(after)))
}

/** What a switch of the modes did that was moved while the signal was gone. */
const switchReaches = (evidence: Evidence, segment: Segment, gap: Gap, { act, recover, none }: Phases): Finding | string => {
  const { sheet, board } = evidence
  const frames = framesOf(evidence, segment.label)
  if (frames === null) return 'no frame was received'
  const channels = new Set(modesOf(sheet).flatMap((mode) => bandsOf(mode, board.settings).map(({ channel }) => channel)))
  const [before, after] = [frames.t.findLastIndex((t) => t <= gap.from + 1e-6), frames.t.findIndex((t) => t >= gap.to - 1e-6)]
  const moved = [...channels].some((channel) => {
    const column = frames.channel(channel)
    return column !== null && Math.abs((column[after] ?? 0) - (column[before] ?? 0)) > 100
  })
  if (!moved) return 'no switch of the modes was moved while the signal was gone'
  const until = recover ?? none ?? gap.to
  const told = segment.events?.find(({ what, t }) => what === 'mode' && t > (act as number) + 0.05 && t < until - 0.02)
  const mode = (told as { mode?: string } | undefined)?.mode
  return judgedAs(
    'switches',
    mode === undefined ? 'nothing' : `mode ${modeName(mode)}`,
    'nothing',
    byHand('A switch reaches the board although no signal does: look at the receiver and at what it does at loss.'),
  )
}

/** What passes in the air many times in a flight, s (common practice). */
const blinkS = 0.5

/** Short of a loss it must fly on: nothing acts, nothing jumps, and sticks count again at once. */
const dropOutIn = (evidence: Evidence, segment: Segment): Finding[] | string => {
  const { events = [], streams } = segment
  const gap = gapIn(segment, 0.1)
  if (typeof gap === 'string') return gap
  const { act, none } = phasesOf(events, gap)
  if (act !== null && act < gap.to && gap.to - gap.from > blinkS) return 'the lead was out for so long that the board acted'
  const us = stickAt(segment, evidence, 'throttle', gap.from)
  if (us === null || us < halfUs) return 'throttle was not over the middle as the signal went'
  if (streams.outputs === undefined) return 'no output was sampled'
  const off = events.some(({ what }) => what === 'disarmed')
  const mode = events.find(({ what, t }) => what === 'mode' && t > gap.from)
  const does = off ? 'disarms' : act !== null ? 'acts' : mode === undefined ? 'flies on' : 'changes its mode'
  const remedy = off
    ? byHand(writeAgain)
    : setting(evidence, 'Have it wait for longer before it acts.', { 'loss.wait': evidence.sheet.settings?.['loss.wait'] ?? 700 })
  const found = judgedAs('drop-out.does', does, 'flies on', remedy)
  if (none === null || does !== 'flies on') return [found]
  const account = accountFinding(
    evidence,
    'drop-out.account',
    accountOf(evidence, segment, {
      isArmed: true,
      phases: phasesOfLoss(evidence, segment, gap, { ...phasesOf(events, gap), act: null }),
    }),
  )
  if (account.verdict === 'fail') return [found, account]
  const jump = jumpAt(streams.outputs, none)
  if (jump === null) return 'no output was sampled as the sticks counted again'
  return [
    found,
    account,
    judged(
      'drop-out.back',
      Math.max(0, none - gap.to),
      's',
      { max: limitFor(evidence.sheet, 'loss.back').max },
      setting(evidence, 'Have the sticks count again sooner.', { 'loss.back': evidence.sheet.settings?.['loss.back'] ?? 400 }),
    ),
    judged('drop-out.jump', 100 * jump, 'points', { max: limitFor(evidence.sheet, 'loss.jump').max }, byHand(writeAgain)),
  ]
}
const writeAgain = 'A drop-out that is shorter than it waits must change nothing: write its firmware again, and do not fly it.'
