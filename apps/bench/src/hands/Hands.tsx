import { View } from '@tamagui/core'
import { ScrollView } from 'react-native'
import { useDispatch } from 'react-redux'
import { Act } from '../parts/Act'
import { ProblemNotice } from '../parts/Notice'
import { Row, Words } from '../parts/type'
import { problemOf } from '../store/api'
import { useHandsQuery } from '../store/benches'
import { useView, viewChanged, type HandsSection } from '../store/store'
import { FrameHands } from './FrameHands'
import { PartsHands } from './PartsHands'
import { PowerHands } from './PowerHands'
import { Seen } from './Seen'
import { TransmitterHands } from './TransmitterHands'
import { useHands } from './useHands'

const sections: readonly HandsSection[] = ['Hold', 'Power', 'Radio', 'Parts', 'Look']

/** The simulated hands: a stand-in for a person at the bench, never part of the record. A sheet on the phone, a panel beside. */
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
      $wide={{ width: handsOpen ? 336 : 104, maxHeight: '100%' }}
    >
      {handsOpen ? (
        <HandsPanel bench={bench} onHide={toggle} />
      ) : (
        <Act kind="quiet" label="Simulated hands" hotkey="h" onPress={toggle} />
      )}
    </View>
  )
}

const HandsPanel = ({ bench, onHide }: { bench: string; onHide: () => void }) => {
  const { data: hands, error } = useHandsQuery(bench, { pollingInterval: 1000 })
  const { problem, ...acts } = useHands(bench)
  const { handsSection: section } = useView()
  const dispatch = useDispatch()
  return (
    <>
      <Row gap={0} flexWrap="wrap" justifyContent="space-around" role="tablist">
        {sections.map((name) => (
          <Act
            key={name}
            kind="quiet"
            label={name}
            named={`Hands: ${name}`}
            selected={section === name}
            onPress={() => dispatch(viewChanged({ handsSection: name }))}
          />
        ))}
        <Act kind="quiet" label="×" named="Hide the hands" hotkey="h" onPress={onHide} />
      </Row>
      <ScrollView contentContainerStyle={{ padding: 12, gap: 8 }}>
        <Words kind="small">Simulated bench: nothing here is evidence.</Words>
        <ProblemNotice problem={problem ?? problemOf(error)} />
        {hands !== undefined && section === 'Hold' && <FrameHands hands={hands} {...acts} />}
        {hands !== undefined && section === 'Power' && <PowerHands hands={hands} {...acts} />}
        {hands !== undefined && section === 'Radio' && <TransmitterHands hands={hands} {...acts} />}
        {hands !== undefined && section === 'Parts' && <PartsHands hands={hands} {...acts} />}
        {hands !== undefined && section === 'Look' && <Seen hands={hands} />}
      </ScrollView>
    </>
  )
}
