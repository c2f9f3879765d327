import type { Run } from '../run'

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
