import { useState } from 'react'

/**
 * Something half entered, kept on this device under a name until it is done: a screen that is left, or a server that is away,
 * loses nothing of it. What ends later than it began (a photo that is sent) changes it by what it is by then, not by what it was.
 */
export const useDraft = <T extends object>(name: string, initial: T): [T, (next: T | ((now: T) => T)) => void, () => void] => {
  const key = `taraf.draft.${name}`
  const [draft, setDraft] = useState<{ key: string; value: T }>(() => ({ key, value: read(key) ?? initial }))
  if (draft.key !== key) setDraft({ key, value: read(key) ?? initial })
  return [
    draft.value,
    (next) => {
      const value = typeof next === 'function' ? next(read<T>(key) ?? initial) : next
      setDraft({ key, value })
      globalThis.localStorage?.setItem(key, JSON.stringify(value))
    },
    () => {
      setDraft({ key, value: initial })
      globalThis.localStorage?.removeItem(key)
    },
  ]
}

const read = <T>(key: string): T | null => {
  try {
    const kept = globalThis.localStorage?.getItem(key)
    return kept === null || kept === undefined ? null : (JSON.parse(kept) as T)
  } catch {
    return null
  }
}
