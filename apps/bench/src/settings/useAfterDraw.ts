import { useEffect, useState } from 'react'

/** Whether what was drawn first is on the screen: true from the frame after it on. */
export const useAfterDraw = (): boolean => {
  const [drawn, setDrawn] = useState(false)
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined
    const frame = requestAnimationFrame(() => (timer = setTimeout(() => setDrawn(true), 60)))
    return () => {
      cancelAnimationFrame(frame)
      clearTimeout(timer)
    }
  }, [])
  return drawn
}
