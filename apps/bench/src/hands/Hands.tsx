import type { JobView } from '@taraf/contract'
import { View } from '@tamagui/core'
import { lazy, memo, Suspense } from 'react'
import { useDispatch } from 'react-redux'
import { Act } from '../parts/Act'
import { Loading } from '../parts/Notice'
import { useView, viewChanged } from '../store/store'

/** Fetched where somebody opens it: a shop with real benches never does. */
const HandsPanel = lazy(async () => ({ default: (await import('./HandsPanel')).HandsPanel }))

/** The simulated hands: a stand-in for a person at the bench, never part of the record. A sheet on the phone, a panel beside. */
export const Hands = memo(function Hands({ job, at }: { job: JobView; at: string | null }) {
  const { handsOpen } = useView()
  const dispatch = useDispatch()
  const toggle = () => dispatch(viewChanged({ handsOpen: !handsOpen }))
  return (
    <View
      role="complementary"
      aria-label="Simulated hands"
      data-print="no"
      // As high whatever it holds: its sections stay under the finger while they are read.
      {...(handsOpen ? { height: '50%' as const } : {})}
      backgroundColor="$paper"
      borderWidth={1}
      borderStyle="dashed"
      borderColor="$mark"
      $wide={{ width: handsOpen ? 336 : 104, height: '100%' }}
    >
      {handsOpen ? (
        <Suspense fallback={<Loading what="the hands" />}>
          <HandsPanel job={job} at={at} onHide={toggle} />
        </Suspense>
      ) : (
        <Act kind="quiet" label="Simulated hands" hotkey="h" onPress={toggle} />
      )}
    </View>
  )
})
