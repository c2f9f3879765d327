import { useSyncExternalStore } from 'react'

let printing = false
const subscribe = (told: () => void): (() => void) => {
  const set = (now: boolean) => () => {
    printing = now
    told()
  }
  const [begin, end] = [set(true), set(false)]
  globalThis.addEventListener?.('beforeprint', begin)
  globalThis.addEventListener?.('afterprint', end)
  return () => {
    globalThis.removeEventListener?.('beforeprint', begin)
    globalThis.removeEventListener?.('afterprint', end)
  }
}

/** Whether the page is being printed: paper is light, whatever the screen is. */
export const usePrinting = (): boolean => useSyncExternalStore(subscribe, () => printing)
