import type { EvidenceEvent, RefusalType, WantOf } from '@taraf/contract'
import { EndWatch, armedUnder, evidenceEvent, isWaitedFor, type Got } from '@taraf/core'
import { TeachWatch } from '@taraf/core/watches'
import type { TakeStep } from '@taraf/core/runTake'
import { handsOf, stepS, type Rig } from '@taraf/rig'
import { BoardRefused, backS, dropUnsaved, hand, settleS } from './atBoard'
import { chooseMode, modeIn } from './controls'
import { Gather } from './gather'
import type { Handled } from './hand'
import { mayArm, type KeptPermit } from './permits'
import type { Meddler } from './person'
import { TakeEnded } from './sampled'

/** When the cable is pulled and put back in a watch that may lose its link, in steps. */
const cableOutAt = 100
/** Steps that the cable is out, where nothing takes longer. */
const unlinkedSteps = 600
/** From the last act on the battery alone to the cable in again, s. */
const cableAfterS = 2

/** Watches with what a step puts in force for itself alone; what is saved is in force again before anything else. */
export const watched = (rig: Rig, want: WantOf<'watch'>, how: Handled, permit: KeptPermit, meddler?: Meddler): Got => {
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
const actsOf = ({ lead }: WantOf<'watch'>, { approach = [], then = [], onEvent, stopsAll }: Handled) => {
  let [near, late, since, further, sinceEvent] = [0, 0, 0, 0, 0]
  return (rig: Rig, events: readonly EvidenceEvent[]): void => {
    if (onEvent !== undefined && events.some((event) => isWaitedFor(event, [onEvent.event])) && ++sinceEvent === thenEvery)
      for (const act of onEvent.acts) hand(rig, act)
    if (++since < (late > 0 || near === 0 ? thenEvery : approachEvery)) return
    since = 0
    const isThere = lead === undefined || events.some((event) => isWaitedFor(event, [`gates:${lead.gate}`]))
    const isBeyond = isThere && (near >= approach.length || further++ >= beyond)
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
export const teach = (rig: Rig, want: WantOf<'watch'>, meddler: Meddler = {}): Got => {
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
export const logged = (rig: Rig, _step: TakeStep, _want: WantOf<'log'>): EvidenceEvent[] => {
  const entries = rig.board.log.read(0, 400)
  const boot = entries[entries.length - 1]?.boot
  return entries.filter((e) => e.boot === boot).flatMap((e) => evidenceEvent(e) ?? [])
}
