import { useEffect, useRef, useState } from 'react'
import { ring, type Feed } from './feed'
import { useFrames } from './useFrames'

/**
 * How old what is drawn is, ms: the way from the board measured as half of there and back, and on this page from the arrival of the newest
 * samples to the frame after they were drawn. One clock measures each, so that no two machines have to agree on the time. Renewed
 * twice a second; null before anything was measured.
 */
export const useDelay = (feed: Feed): number | null => {
  const frame = useFrames()
  const seen = useRef(ring.count)
  const shownAtMs = useRef(0)
  const [delay, setDelay] = useState<number | null>(null)
  useEffect(() => {
    if (ring.count === seen.current) return
    seen.current = ring.count
    const handle = requestAnimationFrame(() => {
      const now = performance.now()
      if (now - shownAtMs.current < 500 || feed.wayMs === null) return
      shownAtMs.current = now
      setDelay(now - feed.arrivedAtMs + feed.wayMs)
    })
    return () => cancelAnimationFrame(handle)
  }, [feed, frame])
  return delay
}
