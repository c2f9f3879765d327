/** Keeps a call that is due from being made. */
export type Cancel = () => void

/** Time as a port: all code that reads the time, or waits, goes by it. One is the machine's, another jumps to what is due next. */
export interface Clock {
  /** Milliseconds since some moment. They never go back, even if somebody sets the machine's date. */
  nowMs(): number
  /** The date and time that a record names. */
  date(): Date
  /** Calls once, so many milliseconds from now. */
  after(ms: number, call: () => void): Cancel
  /** Calls every so many milliseconds; what came in by then has been read before each call. */
  every(ms: number, call: () => void): Cancel
}

/** Lets time pass. Rejects with the signal's reason when that aborts first. */
export const elapsed = (clock: Clock, seconds: number, signal?: AbortSignal): Promise<void> =>
  new Promise((resolve, reject) => {
    const abort = () => {
      cancel()
      reject(signal?.reason as Error)
    }
    const cancel = clock.after(seconds * 1000, () => {
      signal?.removeEventListener('abort', abort)
      resolve()
    })
    signal?.addEventListener('abort', abort)
    if (signal?.aborted === true) abort()
  })

/** A signal that aborts after so many milliseconds, and what keeps it from doing so. */
export const timeLimit = (clock: Clock, ms: number): { readonly signal: AbortSignal; readonly end: Cancel } => {
  const over = new AbortController()
  return { signal: over.signal, end: clock.after(ms, () => over.abort(new Error(`not within ${ms / 1000} s`))) }
}
