import { entryOf, type SheetPart } from '@taraf/contract'
import type { Check } from '../check'
import { bySwitch, switchTried } from './bySwitch'
import { aloneTried, finalForm } from './finalForm'
import { heldTried, levels } from './levels'
import type { Tried } from './losing'
import { lossesOf } from './losses'
import { cutTried, motorCut } from './motorCut'
import { response } from './response'
import { homeTried, returnHome } from './returnHome'
import { waits, waitsTried } from './waits'

/** Station 10, in its order. */
export const failsafe: readonly Check[] = [response, levels, waits, bySwitch, returnHome, motorCut, finalForm]

const tried: Readonly<Record<string, (sheet: SheetPart) => readonly Tried[]>> = {
  [response.id]: (sheet) => lossesOf(sheet).map(({ id, proves }) => ({ label: id, words: proves })),
  [levels.id]: heldTried,
  [waits.id]: waitsTried,
  [bySwitch.id]: switchTried,
  [returnHome.id]: homeTried,
  [motorCut.id]: cutTried,
  [finalForm.id]: aloneTried,
}
/** What a check of this station tries, in its order. */
export const triesOf = (check: string, sheet: SheetPart): readonly Tried[] => entryOf(tried, check)?.(sheet) ?? []
