import type { HandAct } from '@taraf/contract'
import { armedUnder, planOf, type Check, type Got, type Written } from '@taraf/core'
import { askReports, changeEscs, changeSettings, type NotWritten } from '@taraf/core/atLink'
import { changedMeanwhile, flightStreamsOf, unlessChanged, type BoardAsSeen } from '@taraf/core/watches'
import { runTake, type Given, type TakeStep, type Taken } from '@taraf/core/runTake'
import { handsOf, type Rig } from '@taraf/rig'
import { dropUnsaved, hand, onLink, settleS } from './atBoard'
import { moveControl } from './controls'
import { handled } from './hand'
import { letGo, mayArm, type KeptPermit } from './permits'
import type { AtTheRig } from './person'
import { TransmitterSilent, sampled } from './sampled'
import { logged, teach, watched } from './watched'

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

const whole = <T extends object>(found: T | NotWritten): T => {
  if ('why' in found) throw new Error(found.why)
  return found
}
