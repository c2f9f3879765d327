import {
  isBeside,
  streams,
  type AskBody,
  type AskName,
  type Change,
  type EvidenceEvent,
  type HandAct,
  type HandsState,
  type Observation,
  type RefusalType,
  type Segment,
  type Want,
  type WantOf,
} from '@taraf/contract'
import {
  LastingWatch,
  EndWatch,
  armedUnder,
  evidenceEvent,
  flightModes,
  isWaitedFor,
  modeName,
  planOf,
  type Check,
  type Got,
  type Written,
} from '@taraf/core'
import { askReports, changeEscs, changeSettings, type LinkStep, type NotWritten } from '@taraf/core/atLink'
import {
  ControlWatch,
  KnockWatch,
  TeachWatch,
  burstStream,
  commandAt,
  changedMeanwhile,
  flightStreamsOf,
  unlessChanged,
  type BoardAsSeen,
} from '@taraf/core/watches'
import { runTake, type Given, type TakeStep, type Taken } from '@taraf/core/runTake'
import { actOn, answererOf, burstValues, handsOf, stepS, type Rig } from '@taraf/rig'
import { Gather } from './gather'
import { handled, said, type Handled } from './hand'

const settleS = 2.5
/** What a board takes to be back after a restart, and to be linked. */
export const backS = 2
/** Steps between two renewals of a spin permit. */
const keepEvery = 10
/** Steps until somebody begins what is done during a capture, and between two questions whether it is enough. */
const duringAt = 200
const duringEvery = 100
/** Armed, nobody dawdles: a pose is held as soon as it is reached, and throttle goes up at once. */
const heldS = 1.3
const armedAt = 20
const askEverySteps = 1000
const longestS = 120

/** The board said no: nothing was changed. */
export class BoardRefused extends Error {
  constructor(
    readonly ask: AskName,
    readonly type: RefusalType,
    detail: string,
  ) {
    super(`the board refuses "${ask}": ${detail}`)
  }
}

/** Who stands at the rig: answers lists, and knows how a board at an eighth is held. */
export interface AtTheRig {
  readonly byEdges?: boolean
  readonly answer?: (want: WantOf<'answers'>, felt: Felt) => readonly Observation[]
  /** Told at once what a step of the take wrote, before the next one. */
  readonly wrote?: (written: Written) => void
  /** Told at once what the take wrote to ESCs. */
  readonly wroteEscs?: (change: Change) => void
  /** Told of a knock that the board felt. */
  readonly knocked?: () => void
  /** What goes wrong meanwhile. */
  readonly meddler?: Meddler
}

/** What was seen, felt and heard at the end of each step under an armed permit, by its label. */
export type Felt = ReadonlyMap<string, Pick<HandsState, 'motors' | 'lights' | 'tone'>>

/** What goes wrong while a take runs: at the rig, on the way to whoever records, or in what the board is asked. */
export interface Meddler {
  /** What is done for a want instead of what it asks. */
  readonly handled?: (want: Want, handled: Handled) => Handled
  /** Called before each row of samples of a want; what becomes of that row. Says once it has done something. */
  readonly row?: (rig: Rig, want: Want, row: number, happened?: () => void) => 'keep' | 'lose' | 'repeat'
  /** Called before a board is asked for its reports. Says once it has done something. */
  readonly reports?: (rig: Rig, want: Want, happened?: () => void) => void
  /** What is said of a step instead of what is so. */
  readonly said?: (rig: Rig, want: Want, said: readonly Observation[], happened?: () => void) => readonly Observation[]
  /** Called once the take is over, however it ended. */
  readonly after?: (rig: Rig) => void
  /** What the board is asked instead. */
  readonly ask?: (body: AskBody) => AskBody
}

/** A step ended before it was whole: the take proves nothing, and nothing of it is kept. */
export class TakeEnded extends Error {}
/** The transmitter went off in the middle of a step: it is switched on, and the step begun again. */
class TransmitterSilent extends TakeEnded {}
const mostTries = 3

/**
 * Drives a take of a check on a rig without any process between, as the server does on a linked bench: the same engine, with a rig that is
 * stepped in place of a link. Throws where the rig or its board refuses.
 */
