import { useEffect, useRef } from 'react'
import { ring, type Feed } from './feed'
import { useFrames } from './useFrames'

const kept = 4096

/** How old each sample was when the frame that draws it had been drawn, ms: newest last. Read by the bench. */
export const drawnAges: number[] = []

/**
 * For every new sample, the time from the board's stamp to the start of the frame after the one that drew it. It holds where board and
 * screen share a clock, as on the machine that the bench runs on; what a screen shows is `useDelay`.
 */
export const useDrawnAges = (feed: Feed): void => {
  const frame = useFrames()
  const seen = useRef(ring.count)
  useEffect(() => {
    const [from, to] = [Math.max(seen.current, ring.count - ring.capacity), ring.count]
    seen.current = to
    const { bootedAtMs } = feed
    if (bootedAtMs === null || to === from) return
    const handle = requestAnimationFrame(() => {
      const now = Date.now()
      for (let row = from; row < to; row++) drawnAges.push(now - (bootedAtMs + ring.timeAt(row) * 1000))
      if (drawnAges.length > kept) drawnAges.splice(0, drawnAges.length - kept)
    })
    return () => cancelAnimationFrame(handle)
  }, [feed, frame])
}

Object.assign(globalThis, { tarafDrawnAges: drawnAges })
