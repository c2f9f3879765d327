import type { Evidence, EvidenceEvent, Finding, Question, SheetPart, WantOf } from '@taraf/contract'
import { armWords, isOfArming, rulesOf } from '../arming/rules'
import { byHand, defineCheck, judged, judgedAs, refusal } from '../check'
import { limitFor } from '../limits'
import { answersOf, findingsOfList } from '../questions'
import { onTheWay } from '../radio/sticks'
import { canBeArmed } from '../sheetHas'
import { want } from '../take'
import { allOff, readyFor, type Tried } from './losing'
import { again } from '../remedy'

/** What is seen of an airframe on its battery alone, by the ids of its questions and by what each may be answered. */
export const seenAlone = {
  refused: 'aloneRefused',
  armed: 'aloneArmed',
  off: 'aloneOff',
  lost: 'aloneLost',
  back: 'aloneBack',
  stood: 'all stood',
  turned: 'motors turned',
  atOnce: 'all stood at once',
  later: 'turned on, then all stood',
  wentOn: 'motors went on',
} as const

/** What it must refuse for: sticks that arm it with throttle down ask for nothing with throttle up. */
const refusedFor = (sheet: SheetPart): 'throttle' | 'tilt' => (rulesOf(sheet).bySwitch ? 'throttle' : 'tilt')

/** What is done while the cable is out, in its order. */
export const aloneActs = (sheet: SheetPart): readonly string[] => {
  const { on, off } = armWords(rulesOf(sheet))
  return [
    refusedFor(sheet) === 'throttle'
      ? `Throttle over the middle; ${on}: nothing may turn.`
      : `Hold its nose up by half a right angle; ${on}: nothing may turn. Lay it level.`,
    `${off}, throttle down. Then ${on}: it arms.`,
    `${rulesOf(sheet).bySwitch ? 'Arm switch off' : 'Hold the stick of yaw to the left'}: all stand at once.`,
    `Arm it again, throttle just over the middle. Transmitter off, and wait until all stand.`,
    `Transmitter on again: nothing may turn. Throttle down, ${off.toLowerCase()}.`,
  ]
}

/** What is tried, in its order, within one step. */
export const aloneTried = (sheet: SheetPart): Tried[] => aloneActs(sheet).map((words, i) => ({ label: `${alone}-${i}`, words }))

const alone = 'alone'
const leftAlone = {
  kind: 'watch',
  label: alone,
  ask: 'Battery in, throttle down, arm switch off. Pull the cable: it is on its battery alone.',
  during: 'On its battery alone: do what is listed, in its order. Keep a hand near the battery',
  permit: 'armed-alone',
  streams: [],
  seconds: 300,
  until: ['link:up'],
  afterS: 0.5,
  mayLoseLink: true,
  atOnce: true,
  then: [{ event: 'link:lost', words: 'The cable is out. Do what is listed below, in its order; then the cable in again.' }],
  state: { battery: true, props: 'off' },
} as const satisfies WantOf<'watch'>

const questionsOf = (sheet: SheetPart): Question[] => {
  const { stood, turned, atOnce, later, wentOn } = seenAlone
  return [
    {
      id: seenAlone.refused,
      words: refusedFor(sheet) === 'throttle' ? 'Throttle up, then armed' : 'Nose up, then armed',
      why: 'It must refuse here too: in the field there is no cable.',
      answer: [stood, turned],
    },
    {
      id: seenAlone.armed,
      words: 'Throttle down, then armed',
      why: 'It must arm as it does with the cable in.',
      answer: [stood, turned],
    },
    {
      id: seenAlone.off,
      words: rulesOf(sheet).bySwitch ? 'Arm switch off' : 'Disarmed by the sticks',
      why: 'All that turns must stop.',
      answer: [atOnce, wentOn],
    },
    { id: seenAlone.lost, words: 'Transmitter off', why: 'It acts, and ends.', answer: [later, atOnce, wentOn] },
    { id: seenAlone.back, words: 'Transmitter on again', why: 'Nothing may start by itself.', answer: [stood, turned] },
  ]
}