export const takeOnRig = (rig: Rig, check: Check, given: Given, person: AtTheRig = {}): Taken => {
  const steps = runTake(check, given)
  const permit: KeptPermit = { held: null, armed: false, felt: new Map() }
  dropUnsaved(rig)
  const before = asSeen(rig)
  const writes: Written[] = []
  try {
    let next = steps.next()
    while (next.done !== true) {
      const step = next.value
      if (step.want.kind !== 'turn' && step.want.kind !== 'answers') letGo(rig, permit)
      mayArm(rig, permit, armedUnder(step.want))
      const got = answerOn(rig, step, person, permit)
      if (got.written !== undefined) {
        writes.push(got.written)
        person.wrote?.(got.written)
      }
      next = steps.next(got)
    }
    return unlessChanged(next.value, changedMeanwhile(before, asSeen(rig), writes))
  } finally {
    letGo(rig, permit)
    mayArm(rig, permit, null)
    person.meddler?.after?.(rig)
    // Nobody leaves a battery in that a take wanted.
    if (planOf(check, given.sheet).some((want) => want.state?.battery === true)) hand(rig, { act: 'battery', source: 'none' })
    if (rig.motion.mode === 'free') for (const act of backIn) hand(rig, act)
  }
}

/** What was carried out is carried in again, without its props. */
const backIn: readonly HandAct[] = [
  { act: 'props', on: false },
  { act: 'nuts', on: false },
  { act: 'lay', way: 'forward' },
  { act: 'cable', in: true },
]

/** Puts in force what is saved, as the server does: what is measured with values that were never saved is not what is handed over. */
const dropUnsaved = ({ board }: Rig): void => {
  for (const { name, value, saved } of board.settings.list()) if (value !== saved) board.settings.write({ [name]: saved })
}

const asSeen = ({ board }: Rig): BoardAsSeen => ({ identity: board.identity, settings: board.settings.list() })

/** Does one step of a take, and again where the transmitter went off in it. */
const answerOn = (rig: Rig, step: TakeStep, person: AtTheRig, permit: KeptPermit): Got => {
  for (let tries = 1; ; tries++)
    try {
      return tryOn(rig, step, person, permit)
    } catch (error) {
      if (!(error instanceof TransmitterSilent) || tries === mostTries) throw error
      hand(rig, { act: 'transmitter', on: true })
      rig.skip(settleS)
    }
}

const tryOn = (rig: Rig, step: TakeStep, person: AtTheRig, permit: KeptPermit): Got => {
  const { want } = step
  const asked = handled(want, person.byEdges, rig.airframe.power.pack.cells)
  const how = person.meddler?.handled?.(want, asked) ?? asked
  const { before, during } = how
  // Under a permit that is kept all of it is done already.
  if (want.kind !== 'turn' || permit.held === null) for (const act of before) hand(rig, act)
  if (want.kind === 'turn' && permit.held === null && before.length > 0) rig.skip(settleS)
  switch (want.kind) {
    case 'answers':
      return { segment: { label: want.label, streams: {} }, observations: person.answer?.(want, permit.felt) ?? [] }
    case 'reports':
      rig.skip(settleS)
      person.meddler?.reports?.(rig, want)
      return { segment: { label: want.label, streams: {}, reports: onLink(rig, askReports(want.of), person.meddler) } }
    case 'write':
      return { written: whole(onLink(rig, changeSettings({ do: 'write', settings: want.settings }), person.meddler)) }
    case 'calibrate':
      return { written: whole(onLink(rig, changeSettings({ do: 'calibrate', sensor: want.sensor }), person.meddler)) }
    case 'escs':
      return { escs: whole(onLink(rig, changeEscs(want.outputs, want.settings), person.meddler, person.wroteEscs)) }
    case 'state':
      rig.skip(settleS)
      return {}
    case 'log': {
      const { flight, boots } = rig.board
      const flown = want.rows !== undefined && flight.boot === boots ? [flight.read(0, flight.count)] : []
      const streams = flightStreamsOf(flown, flight.burst, want.rows ?? [])
      return { segment: { label: want.label, streams, events: logged(rig, step, want) } }
    }
    case 'control':
      return { segment: moveControl(rig, want, person.meddler) }
    case 'watch': {
      if (want.permit === 'teach') return teach(rig, want, person.meddler)
      const got = watched(rig, want, how, permit, person.meddler)
      if (permit.armed) permit.felt.set(want.label, handsOf(rig))
      return got
    }
    default:
      return sampled(rig, step, want, during, permit, person, before)
  }
}

