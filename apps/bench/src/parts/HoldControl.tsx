import { nanoid } from '@reduxjs/toolkit'
import { useEffect, useRef, useState } from 'react'
import { View } from 'react-native'
import Svg, { Circle } from 'react-native-svg'
import { useColours } from '../look/useColours'
import { Column, Row, Words } from './type'

const beatMs = 50
const size = 88
const radius = 36
const round = 2 * Math.PI * radius

interface HoldControlProps {
  readonly label: string
  readonly says: string
  /** Told at every beat while it is held, with the number of the press: another one each time. */
  readonly onBeat?: (press: string) => void
  /** Told once, when it was held for so long. */
  readonly seconds?: number
  readonly onDone?: () => void
  /** How full it is drawn, 0 to 1, where that is not how long it was held. */
  readonly fill?: number
  /** Something turns while it is held. */
  readonly danger?: boolean
  readonly off?: boolean
}

/**
 * A dangerous act: a round control that fills while it is held down, by a finger, a pointer or the Enter key, and ends when it
 * is let go, when the page loses the focus or is hidden.
 */
export const HoldControl = (props: HoldControlProps) => {
  const { label, says, seconds, fill, danger = false, off = false } = props
  const c = useColours()
  const [held, setHeld] = useState(0)
  const now = useRef(props)
  const beating = useRef<ReturnType<typeof setInterval> | null>(null)
  useEffect(() => {
    now.current = props
  })
  const end = () => {
    if (beating.current !== null) clearInterval(beating.current)
    beating.current = null
    setHeld(0)
  }
  const begin = () => {
    if (beating.current !== null || now.current.off === true) return
    const [press, from] = [nanoid(), Date.now()]
    const beat = () => {
      const { onBeat, onDone, seconds: wanted } = now.current
      onBeat?.(press)
      const share = wanted === undefined ? 1 : (Date.now() - from) / 1000 / wanted
      setHeld(Math.min(1, Math.max(0.01, share)))
      if (wanted === undefined || share < 1) return
      end()
      onDone?.()
    }
    beating.current = setInterval(beat, beatMs)
    beat()
  }
  useEffect(() => {
    const hidden = () => document.hidden && end()
    window.addEventListener('blur', end)
    document.addEventListener('visibilitychange', hidden)
    return () => {
      window.removeEventListener('blur', end)
      document.removeEventListener('visibilitychange', hidden)
      if (beating.current !== null) clearInterval(beating.current)
    }
  }, [])
  const share = seconds === undefined ? (held > 0 ? (fill ?? 1) : 0) : held
  const ink = danger ? c.buoy : c.tide
  return (
    <Row gap="$3" alignItems="center" flexGrow={1} flexShrink={1} minWidth={0}>
      <View
        role="button"
        aria-label={label}
        aria-disabled={off}
        aria-pressed={held > 0}
        tabIndex={0}
        onStartShouldSetResponder={() => true}
        onResponderTerminationRequest={() => false}
        onResponderGrant={begin}
        onResponderRelease={end}
        onResponderTerminate={end}
        style={
          {
            width: size,
            height: size,
            opacity: off ? 0.45 : 1,
            touchAction: 'none',
            userSelect: 'none',
            cursor: 'pointer',
          } as never
        }
        {...({
          onKeyDown: (event: { key: string; preventDefault: () => void }) => {
            if (event.key !== 'Enter') return
            event.preventDefault()
            begin()
          },
          onKeyUp: (event: { key: string }) => event.key === 'Enter' && end(),
          onBlur: end,
          onContextMenu: (event: { preventDefault: () => void }) => event.preventDefault(),
        } as object)}
      >
        <Svg width={size} height={size} pointerEvents="none">
          <Circle cx={size / 2} cy={size / 2} r={radius} fill="none" stroke={c.mark} strokeWidth={2} />
          {held > 0 && danger && <Circle cx={size / 2} cy={size / 2} r={radius - 9} fill={ink} />}
          <Circle
            cx={size / 2}
            cy={size / 2}
            r={radius}
            fill="none"
            stroke={ink}
            strokeWidth={8}
            strokeDasharray={[round * share, round]}
            transform={`rotate(-90 ${size / 2} ${size / 2})`}
          />
          <Circle cx={size / 2} cy={size / 2} r={10} fill={held > 0 && danger ? c.onBuoy : ink} />
        </Svg>
      </View>
      <Column gap="$0" flex={1}>
        <Words kind="strong">{label}</Words>
        <Words kind="small">{says}</Words>
      </Column>
    </Row>
  )
}
