import type { Clock } from '@taraf/takes'

/** The machine's own time. */
export const machineClock: Clock = {
  nowMs: () => performance.now(),
  date: () => new Date(),
  after: (ms, call) => {
    const timer = setTimeout(call, ms)
    return () => clearTimeout(timer)
  },
  // After a pause of this process, what came in meanwhile is read first.
  every: (ms, call) => {
    let isOver = false
    const timer = setInterval(() => setImmediate(() => isOver || call()), ms)
    return () => {
      isOver = true
      clearInterval(timer)
    }
  },
}