/** Samples of a capture, a pose or motors that turn. */
const sampled = (
  rig: Rig,
  { enough, standing }: TakeStep,
  want: WantOf<'capture' | 'pose' | 'turn'>,
  during: Handled['during'],
  permit: KeptPermit,
  { meddler, knocked }: AtTheRig,
  before: readonly HandAct[],
): Got => {
  const { label, seconds, stage = 'body', streams: names } = want
  const least = want.kind === 'capture' ? (want.leastSeconds ?? seconds) : seconds
  const isArmed = armedUnder(want) !== null
  let keep: (() => void) | null = null
  if (want.kind === 'turn') {
    keep = keeping(rig, permit, want)
    for (let i = 0; i < want.runUpS / stepS; i++) {
      keep()
      rig.step(stage)
    }
  } else rig.skip(label === 'warm' ? 0.1 : isArmed ? heldS : settleS)
  const acts: readonly HandAct[] = during === undefined ? [] : 'act' in during ? [during] : during
  const knocks = new KnockWatch()
  const ended = endedBy(rig, want)
  if (names.includes('imuBurst')) rig.beginBurst(Math.min(2, seconds))
  const most = Math.round(seconds / stepS) + 1
  let askAt = Math.round(least / stepS) + 1
  const gather = new Gather(rig, stage, names, askAt)
  const hasLasted = lasting(gather, want.kind === 'capture' ? want.until : undefined)
  const stood = standingIn(gather, standing)
  const soFar = (): Segment => ({ label, streams: gather.streams() })
  let hasStood = false
  for (let rows = 1; rows <= most; rows++) {
    const since = rows - (isArmed ? armedAt : duringAt)
    const next = since < 0 || since % duringEvery !== 0 ? undefined : acts[since / duringEvery]
    if (next !== undefined) hand(rig, next)
    keep?.()
    const fate = meddler?.row?.(rig, want, rows) ?? 'keep'
    gather.take(rig, rig.step(stage), fate)
    if (rig.turning) knocks.pause()
    else if (knocks.push(rig.board.body.force, rig.clock)) knocked?.()
    ended()
    if (hasLasted()) break
    if ((hasStood = stood())) break
    if (rows < askAt || askAt >= most) continue
    askAt += Math.min(askEverySteps, Math.round(least / stepS))
    if (enough(soFar())) break
  }
  // A person looks for as long as it lasts: a motor that begins late is seen all the same.
  const so = said(want, handsOf(rig), meddler === undefined ? [] : before)
  const observations = meddler?.said?.(rig, want, so) ?? so
  if (permit.armed) permit.felt.set(label, handsOf(rig))
  const whole = soFar()
  const burst = names.includes('imuBurst') && !hasStood ? rig.takeBurst() : null
  if (names.includes('meter') && want.kind !== 'turn') hand(rig, { act: 'battery', source: 'none' })
  return {
    segment:
      burst === null
        ? whole
        : {
            ...whole,
            streams: {
              ...whole.streams,
              imuBurst: burstStream({ rateHz: burst.rateHz, values: burstValues(burst.rows) }, rig.clock),
            },
          },
    ...(hasStood ? { short: true, stood: true } : {}),
    observations,
  }
}

/** Throws once what ends a step has come: another board, a board that started anew, the cable out, the wanted state left. */
const endedBy = (rig: Rig, { streams: names, state }: WantOf<'capture' | 'pose' | 'turn' | 'control'>): (() => void) => {
  // The meter is of the bench: it says on whatever becomes of the board.
  if (names.every((name) => name === 'meter') && state === undefined) return () => {}
  const { board } = rig
  const { boots } = board
  const { powerId } = rig.state()
  const fromBoard = names.some((name) => name !== 'meter')
  return () => {
    if (fromBoard && rig.board !== board) throw new TakeEnded('another board was put in')
    if (fromBoard && !rig.power.cable) throw new TakeEnded('the link was lost')
    if (fromBoard && rig.board.boots !== boots) throw new TakeEnded('the board started anew')
    if (state?.battery === true && (!rig.power.battery || rig.state().powerId !== powerId))
      throw new TakeEnded('the battery was taken out')
    if (state?.transmitter === true && rig.state().radio !== 'heard') throw new TransmitterSilent('the transmitter is not heard')
    if (state?.armed === true && !rig.board.arming.armed) throw new TakeEnded('the board disarmed')
    if (state?.disarmed === true && rig.board.arming.armed) throw new TakeEnded('the board armed')
  }
}

