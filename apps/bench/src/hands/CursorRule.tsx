import { useState } from 'react'
import { View, type GestureResponderEvent } from 'react-native'
import Svg, { Line, Path, Rect } from 'react-native-svg'
import { useColours } from '../look/useColours'
import { Column, Reading, Words } from '../parts/type'

interface CursorRuleProps {
  readonly label: string
  /** From -1 to 1. */
  readonly value: number
  readonly onMove: (value: number) => void
  readonly upright?: boolean
  /** Goes back to its middle when it is let go. */
  readonly centres?: boolean
  readonly off?: boolean
  readonly shown?: (value: number) => string
}

const long = 120
const thick = 48
const end = 14
const keyStep = 0.1

/** A rule with a cursor that a finger, a pointer or the arrow keys move. */
export const CursorRule = ({ label, value, onMove, upright = false, centres = false, off = false, shown }: CursorRuleProps) => {
  const c = useColours()
  const [held, setHeld] = useState<number | null>(null)
  const at = held ?? value
  const move = (to: number) => {
    const clipped = Math.max(-1, Math.min(1, to))
    setHeld(clipped)
    onMove(clipped)
  }
  const letGo = () => {
    setHeld(null)
    if (centres) onMove(0)
  }
  const along = ({ nativeEvent }: GestureResponderEvent) => {
    const share = ((upright ? nativeEvent.locationY : nativeEvent.locationX) - end) / (long - 2 * end)
    if (!off) move(upright ? 1 - 2 * share : 2 * share - 1)
  }
  const keys: Record<string, number> = {
    ArrowUp: at + keyStep,
    ArrowRight: at + keyStep,
    ArrowDown: at - keyStep,
    ArrowLeft: at - keyStep,
    Home: -1,
    End: 1,
    0: 0,
  }
  const [w, h] = upright ? [thick, long] : [long, thick]
  const place = end + ((at + 1) / 2) * (long - 2 * end)
  return (
    <Column gap={0} alignItems="center">
      <View
        onStartShouldSetResponder={() => true}
        onMoveShouldSetResponder={() => true}
        onResponderTerminationRequest={() => false}
        onResponderGrant={along}
        onResponderMove={along}
        onResponderRelease={letGo}
        onResponderTerminate={letGo}
        role="slider"
        aria-label={label}
        aria-valuemin={-100}
        aria-valuemax={100}
        aria-valuenow={Math.round(at * 100)}
        aria-orientation={upright ? 'vertical' : 'horizontal'}
        aria-disabled={off}
        tabIndex={0}
        style={{ width: w, height: h, opacity: off ? 0.45 : 1, touchAction: 'none' } as never}
        {...({
          onKeyDown: (event: { key: string; preventDefault: () => void; stopPropagation: () => void }) => {
            const to = keys[event.key]
            if (to === undefined || off) return
            event.preventDefault()
            event.stopPropagation()
            move(to)
          },
          onKeyUp: (event: { key: string }) => void (keys[event.key] !== undefined && setHeld(null)),
        } as object)}
      >
        <Svg width={w} height={h} pointerEvents="none">
          {upright ? (
            <>
              <Line x1={thick / 2} y1={end} x2={thick / 2} y2={long - end} stroke={c.mark} strokeWidth={2} />
              <Line x1={thick / 2 - 8} y1={long / 2} x2={thick / 2 + 8} y2={long / 2} stroke={c.mark} strokeWidth={1} />
              <Path d={`M${thick / 2 + 3} ${long - place} l14 -7 v14 Z`} fill={c.ink} />
              <Rect x={thick / 2 - 3} y={long - place - 2} width={6} height={4} fill={c.ink} />
            </>
          ) : (
            <>
              <Line x1={end} y1={thick / 2} x2={long - end} y2={thick / 2} stroke={c.mark} strokeWidth={2} />
              <Line x1={long / 2} y1={thick / 2 - 8} x2={long / 2} y2={thick / 2 + 8} stroke={c.mark} strokeWidth={1} />
              <Path d={`M${place} ${thick / 2 + 3} l-7 14 h14 Z`} fill={c.ink} />
              <Rect x={place - 2} y={thick / 2 - 3} width={4} height={6} fill={c.ink} />
            </>
          )}
        </Svg>
      </View>
      <Words kind="small">{label}</Words>
      {shown !== undefined && <Reading size="small">{shown(at)}</Reading>}
    </Column>
  )
}
