import type { HandAct } from '@taraf/contract'
import { View } from '@tamagui/core'
import { useDispatch } from 'react-redux'
import { ScrollView } from 'react-native'
import { Act } from '../parts/Act'
import { ProblemNotice } from '../parts/Notice'
import { Column, Reading, Row, Words } from '../parts/type'
import { problemOf, useActHandsMutation, useHandsQuery, useMeQuery } from '../store/api'
import { useView, viewChanged } from '../store/store'

const acts: readonly { label: string; act: HandAct }[] = [
  { label: 'Lay it, nose away', act: { act: 'lay', way: 'forward' } },
  { label: 'Lay it, nose to you', act: { act: 'lay', way: 'reversed' } },
  { label: 'Hold it, right side down', act: { act: 'tilt', rollDeg: 30, pitchDeg: 0 } },
  { label: 'Hold it, nose up', act: { act: 'tilt', rollDeg: 0, pitchDeg: 30 } },
  { label: 'Knock the bench', act: { act: 'knock' } },
  { label: 'Tighten the board screws', act: { act: 'fasten' } },
]

/** The simulated hands: a stand-in for a person at the bench, never part of the record. */
export const Hands = ({ bench }: { bench: string }) => {
  const { handsOpen } = useView()
  const dispatch = useDispatch()
  const toggle = () => dispatch(viewChanged({ handsOpen: !handsOpen }))
  return (
    <View
      role="complementary"
      aria-label="Simulated hands"
      data-print="no"
      maxHeight="50%"
      backgroundColor="$paper"
      borderWidth={1}
      borderStyle="dashed"
      borderColor="$mark"
      $wide={{ width: handsOpen ? 280 : 104, maxHeight: '100%' }}
    >
      <Act kind="quiet" label={handsOpen ? 'Hide the hands' : 'Simulated hands'} hotkey="h" onPress={toggle} />
      {handsOpen && <HandsPanel bench={bench} />}
    </View>
  )
}

const HandsPanel = ({ bench }: { bench: string }) => {
  const { data: me } = useMeQuery()
  const { data: hands, error } = useHandsQuery(bench, { pollingInterval: 1000 })
  const [act, acting] = useActHandsMutation()
  return (
    <ScrollView contentContainerStyle={{ padding: 12, gap: 8 }}>
      <Words kind="small">Stand-in for a person at the simulated bench. Nothing here is evidence.</Words>
      {hands !== undefined && (
        <Row flexWrap="wrap">
          <Reading size="small">
            {hands.held === 'plate' ? `on the plate, nose ${hands.way === 'forward' ? 'away' : 'to you'}` : 'held in the hand'}
            {hands.moving ? ', moving' : ''}
          </Reading>
        </Row>
      )}
      <Column>
        {acts.map(({ label, act: what }) => (
          <Act key={label} label={label} off={me?.role === 'reader'} onPress={() => void act({ bench, act: what })} />
        ))}
      </Column>
      <ProblemNotice problem={problemOf(acting.error ?? error)} />
    </ScrollView>
  )
}