/** Tells whether what a capture waits for has come to last. */
const lasting = (gather: Gather, until: WantOf<'capture'>['until']): (() => boolean) => {
  if (until === undefined || !isBeside(until.stream)) return () => false
  const { stream, column } = until
  const at = (streams[stream].columns as readonly string[]).indexOf(column)
  const watching = new LastingWatch(until)
  let seen = 0
  return () => {
    const { t, rows } = gather.rows(stream)
    let lasted = false
    for (; seen < t.length; seen++) lasted ||= watching.push(t[seen] as number, rows[seen]?.[at] ?? 0)
    return lasted
  }
}

/** Tells whether a motor stands although it is told to turn. */
const standingIn = (gather: Gather, watching: TakeStep['standing']): (() => boolean) => {
  if (watching === null) return () => false
  const watched = (['outputs', 'escs'] as const).map((name) => {
    const columns: readonly string[] = streams[name].columns
    let seen = 0
    return () => {
      const { t, rows } = gather.rows(name)
      for (; seen < t.length; seen++) {
        const row = rows[seen] ?? []
        if (watching.push(name, t[seen] as number, (column) => row[columns.indexOf(column)]) !== null) return true
      }
      return false
    }
  })
  return () => watched.some((stood) => stood())
}

interface KeptPermit {
  held: { readonly token: string; readonly powerId: string } | null
  /** Whether the board may be armed by its transmitter. */
  armed: boolean
  readonly felt: Map<string, HandsState>
}

/** Turns outputs under the permit that is kept, or a new one; what it returns renews it. Outputs of the step before come to rest first. */
const keeping = (rig: Rig, permit: KeptPermit, { outputs, riseS }: WantOf<'turn'>): (() => void) => {
  const { powerId } = rig.state()
  if (permit.held === null) {
    const granted = rig.board.grant('spin', 'off', powerId, rig.power)
    if (!('token' in granted)) throw new BoardRefused('permit', granted.refused as RefusalType, granted.refused)
    permit.held = { token: granted.token, powerId }
  } else
    for (let i = 0; rig.turning && i < longestS / stepS; i++) {
      if (i % keepEvery === 0) rig.board.turn(permit.held.token, {})
      rig.step('body')
    }
  const { token } = permit.held
  let steps = 0
  return () => {
    const values = Object.fromEntries(outputs.map(({ output, share }) => [output, commandAt(share, steps * stepS, riseS)]))
    const wrong = steps++ % keepEvery === 0 ? rig.board.turn(token, values) : null
    if (wrong !== null) throw new BoardRefused('spin', wrong as RefusalType, wrong)
  }
}

/**
 * The permit to arm is held from the first step that wants it to the last, anew for each that begins unarmed: it does not last for ever.
 * Whoever drops it disarms the board.
 */
const mayArm = (rig: Rig, permit: KeptPermit, kind: ReturnType<typeof armedUnder>): void => {
  const may = kind !== null
  if (!permit.armed && !may) return
  if (may && permit.armed && rig.board.arming.armed) return
  if (permit.armed) {
    rig.board.stop('permit dropped')
    untilStill(rig)
  }
  permit.armed = may
  if (!may) return
  const granted = rig.board.grant(kind, kind === 'flight' ? 'on' : 'off', rig.state().powerId, rig.power)
  if (!('token' in granted)) throw new BoardRefused('permit', granted.refused as RefusalType, granted.refused)
}

/** The hand lets go: everything comes to rest. */
const letGo = (rig: Rig, permit: KeptPermit): void => {
  if (permit.held === null) return
  permit.held = null
  rig.board.stop('let go')
  untilStill(rig)
}

const untilStill = (rig: Rig): void => {
  for (let i = 0; rig.turning && i < longestS / stepS; i++) rig.step('body')
}

const stickOf: Readonly<Record<string, { stick: 'roll' | 'pitch' | 'throttle' | 'yaw'; to: 1 | -1 }>> = {
  'throttle-up': { stick: 'throttle', to: 1 },
  'roll-right': { stick: 'roll', to: 1 },
  'pitch-forward': { stick: 'pitch', to: 1 },
  'yaw-right': { stick: 'yaw', to: 1 },
}

/** The flight mode that a step names. */
const modeIn = (ask: string): string | undefined => {
  const named = /\bmode ([a-z- ]+)[.,]/i.exec(ask)?.[1]
  return named === undefined ? undefined : flightModes.find((mode) => modeName(mode) === named)
}

