import type { BoardIdentity, BoardSetting, Settings } from '@taraf/contract'
import { isSameImage } from './standing'
import { valuesOf } from './board/settingsAct'
import type { Written } from './take'
import type { Taken } from './runTake'
import { refusal } from './check'

/** What a board says of itself: who it is, what it runs, what it is set to. */
export interface BoardAsSeen {
  readonly identity: BoardIdentity | null
  readonly settings: readonly BoardSetting[]
}

/**
 * What changed on a board from the start of a take to its end without the take: another board, another image, settings saved or put in
 * force by somebody else. Null where nothing did. `writes` are the take's own, in their order: what differs from one to the next is not.
 */
export const changedMeanwhile = (
  before: BoardAsSeen,
  after: BoardAsSeen,
  writes: readonly Pick<Written, 'before' | 'after'>[],
): string | null => {
  const [was, is] = [before.identity, after.identity]
  if (was !== null && is !== null) {
    if (was.board !== is.board) return `another board is there: ${is.board}, where it was ${was.board}`
    if (is.firmware === null || is.loader) return was.firmware === null || was.loader ? null : 'the board went into its loader'
    if (was.firmware !== null && !isSameImage(was.firmware, is.firmware)) return 'the board runs another image'
  }
  const other = new Set<string>()
  let kept: Settings = valuesOf(before.settings)
  const differing = (now: Settings) => Object.keys(now).filter((name) => name in kept && now[name] !== kept[name])
  for (const write of [...writes, { before: valuesOf(after.settings), after: {} }]) {
    for (const name of differing(write.before)) other.add(name)
    kept = write.after
  }
  // A value in force that is not saved goes with the next start: what was measured with it is not what is handed over.
  for (const { name, value, saved } of after.settings) if (value !== saved) other.add(name)
  return other.size === 0 ? null : `somebody else set ${[...other].join(', ')}`
}

/** A take during which something was changed without it proves nothing, whatever it found. */
export const unlessChanged = (taken: Taken, changed: string | null): Taken =>
  changed === null
    ? taken
    : {
        ...taken,
        verdict: 'refused',
        findings: refusal(
          `${changed} while it was taken`,
          'Make sure nothing else is connected to the board, look at its settings, and run it again.',
        ),
      }