/** Arm, refuse, disarm and lose the signal once more on the battery alone: by what is seen, and by the log of the board, read after. */
export const finalForm = defineCheck({
  id: 'failsafe.finalForm',
  version: 1,
  station: 'failsafe',
  title: 'Final form',
  proves: 'On its battery alone, without a cable, it refuses, arms, disarms and ends a loss as it does on the bench.',
  words: (sheet) => ({
    signal: 'Signal as the cable goes',
    refuses: refusedFor(sheet) === 'throttle' ? 'Throttle up, asked to arm' : 'Nose up, asked to arm',
    arms: 'Asked to arm',
    disarms: 'Disarmed by',
    acts: 'Loss: acts after',
    ends: 'Loss: at its end',
    after: 'Once the signal is back',
    ...Object.fromEntries(questionsOf(sheet).map(({ id, words }) => [id, `${words}, as it was seen`])),
  }),
  needs: ['failsafe.response', 'arming.disarms', 'arming.idle'],
  reads: {
    settings: ['loss.*', 'arm.*', 'switch.arm.*', 'radio.*', 'motors.turnWhenArmed', 'esc.signal'],
    parts: ['board', 'power wiring', 'regulator', 'receiver feed', ...onTheWay, 'receiver at loss'],
    acts: ['board', 'remount', 'transmitter'],
    onTransmitter: isOfArming(false),
    image: true,
  },
  appliesTo: canBeArmed,
  stages: null,
  *take({ sheet }) {
    yield* want.state(readyFor(sheet))
    yield leftAlone
    yield* want.log({ label: 'log', ask: 'Leave the cable in: the log of the board is read.', since: alone })
    yield* want.answers({ label: 'seen', ask: 'Say what you saw while the cable was out.', questions: questionsOf(sheet) })
    yield* want.state(allOff)
  },
  evaluate: (evidence) => aloneFindings(evidence),
})

const aloneFindings = (evidence: Evidence): Finding[] => {
  const { sheet, segments } = evidence
  const watched = segments.find(({ label }) => label === alone)?.events ?? []
  const link = (to: string) =>
    watched.find((event) => event.what === 'link' && (event as { link?: string }).link === to)?.t ?? null
  const [out, back] = [link('lost'), link('up')]
  if (out === null) return refusal('the cable was never out', again)
  if (back === null) return refusal('the cable was not put in again', again)
  const logged = (segments.find(({ label }) => label === 'log')?.events ?? []).filter(({ t }) => t >= out - slackS)
  if (logged.length === 0) return refusal('the log of the board holds nothing of it', again)
  const walked = walkedIn(evidence, logged, out)
  if (walked.some(({ verdict }) => verdict === 'refused')) return walked
  const { turns } = rulesOf(sheet)
  const wanted: Readonly<Record<string, string>> = {
    [seenAlone.refused]: seenAlone.stood,
    [seenAlone.armed]: turns ? seenAlone.turned : seenAlone.stood,
    [seenAlone.off]: seenAlone.atOnce,
    [seenAlone.lost]: seenAlone.later,
    [seenAlone.back]: seenAlone.stood,
  }
  // What never had a signal has nothing to be seen.
  if (walked.some(({ key, verdict }) => key === 'signal' && verdict === 'fail')) return walked
  return [
    ...walked,
    ...findingsOfList(questionsOf(sheet), evidence, ({ id }, answer) => judgedAs(id, answer, wanted[id] ?? '', otherwise)),
  ]
}
/** The board's clock is followed by another one while nobody hears it, s. */
const slackS = 1
/** A signal that goes as the cable does goes within this time of it, s. */
const withCableS = 3

const otherwise = byHand(
  'Battery out at once. On its battery alone it behaves differently than with the cable in: look at what feeds the board, the receiver and the ESCs, then run it again.',
)