/** The switch of a flight mode, moved until the mode is on, or off again. */
const chooseMode = (rig: Rig, mode: string, on = true): void => {
  const get = (name: string) => rig.board.settings.get(`switch.${mode}.${name}`)
  const channel = get('channel')
  if (channel === 0) return
  const isOn = () => {
    const us = rig.transmitter.channels()[channel - 1] ?? 0
    return us >= get('low') && us <= get('high')
  }
  const next = switchMoves(rig, channel)
  for (let i = 0; isOn() !== on && i < 6; i++) hand(rig, next(i))
}

/** What a hand does next with a control: out, back, and so on; -1 is back for good. */
type Moves = (number: number) => HandAct

/** To the end that the label names, or to one end and the other in turns, and back to its rest in between. */
const stickMoves = (label: string): Moves => {
  const { stick, to } = stickOf[label] ?? { stick: label as 'roll', to: 1 }
  // A stick that is let go of goes back by itself; throttle is brought down, as every take asks.
  const rest = stick === 'throttle' ? -1 : 0
  return (number) => ({ act: 'stick', stick, to: number % 2 !== 0 ? rest : number % 4 === 0 ? to : (-to as 1 | -1) })
}

/** Through all positions of the switch on a channel, from the one that it is in. */
const switchMoves = (rig: Rig, channel: number): Moves => {
  const { channels, switches } = handsOf(rig).transmitter
  const found = switches.find(({ name }) => channels[channel - 1]?.source === `switch ${name}`)
  if (found === undefined) throw new Error(`no switch is on channel ${channel}`)
  const { name, positions, at } = found
  return (number) => ({ act: 'switch', name, to: number < 0 ? at : (at + 1 + number) % positions })
}

/** Moves the control that a label names out and back, as often as is wanted, and ends when the watch of its channels says so. */
const moveControl = (rig: Rig, want: WantOf<'control'>, meddler: Meddler = {}): Segment => {
  const { label, seconds, stage = 'body', streams: names, heldS } = want
  const outAndBack = label.startsWith('switch-') ? switchMoves(rig, Number(label.slice(7))) : stickMoves(label)
  hand(rig, outAndBack(-1))
  const gather = new Gather(rig, stage, names.includes('radio') ? names : [...names, 'radio'], 400)
  const watching = new ControlWatch(want)
  const ended = endedBy(rig, want)
  const events: EvidenceEvent[] = want.events === undefined ? [] : [{ t: 0, what: 'mode', mode: rig.state().mode }]
  rig.board.events.length = 0
  const every = Math.round((heldS + 0.6) / stepS)
  let [seen, moved] = [0, 0]
  try {
    for (let step = 0; step < seconds / stepS; step++) {
      if (step > 100 && step % every === 0) hand(rig, outAndBack(moved++))
      const fate = meddler.row?.(rig, want, step) ?? 'keep'
      gather.take(rig, rig.step(stage), fate)
      ended()
      const { t, rows } = gather.rows('radio')
      let done = false
      for (; seen < t.length; seen++) {
        const row = rows[seen] ?? []
        if ((row[16] ?? 0) > 0) done ||= watching.push(t[seen] as number, row.slice(0, 16)).share >= 1
      }
      if (done) break
    }
  } finally {
    hand(rig, outAndBack(-1))
  }
  for (const told of rig.board.events.splice(0)) {
    const known = evidenceEvent(told)
    if (known !== null && (want.events as readonly string[] | undefined)?.includes(known.what) === true) events.push(known)
  }
  return { label, streams: gather.streams(), ...(events.length === 0 ? {} : { events }) }
}

/** When the cable is pulled and put back in a watch that may lose its link, in steps. */
const cableOutAt = 100
/** Steps that the cable is out, where nothing takes longer. */
const unlinkedSteps = 600
/** From the last act on the battery alone to the cable in again, s. */
const cableAfterS = 2

/** Watches with what a step puts in force for itself alone; what is saved is in force again before anything else. */
const watched = (rig: Rig, want: WantOf<'watch'>, how: Handled, permit: KeptPermit, meddler?: Meddler): Got => {
  if (want.inForce === undefined) return watch(rig, want, how, permit, meddler)
  rig.board.settings.write(want.inForce)
  try {
    return watch(rig, want, how, permit, meddler)
  } finally {
    if (rig.board.arming.armed) mayArm(rig, permit, null)
    dropUnsaved(rig)
  }
}

