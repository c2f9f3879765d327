import { ProblemError } from '../../http/problemError'
import type { Run } from '../run'

const stillWaitMs = 10_000

/** Waits until something is so of a link, looked at whenever it tells of its state. Rejects with the reason when the step is over. */
export const until = ({ link, signal }: Pick<Run, 'link' | 'signal'>, isSo: () => boolean): Promise<void> =>
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

/** Lets time pass. Rejects with the reason when the step is over. */
export const elapsed = (seconds: number, signal: AbortSignal): Promise<void> =>
  new Promise((resolve, reject) => {
    const abort = () => {
      clearTimeout(timer)
      reject(signal.reason as Error)
    }
    const timer = setTimeout(() => {
      signal.removeEventListener('abort', abort)
      resolve()
    }, seconds * 1000)
    signal.addEventListener('abort', abort)
    if (signal.aborted) abort()
  })

/** Waits until every motor stands. Rejects with a problem where they do not come to rest. */
export const untilStill = async (link: Run['link'], signal?: AbortSignal): Promise<void> => {
  const late = AbortSignal.timeout(stillWaitMs)
  const over = signal === undefined ? late : AbortSignal.any([signal, late])
  await until({ link, signal: over }, () => link.state?.motors === 'still').catch((error: unknown) => {
    throw late.aborted ? new ProblemError('bench-busy', 'The motors do not come to rest. Nothing was done.') : error
  })
}
