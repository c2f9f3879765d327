import type { BoardSetting } from '@taraf/contract'
import { valuesOf } from '@taraf/core/atLink'
import type { BoardLink } from './boardLink'

/**
 * Puts in force what is saved, where the motors stand. A link that is lost in the middle of a write, or another program, leaves values in
 * force that were never saved: what is measured with them is not what is handed over.
 */
export const dropUnsaved = async (link: BoardLink, settings: readonly BoardSetting[]): Promise<void> => {
  const unsaved = unsavedIn(settings)
  if (unsaved.length > 0 && link.state?.motors === 'still') await link.ask({ ask: 'settings.write', values: valuesOf(unsaved) })
}

export const unsavedIn = (settings: readonly BoardSetting[]): BoardSetting[] =>
  settings.filter(({ value, saved }) => value !== saved)