/** Board events with their times, until one of those that are waited for comes; over a lost link where that may be. */
const watch = (rig: Rig, want: WantOf<'watch'>, how: Handled, { felt }: KeptPermit, meddler: Meddler = {}): Got => {
  const { label, seconds, stage = 'body', streams: names, afterS = 0, mayLoseLink = false } = want
  if (how.approach !== undefined) rig.skip(settleS)
  const mode = modeIn(want.ask)
  if (mode !== undefined) chooseMode(rig, mode)
  const gather = new Gather(rig, stage, names, 400)
  const began = rig.clock
  const events: EvidenceEvent[] =
    armedUnder(want) === null
      ? []
      : [
          { t: began, what: 'mode', mode: rig.state().mode },
          { t: began, what: 'gates', reasons: rig.state().refusing },
        ]
  rig.board.events.length = 0
  const act = actsOf(want, how)
  let left = Infinity
  const ending = new EndWatch(want)
  const { alone = [] } = how
  let cableInAt = alone.length === 0 ? cableOutAt + unlinkedSteps : Infinity
  let [done, waits] = [0, (alone[0]?.afterS ?? 0) / stepS]
  for (let step = 0; step < seconds / stepS; step++) {
    const before = events.length
    const fate = meddler.row?.(rig, want, step) ?? 'keep'
    if (mayLoseLink && step > cableOutAt && step < cableInAt) {
      const next = alone.at(done)
      if (
        next !== undefined &&
        --waits <= 0 &&
        !(next.onceStill === true && rig.turning) &&
        !(next.onceLanded === true && rig.pilot !== null)
      ) {
        // What the last act led to is seen before the next one.
        felt.set(`${label} ${done}`, handsOf(rig))
        hand(rig, next.act)
        done += 1
        waits = (alone[done]?.afterS ?? 0) / stepS
        if (done === alone.length) cableInAt = step + Math.round(cableAfterS / stepS)
      }
    }
    if (mayLoseLink && (step === cableOutAt || step === cableInAt)) {
      // While the link is gone the board's clock is said to run on.
      const t = began + step * stepS
      hand(rig, { act: 'cable', in: step === cableInAt })
      if (step === cableOutAt) for (const one of how.unlinked ?? []) hand(rig, one)
      events.push({ t, what: 'link', link: step === cableInAt ? 'up' : 'lost' })
      rig.board.events.length = 0
      if (step === cableInAt) rig.skip(backS)
    }
    act(rig, events)
    if (rig.power.cable) gather.take(rig, rig.step(stage), fate)
    else rig.step(stage)
    events.push(...rig.board.events.splice(0).flatMap((told) => evidenceEvent(told) ?? []))
    const frame = gather.rows('radio').rows.at(-1)
    if (frame !== undefined) ending.push((channel) => frame[channel - 1] ?? 0)
    for (const event of events.slice(before)) if (ending.ends(event) && left === Infinity) left = afterS
    if ((left -= stepS) <= 0) return { segment: { label, streams: gather.streams(), events } }
  }
  return { segment: { label, streams: gather.streams(), events }, ...(left === Infinity ? { short: true } : {}) }
}

/** Steps between two small acts of an approach, and between what is done once it is there. */
const approachEvery = 100
const thenEvery = 200

/** What hands do while a step is watched: small acts until what it leads by is told and a little further, and then the rest. */
const actsOf = ({ lead }: WantOf<'watch'>, { approach = [], then = [], onceFixed, onEvent, stopsAll }: Handled) => {
  let [near, late, since, further, sinceEvent] = [0, 0, 0, 0, 0]
  return (rig: Rig, events: readonly EvidenceEvent[]): void => {
    if (onEvent !== undefined && events.some((event) => isWaitedFor(event, [onEvent.event])) && ++sinceEvent === thenEvery)
      for (const act of onEvent.acts) hand(rig, act)
    if (++since < (late > 0 || near === 0 ? thenEvery : approachEvery)) return
    since = 0
    const isThere = lead === undefined || events.some((event) => isWaitedFor(event, [`gates:${lead.gate}`]))
    const isBeyond = isThere && (near >= approach.length || further++ >= beyond)
    if (isBeyond && onceFixed === true && !rig.board.sensors.hasFix) return
    const next = isBeyond ? then[late++] : approach[near++]
    if (next !== undefined && 'choose' in next) chooseMode(rig, next.choose, next.on)
    else if (next !== undefined) hand(rig, next)
    if (stopsAll === true) rig.board.stop('stop all')
  }
}
/** Small acts beyond an edge: a hand that holds trembles. */
const beyond = 2

