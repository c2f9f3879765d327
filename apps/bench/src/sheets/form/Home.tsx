import type { Sheet } from '@taraf/contract'
import { Act } from '../../parts/Act'
import { Field } from '../../parts/Field'
import { NumberField } from '../../parts/NumberField'
import { Paper, Row, Words } from '../../parts/type'
import type { PartProps } from './partProps'

type Home = NonNullable<Sheet['home']>

/** What coming home by itself is held against, of a type that has it on a switch. */
export const HomeForm = ({ sheet, set }: PartProps) => {
  const { home, switchPlan = [] } = sheet
  if (!switchPlan.some((row) => row.function === 'returnHome')) return null
  if (home === undefined)
    return (
      <Paper>
        <Words kind="heading">Return home</Words>
        <Words kind="small">
          Without this nobody judges the height at which it comes home, and an open item blocks the handover.
        </Words>
        <Row>
          <Act label="Say what stands in its way" onPress={() => set({ home: { obstaclesM: 20, below: 'open ground' } })} />
        </Row>
      </Paper>
    )
  const change = (news: Partial<Home>) => set({ home: { ...home, ...news } })
  return (
    <Paper>
      <Words kind="heading">Return home</Words>
      <NumberField
        label="Tallest of what stands in its way, m"
        place="home.obstaclesM"
        value={home.obstaclesM}
        onChange={(obstaclesM) => obstaclesM !== undefined && change({ obstaclesM })}
      />
      <NumberField
        label="No higher than, m (120 where it is not said)"
        place="home.mostHeightM"
        value={home.mostHeightM}
        onChange={(mostHeightM) => change({ mostHeightM })}
      />
      <NumberField
        label="No further from home than, m"
        place="home.mostDistanceM"
        value={home.mostDistanceM}
        onChange={(mostDistanceM) => change({ mostDistanceM })}
      />
      <Field label="What is below" place="home.below" value={home.below} onChange={(below) => change({ below })} />
    </Paper>
  )
}
