import type { Geometry } from '@taraf/contract'
import type { PlannedProp } from '@taraf/core/motors'
import { View } from '@tamagui/core'
import { Plan } from '../../parts/Plan'
import { planAt } from '../../parts/planAt'
import { Column, Reading, Row, Words } from '../../parts/type'

const arrows = { clockwise: '↻', anticlockwise: '↺' } as const
const hands = ['clockwise', 'anticlockwise'] as const
/** How large a mark at the end of a boom is. */
const [wide, high] = [76, 24]

/** Which prop goes where: drawn on the plan, listed, and counted per hand. */
export const PropFigure = ({
  geometry,
  plan,
  size = 300,
}: {
  geometry: Geometry
  plan: readonly PlannedProp[]
  size?: number
}) => {
  const { end } = planAt(geometry, size)
  return (
    <Column gap="$3">
      <View width={size} height={size} position="relative" alignSelf="center">
        <Plan geometry={geometry} size={size} note="Plan of the airframe with the prop of each position" />
        {geometry.booms.map((boom) => {
          const { x, y } = end(boom)
          const here = plan.filter((one) => one.boom === boom.name)
          return (
            <View
              key={boom.name}
              position="absolute"
              width={wide}
              alignItems="center"
              left={Math.min(size - wide, Math.max(0, x - wide / 2))}
              top={y - (high * here.length) / 2}
            >
              {here.map(({ position, mark, turn }) => (
                <Reading key={position} backgroundColor="$sheet" paddingHorizontal="$1" lineHeight={high}>
                  {arrows[turn]} {mark}
                </Reading>
              ))}
            </View>
          )
        })}
      </View>
      <Column gap="$0">
        {plan.map(({ position, mark, turn, sits }) => (
          <Row key={position} justifyContent="space-between" borderBottomWidth={1} borderColor="$line" paddingVertical="$1">
            <Words>{position}</Words>
            <Reading>
              {arrows[turn]} {mark}, {turn}, {sits}
            </Reading>
          </Row>
        ))}
      </Column>
      <Row gap="$4" flexWrap="wrap">
        {hands.map((turn) => {
          const these = plan.filter((one) => one.turn === turn)
          return (
            <Words key={turn} kind="strong">
              {these.length} {turn}
              {these[0] === undefined ? '' : `, marked ${these[0].mark}`}
            </Words>
          )
        })}
      </Row>
    </Column>
  )
}
