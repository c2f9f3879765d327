import { isBeside, streams, type HandAct, type Segment, type WantOf } from '@taraf/contract'
import { LastingWatch, armedUnder, type Got } from '@taraf/core'
import { KnockWatch, burstStream } from '@taraf/core/watches'
import type { TakeStep } from '@taraf/core/runTake'
import { burstValues, handsOf, stepS, type Rig } from '@taraf/rig'
import { hand, settleS } from './atBoard'
import { Gather } from './gather'
import { said, type Handled } from './hand'
import { keeping, type KeptPermit } from './permits'
import type { AtTheRig } from './person'

/** Steps until somebody begins what is done during a capture, and between two questions whether it is enough. */
const duringAt = 200
const duringEvery = 100
/** Armed, nobody dawdles: a pose is held as soon as it is reached, and throttle goes up at once. */
const heldS = 1.3
const armedAt = 20
const askEverySteps = 1000

/** Samples of a capture, a pose or motors that turn. */
export const sampled = (
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
  if (permit.armed || want.kind === 'turn') permit.felt.set(label, handsOf(rig))
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

/** A step ended before it was whole: the take proves nothing, and nothing of it is kept. */
export class TakeEnded extends Error {}
/** The transmitter went off in the middle of a step: it is switched on, and the step begun again. */
export class TransmitterSilent extends TakeEnded {}

/** Throws once what ends a step has come: another board, a board that started anew, the cable out, the wanted state left. */
export const endedBy = (rig: Rig, { streams: names, state }: WantOf<'capture' | 'pose' | 'turn' | 'control'>): (() => void) => {
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
  watching.begin()
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
