import { useEffect, useRef } from 'react'

/** What a key does here. Keys typed into a field are left to it. */
export const useKeys = (keys: Readonly<Record<string, () => void>>): void => {
  const now = useRef(keys)
  useEffect(() => {
    now.current = keys
  })
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey) return
      const target = event.target as HTMLElement | null
      if (target !== null && /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName)) return
      const act = now.current[event.key]
      if (act === undefined) return
      event.preventDefault()
      act()
    }
    window.addEventListener('keydown', listen)
    return () => window.removeEventListener('keydown', listen)
  }, [])
}
