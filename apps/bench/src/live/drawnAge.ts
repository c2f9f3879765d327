import { useEffect, useRef, useState } from 'react'
import { ring, type Feed } from './feed'
import { useFrames } from './useFrames'

const kept = 4096

/** How old each sample was when the frame that draws it had been drawn, ms: newest last. Read by the bench. */
export const drawnAges: number[] = []

/**
 * Measures, for every new sample, the time from the board's stamp to the start of the frame after the one that drew it.
 * Returns the age of the newest, ms, renewed twice a second.
 */
export const useDrawnAge = (feed: Feed): number | null => {
  const frame = useFrames()
  const seen = useRef(ring.count)
  const shownAtMs = useRef(0)
  const [age, setAge] = useState<number | null>(null)
  useEffect(() => {
    const [from, to] = [Math.max(seen.current, ring.count - ring.capacity), ring.count]
    seen.current = to
    const { bootedAtMs } = feed
    if (bootedAtMs === null || to === from) return
    const handle = requestAnimationFrame(() => {
      const now = Date.now()
      for (let row = from; row < to; row++) drawnAges.push(now - (bootedAtMs + ring.timeAt(row) * 1000))
      if (drawnAges.length > kept) drawnAges.splice(0, drawnAges.length - kept)
      if (now - shownAtMs.current < 500) return
      shownAtMs.current = now
      setAge(drawnAges.at(-1) ?? null)
    })
    return () => cancelAnimationFrame(handle)
  }, [feed, frame])
  return age
}

Object.assign(globalThis, { tarafDrawnAges: drawnAges })
