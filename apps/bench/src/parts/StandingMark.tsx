import type { Overall, StandingState } from '@taraf/contract'
import Svg, { Circle, Line, Path, Rect } from 'react-native-svg'
import { useColours } from '../look/useColours'
import { Row, Words } from './type'

type Mark = StandingState | 'refused'

const words: Record<Mark, string> = {
  open: 'open',
  pass: 'pass',
  fail: 'fail',
  stale: 'stale',
  aside: 'set aside',
  absent: 'not on the sheet',
  refused: 'refused',
}

export const standingWord = (state: Mark): string => words[state]

/** The shape of a standing: a shape and a word, so that no meaning is by colour alone. */
export const StandingShape = ({ state, size = 20 }: { state: Mark; size?: number }) => {
  const c = useColours()
  const pen = { strokeWidth: 2, fill: 'none' }
  return (
    <Svg width={size} height={size} viewBox="0 0 20 20" style={{ flexShrink: 0 }} aria-hidden>
      {state === 'open' && <Circle cx={10} cy={10} r={7} stroke={c.mark} {...pen} />}
      {state === 'pass' && <Path d="M10 10 L17.5 10 A7.5 7.5 0 1 0 10 17.5 Z" fill={c.pass} />}
      {state === 'fail' && (
        <>
          <Rect x={3} y={3} width={14} height={14} stroke={c.fail} {...pen} />
          <Line x1={3} y1={17} x2={17} y2={3} stroke={c.fail} strokeWidth={2} />
        </>
      )}
      {state === 'stale' && (
        <>
          <Circle cx={10} cy={10} r={7} stroke={c.faint} strokeWidth={1.5} fill="none" />
          <Path d="M4.5 12.5 L12.5 4.5 M5.5 16 L16 5.5 M9.5 16.5 L16.5 9.5" stroke={c.faint} strokeWidth={1.5} />
        </>
      )}
      {state === 'aside' && <Path d="M10 2 L18 10 L10 18 L2 10 Z" stroke={c.aside} {...pen} />}
      {state === 'absent' && <Line x1={3} y1={10} x2={17} y2={10} stroke={c.faint} strokeWidth={2} />}
      {state === 'refused' && <Path d="M17 8 L17 17 L3 17 L3 3 L12 3" stroke={c.faint} {...pen} />}
    </Svg>
  )
}

const inkOf: Record<Mark, '$ink' | '$faint' | '$pass' | '$fail' | '$aside'> = {
  open: '$ink',
  pass: '$pass',
  fail: '$fail',
  stale: '$faint',
  aside: '$aside',
  absent: '$faint',
  refused: '$faint',
}

export const StandingMark = ({ state }: { state: Mark }) => (
  <Row gap="$1">
    <StandingShape state={state} />
    <Words kind="strong" color={inkOf[state]}>
      {words[state]}
    </Words>
  </Row>
)

const overallWords: Record<Overall, { state: Mark; word: string }> = {
  none: { state: 'absent', word: 'no job card yet' },
  open: { state: 'open', word: 'on the way' },
  fail: { state: 'fail', word: 'has a fail' },
  stale: { state: 'stale', word: 'has gone stale' },
  ready: { state: 'pass', word: 'ready to hand over' },
  passed: { state: 'pass', word: 'handed over' },
  failed: { state: 'fail', word: 'held back' },
}
export const overallWord = (overall: Overall): string => overallWords[overall].word

export const OverallShape = ({ overall, size }: { overall: Overall; size?: number }) => (
  <StandingShape state={overallWords[overall].state} {...(size === undefined ? {} : { size })} />
)

/** How a whole airframe stands. */
export const OverallMark = ({ overall }: { overall: Overall }) => {
  const { state, word } = overallWords[overall]
  return (
    <Row gap="$1">
      <StandingShape state={state} />
      <Words kind="strong" color={inkOf[state]}>
        {word}
      </Words>
    </Row>
  )
}
