import { useSyncExternalStore } from 'react'
import { ring } from './feed'

/** Ticks once for each animation frame in which new samples came, so that views draw in that same frame. */
class Frames {
  private readonly listeners = new Set<() => void>()
  private handle: number | null = null
  private seen = 0
  frame = 0

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener)
    this.handle ??= requestAnimationFrame(this.tick)
    return () => {
      this.listeners.delete(listener)
      if (this.listeners.size > 0 || this.handle === null) return
      cancelAnimationFrame(this.handle)
      this.handle = null
    }
  }

  private tick = (): void => {
    this.handle = requestAnimationFrame(this.tick)
    if (ring.count === this.seen) return
    this.seen = ring.count
    this.frame += 1
    for (const listener of this.listeners) listener()
  }
}

const frames = new Frames()

/** Draws the caller again in every animation frame that has new samples. Returns the number of that frame. */
export const useFrames = (): number => useSyncExternalStore(frames.subscribe, () => frames.frame)
