import type { HandsState, RefusalType, WantOf } from '@taraf/contract'
import type { armedUnder } from '@taraf/core'
import { commandAt } from '@taraf/core/watches'
import { stepS, type Rig } from '@taraf/rig'
import { BoardRefused, longestS } from './atBoard'

/** Steps between two renewals of a spin permit. */
const keepEvery = 10

export interface KeptPermit {
  held: { readonly token: string; readonly powerId: string } | null
  /** Whether the board may be armed by its transmitter. */
  armed: boolean
  readonly felt: Map<string, HandsState>
}

/** Turns outputs under the permit that is kept, or a new one; what it returns renews it. Outputs of the step before come to rest first. */
export const keeping = (rig: Rig, permit: KeptPermit, { outputs, riseS }: WantOf<'turn'>): (() => void) => {
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
export const mayArm = (rig: Rig, permit: KeptPermit, kind: ReturnType<typeof armedUnder>): void => {
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
export const letGo = (rig: Rig, permit: KeptPermit): void => {
  if (permit.held === null) return
  permit.held = null
  rig.board.stop('let go')
  untilStill(rig)
}

export const untilStill = (rig: Rig): void => {
  for (let i = 0; rig.turning && i < longestS / stepS; i++) rig.step('body')
}
