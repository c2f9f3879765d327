import { useEffect, useState } from 'react'

/** Whether what was drawn when `there` came true is on the screen: true from the frame after it on. */
export const useAfterDraw = (there: boolean): boolean => {
  const [drawn, setDrawn] = useState(false)
  useEffect(() => {
    if (!there) return
    let timer: ReturnType<typeof setTimeout> | undefined
    const frame = requestAnimationFrame(() => (timer = setTimeout(() => setDrawn(true), 60)))
    return () => {
      cancelAnimationFrame(frame)
      clearTimeout(timer)
    }
  }, [there])
  return drawn
}
