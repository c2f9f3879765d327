import { useEffect, useState } from 'react'
import { heatWarnS, sinceWords } from './heat'
import { Reading } from './type'

/** How long the battery has been on with nothing blowing over the airframe; it warns after five minutes. */
export const HeatClock = ({ since, ink }: { since: string; ink: '$ink' | '$onBuoy' }) => {
  const [now, setNow] = useState(() => Date.now())
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 1000)
    return () => clearInterval(timer)
  }, [])
  const seconds = Math.max(0, (now - Date.parse(since)) / 1000)
  const warm = seconds >= heatWarnS
  return (
    <Reading
      size="small"
      color={warm ? '$fail' : ink}
      fontFamily={warm ? 'ReadingsBold' : '$readings'}
      role="timer"
      data-watch="heat"
    >
      {sinceWords(seconds)}
      {warm ? ' warm: let it cool' : ''}
    </Reading>
  )
}