type Told = EvidenceEvent & { readonly phase?: string; readonly cause?: string; readonly reasons?: readonly string[] }

/** What the log tells, in the order in which it was asked for. */
const walkedIn = (evidence: Evidence, logged: readonly EvidenceEvent[], out: number): Finding[] => {
  const { sheet } = evidence
  const events = logged as readonly Told[]
  const { bySwitch } = rulesOf(sheet)
  const reason = refusedFor(sheet)
  const after = (from: number, is: (event: Told) => boolean) => events.findIndex((event, i) => i > from && is(event))
  const phase = (name: string) => (event: Told) => event.what === 'loss' && event.phase === name
  const armed = (event: Told) => event.what === 'armed'
  const disarmed = (event: Told) => event.what === 'disarmed'
  const missing = (what: string) => refusal(`the log of the board does not hold ${what}`, again)

  const lostAt = after(-1, phase('wait'))
  const firstArmed = after(-1, armed)
  const wentWithCable = lostAt >= 0 && (events[lostAt] as Told).t < out + withCableS && (firstArmed < 0 || lostAt < firstArmed)
  const signal = judgedAs('signal', wentWithCable ? 'goes' : 'stays', 'stays', feeds)
  if (wentWithCable) return [signal]

  const turnedUp = answersOf(evidence).get(seenAlone.refused)?.answer === seenAlone.turned
  const refusing = after(-1, ({ what, reasons = [] }) => what === 'refusing' && reasons.includes(reason))
  if (refusing < 0 || (firstArmed >= 0 && firstArmed < refusing))
    return turnedUp ? [signal, judgedAs('refuses', 'it armed', reason, otherwise)] : missing(`that it refused for ${reason}`)
  const others = ((events[refusing] as Told).reasons ?? []).filter((one) => one !== reason)
  if (others.length > 0) return refusal(`it refused for ${others.join(', ')} as well`, again)
  const refuses = judgedAs('refuses', reason, reason)

  if (firstArmed < 0) {
    const last = events.findLast(({ what }) => what === 'refusing')?.reasons ?? []
    return last.includes(reason)
      ? missing('that it armed')
      : [signal, refuses, judgedAs('arms', last.join(', '), 'armed', otherwise)]
  }
  const off = after(firstArmed, disarmed)
  if (off < 0) return missing('that it was disarmed')
  const by = (events[off] as Told).cause ?? ''
  const way = bySwitch ? 'switch' : 'sticks'
  const found = [signal, refuses, judgedAs('arms', 'armed', 'armed')]
  if (by !== way) return refusal(`it was disarmed by something else first, ${by}`, again)
  const armedAgain = after(off, armed)
  if (armedAgain < 0) return missing('that it was armed again')
  const wait = after(armedAgain, phase('wait'))
  const act = wait < 0 ? -1 : after(wait, phase('act'))
  const end = after(armedAgain, disarmed)
  if (wait < 0) return missing('a loss of signal while it was armed')
  if (act < 0 || end < 0)
    return [
      ...found,
      judgedAs('disarms', by, way),
      judgedAs('ends', act < 0 ? 'never acts' : 'stays armed', 'disarmed by failsafe', otherwise),
    ]
  if ((events[end] as Told).cause !== 'failsafe') return refusal('somebody disarmed it while the signal was gone', again)
  const none = after(end, phase('none'))
  if (none < 0) return missing('that the signal came back')
  return [
    ...found,
    judgedAs('disarms', by, way),
    judged('acts', (events[act] as Told).t - (events[wait] as Told).t, 's', { max: limitFor(sheet, 'loss.wait').max }, otherwise),
    judgedAs('ends', 'disarmed by failsafe', 'disarmed by failsafe'),
    judgedAs('after', after(end, armed) < 0 ? 'all stand' : 'it armed', 'all stand', otherwise),
  ]
}

const feeds = byHand(
  'The receiver goes dark with the cable: it is fed from the cable and not from the regulator. Battery out; feed it from the regulator.',
  ['feed receiver'],
)
