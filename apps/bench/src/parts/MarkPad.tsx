import type { Geometry, Side } from '@taraf/contract'
import { Act } from './Act'
import { Plan } from './Plan'
import { Column, Row, Words } from './type'

interface MarkPadProps {
  readonly geometry: Geometry
  readonly marked: boolean
  readonly off: boolean
  readonly onMark: (up: Side) => void
}

/** The plan with its four sides to tap: which one points up at the tilt that is held. */
export const MarkPad = ({ geometry, marked, off, onMark }: MarkPadProps) => {
  const act = (up: Side, label: string) => <Act label={label} named={`${label} points up`} off={off} onPress={() => onMark(up)} />
  return (
    <Column alignItems="center" gap="$2" role="group" aria-label="Which side points up">
      <Words kind="strong">{marked ? 'Marked. Tap again to change it.' : 'Tap the side that points up.'}</Words>
      {act('front', 'Nose')}
      <Row alignItems="center" gap="$2">
        {act('left', 'Left')}
        <Plan geometry={geometry} size={132} />
        {act('right', 'Right')}
      </Row>
      {act('rear', 'Tail')}
    </Column>
  )
}
