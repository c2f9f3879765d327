import type { AskBody, AskName, Change, HandAct, RefusalType } from '@taraf/contract'
import type { LinkStep } from '@taraf/core/atLink'
import { actOn, answererOf, stepS, type Rig } from '@taraf/rig'
import type { Meddler } from './person'

/** What a board takes to be back after a restart, and to be linked. */
export const backS = 2
/** A hand waits for what it did to settle. */
export const settleS = 2.5
/** Nothing at a board is waited for any longer. */
export const longestS = 120

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

export const hand = (rig: Rig, act: HandAct): void => {
  const wrong = actOn(rig, act)
  if (wrong !== null) throw new Error(`${act.act}: ${wrong}`)
}

/** Puts in force what is saved, as the server does: what is measured with values that were never saved is not what is handed over. */
export const dropUnsaved = ({ board }: Rig): void => {
  for (const { name, value, saved } of board.settings.list()) if (value !== saved) board.settings.write({ [name]: saved })
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
