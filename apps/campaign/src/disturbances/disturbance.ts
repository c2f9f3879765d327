import type { Want } from '@taraf/contract'
import type { Handled, Meddler } from '@taraf/demo'
import { stepS, type Random, type Rig } from '@taraf/rig'

/** One thing that goes wrong while a take runs. Every station adds its own. */
export interface Disturbance {
  readonly id: string
  /** Where it can happen: in a want of a take, or as something is written. */
  readonly at: (want: Want) => boolean
  /** Makes it happen once: in that want, from that row of its samples on. */
  readonly meddle: (target: Target) => Meddler
}
export interface Target {
  readonly want: Want
  readonly row: number
  readonly random: Random
}

export type Sampled = Extract<Want, { streams: unknown }>
export const isSampled = (want: Want): want is Sampled => 'streams' in want
/** What comes from the board, and not from the meter of the bench. */
export const fromBoard = (want: Want): boolean => isSampled(want) && want.streams.some((name) => name !== 'meter')
export const hasStream =
  (...names: Sampled['streams'][number][]) =>
  (want: Want): boolean =>
    isSampled(want) && names.some((name) => want.streams.includes(name))
export const isPose = (want: Want): boolean => want.kind === 'pose'
export const isStill = (want: Want): boolean => isSampled(want) && want.kind !== 'turn' && want.still !== undefined

export const isIt = (want: Want, target: Target): boolean => want.label === target.want.label && want.kind === target.want.kind
export const after = (seconds: number): number => Math.round(seconds / stepS)

/** Something done to the rig at the row, and perhaps undone so many seconds later. */
export const acting =
  (seconds: number, begin: (rig: Rig, target: Target) => void, end: (rig: Rig, target: Target) => void = () => {}) =>
  (target: Target): Meddler => ({
    row: (rig, want, row, happened) => {
      if (!isIt(want, target)) return 'keep'
      if (row === target.row) {
        begin(rig, target)
        happened?.()
      }
      if (row === target.row + after(seconds)) end(rig, target)
      return 'keep'
    },
  })

/** The same, undone at the latest when the take is over. */
export const passing =
  (seconds: number, begin: (rig: Rig, target: Target) => void, end: (rig: Rig, target: Target) => void) =>
  (target: Target): Meddler => {
    let [isOn, done] = [false, false]
    return {
      ...acting(
        seconds,
        (rig) => {
          if (done) return
          done = true
          isOn = true
          begin(rig, target)
        },
        (rig) => {
          if (isOn) end(rig, target)
          isOn = false
        },
      )(target),
      after: (rig) => {
        if (isOn) end(rig, target)
        isOn = false
      },
    }
  }

/** What becomes of the rows from the one on, for so long. */
export const fate =
  (what: 'lose' | 'repeat', least: number, most: number) =>
  (target: Target): Meddler => {
    const last = target.row + after(target.random.between(least, most))
    return {
      row: (_rig, want, row, happened) => {
        if (!isIt(want, target) || row < target.row || row >= last) return 'keep'
        happened?.()
        return what
      },
    }
  }

/** At the row of a sampled want, or before a board is asked for its reports. */
export const atBoard =
  (act: (rig: Rig, target: Target) => void) =>
  (target: Target): Meddler => ({
    ...acting(0, act)(target),
    reports: (rig, want, happened) => {
      if (!isIt(want, target)) return
      act(rig, target)
      happened?.()
    },
  })

export const heldAs =
  (how: (handled: Handled, target: Target) => Handled) =>
  (target: Target): Meddler => ({ handled: (want, handled) => (isIt(want, target) ? how(handled, target) : handled) })

export const hold = (rig: Rig, turn: { roll?: number; pitch?: number; yaw?: number }): void => {
  const { roll, pitch, yaw } = rig.motion.pose.angles
  rig.motion.pose.hold({ roll: roll + (turn.roll ?? 0), pitch: pitch + (turn.pitch ?? 0), yaw: yaw + (turn.yaw ?? 0) })
}
export const deg = Math.PI / 180
