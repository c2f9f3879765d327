import type { Evidence, Remedy } from '@taraf/contract'
import { wantedVersion } from './board/firmware'
import { byHand } from './check'

/** A write, unless all of it is so already: then it is not what the board goes by. */
export const setting = ({ board }: Evidence, act: string, settings: Readonly<Record<string, number>>): Remedy =>
  Object.entries(settings).every(([name, value]) => board.settings?.[name] === value)
    ? byHand('The board is set right and does otherwise: write its firmware again, and do not fly it.')
    : { by: 'settings', act, settings: { ...settings } }

/** For a board that does differently from it is set to: its image once more, as a copy can be bad; then another board. */
export const imageAgain = ({ sheet }: Pick<Evidence, 'sheet'>, seen: string): Remedy => {
  const act = `Battery out, and no props on it. ${seen} Nothing is set so: write its image again. Where that does not help, replace the board.`
  const wanted = sheet.board?.firmware
  return wanted === undefined ? byHand(act) : { by: 'image', act, image: wantedVersion(wanted) }
}

/** The number of a choice, by what it is called; what it is at from memory where the board does not say. */
export const choiceOf = ({ board }: Evidence, name: string, choice: string, usual: number): number => {
  const at = board.choices?.[name]?.indexOf(choice) ?? -1
  return at < 0 ? usual : at
}

export const again = 'Run it again, and do each step as it is asked.'