/** When somebody who is led by the screen puts the battery in, in steps. */
const batteryInAt = 300

/** Props are said to be off, and ESCs are taught: the battery is put in while high is on every output. */
const teach = (rig: Rig, want: WantOf<'watch'>, meddler: Meddler = {}): Got => {
  const { label, seconds, stage = 'body', streams: names, until } = want
  const granted = rig.board.grant('teach', 'off', rig.state().powerId, rig.power)
  if (!('token' in granted)) throw new BoardRefused('permit', granted.refused as RefusalType, granted.refused)
  const gather = new Gather(rig, stage, names, 400)
  const watching = new TeachWatch()
  const outputs = rig.drives.flatMap((drive, i) => (drive === null ? [] : [i]))
  const events: EvidenceEvent[] = []
  rig.board.events.length = 0
  for (let step = 0; step < seconds / stepS; step++) {
    if (step === batteryInAt) hand(rig, { act: 'battery', source: 'pack' })
    const fate = meddler.row?.(rig, want, step) ?? 'keep'
    gather.take(rig, rig.step(stage), fate)
    events.push(...rig.board.events.splice(0).flatMap((told) => evidenceEvent(told) ?? []))
    if (events.some((event) => isWaitedFor(event, until))) return { segment: { label, streams: gather.streams(), events } }
    const commands = outputs.map((i) => rig.board.commands[i] ?? 0)
    const now = watching.push(rig.clock, commands, rig.power.battery)
    if ('wrong' in now) {
      rig.board.stop('permit dropped')
      throw new TakeEnded(now.wrong)
    }
  }
  return { segment: { label, streams: gather.streams(), events }, short: true }
}

/** What the board's own log has from its newest start on. */
const logged = (rig: Rig, _step: TakeStep, _want: WantOf<'log'>): EvidenceEvent[] => {
  const entries = rig.board.log.read(0, 400)
  const boot = entries[entries.length - 1]?.boot
  return entries.filter((e) => e.boot === boot).flatMap((e) => evidenceEvent(e) ?? [])
}

const hand = (rig: Rig, act: HandAct): void => {
  const wrong = actOn(rig, act)
  if (wrong !== null) throw new Error(`${act.act}: ${wrong}`)
}

const whole = <T extends object>(found: T | NotWritten): T => {
  if ('why' in found) throw new Error(found.why)
  return found
}

/** Steps through what is done at a link, with the rig's own time for what is waited. Throws BoardRefused. */
export const onLink = <T>(
  rig: Rig,
  steps: Generator<LinkStep, T, never>,
  meddler: Meddler = {},
  keep: (change: Change) => void = () => {},
): T => {
  const ask = asker(rig)
  let answer: unknown
  for (;;) {
    const step = steps.next(answer as never)
    if (step.done === true) return step.value
    const wanted = step.value
    if ('waitS' in wanted) for (let i = 0; i < wanted.waitS / stepS; i++) rig.step('body')
    else if ('keep' in wanted) keep(wanted.keep)
    else if ('restart' in wanted) {
      rig.restart()
      rig.skip(backS)
    } else if ('battery' in wanted) {
      hand(rig, { act: 'battery', source: wanted.battery === 'on' ? 'pack' : 'none' })
      rig.skip(backS)
    } else answer = ask(meddler.ask?.(wanted) ?? wanted)
  }
}

/** Answers asks of a rig's board; one that answers later is waited for. */
export const asker = (rig: Rig): ((body: AskBody) => unknown) => {
  const ask = answererOf(rig)
  return (body) => {
    const found = ask(body)
    if (found !== null && 'refusal' in found) throw new BoardRefused(body.ask, found.refusal, found.detail)
    if (found !== null || body.ask !== 'calibrate') return found
    for (let i = 0; i < longestS / stepS; i++) {
      rig.step('raw')
      const values = rig.board.calibrationResult()
      if (values === 'moving') throw new BoardRefused('calibrate', 'moving', 'the airframe moved while the gyro was measured')
      if (values !== null) return { values }
    }
    throw new BoardRefused('calibrate', 'busy', 'the calibration does not end')
  }
}
