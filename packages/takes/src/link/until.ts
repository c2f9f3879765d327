import { ProblemError } from '@taraf/contract'
import { timeLimit, type Clock } from '../clock'
import type { BoardLink } from './boardLink'

const stillWaitMs = 10_000

/** Waits until something is so of a link, looked at whenever it tells of its state. Rejects with the reason when the signal aborts. */
export const until = (link: BoardLink, signal: AbortSignal, isSo: () => boolean): Promise<void> =>
  new Promise((resolve, reject) => {
    const look = () => {
      if (link.phase === 'up' && isSo()) end(resolve)
    }
    const abort = () => end(() => reject(signal.reason as Error))
    const end = (settle: () => void) => {
      link.off('phase', look)
      signal.removeEventListener('abort', abort)
      settle()
    }
    link.on('phase', look)
    signal.addEventListener('abort', abort)
    if (signal.aborted) abort()
    else look()
  })

/** The same, for so many milliseconds at the most; says whether it came to be so. */
export const untilWithin = async (clock: Clock, link: BoardLink, ms: number, isSo: () => boolean): Promise<boolean> => {
  const limit = timeLimit(clock, ms)
  try {
    await until(link, limit.signal, isSo)
    return true
  } catch {
    return false
  } finally {
    limit.end()
  }
}

/** Waits until every motor stands. Rejects with a problem where they do not come to rest. */
export const untilStill = async (clock: Clock, link: BoardLink, signal?: AbortSignal): Promise<void> => {
  const limit = timeLimit(clock, stillWaitMs)
  const over = signal === undefined ? limit.signal : AbortSignal.any([signal, limit.signal])
  try {
    await until(link, over, () => link.state?.motors === 'still')
  } catch (error) {
    throw limit.signal.aborted ? new ProblemError('bench-busy', 'The motors do not come to rest. Nothing was done.') : error
  } finally {
    limit.end()
  }
}
