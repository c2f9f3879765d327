import type { AskBody, AskName, RefusalType } from '@taraf/contract'
import { answererOf, stepS, type Rig } from '@taraf/rig'

/** No calibration takes any longer, s. */
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

/** Answers asks of a rig's board at once and with no clock but its own; one that answers later is waited for. */
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
