import type { HandsState, JobView } from '@taraf/contract'
import { checkById, planOf } from '@taraf/core'
import { ScrollView } from 'react-native'
import { useDispatch } from 'react-redux'
import { Act } from '../parts/Act'
import { ProblemNotice } from '../parts/Notice'
import { Row, Words } from '../parts/type'
import { problemOf } from '../store/api'
import { useHandsQuery } from '../store/benches'
import { useView, viewChanged, type HandsSection } from '../store/store'
import { useTakeAtStep } from '../store/takeInHand'
import { FrameHands } from './FrameHands'
import { PartsHands } from './PartsHands'
import { PowerHands } from './PowerHands'
import { Seen } from './Seen'
import { TransmitterHands } from './TransmitterHands'
import { takesOf } from '../parts/findings'
import { Group } from './Group'
import { useHands, type HandsActs } from './useHands'
import { actsForRemedies, actsForStep } from './wantedActs'

const sections: readonly HandsSection[] = ['Frame', 'Power', 'Radio', 'Parts', 'Look']

/** The drawer, open: what is in hand by sections, and what the step in hand wants first. */
export const HandsPanel = ({ job, at, onHide }: { job: JobView; at: string | null; onHide: () => void }) => {
  const bench = job.bench?.id ?? ''
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
        {hands !== undefined && <Now job={job} at={at} hands={hands} {...acts} />}
        {hands !== undefined && section === 'Frame' && <FrameHands hands={hands} {...acts} />}
        {hands !== undefined && section === 'Power' && <PowerHands hands={hands} {...acts} />}
        {hands !== undefined && section === 'Radio' && <TransmitterHands hands={hands} {...acts} />}
        {hands !== undefined && section === 'Parts' && <PartsHands hands={hands} {...acts} />}
        {hands !== undefined && section === 'Look' && <Seen hands={hands} />}
      </ScrollView>
    </>
  )
}

interface NowProps extends HandsActs {
  readonly job: JobView
  readonly at: string | null
  readonly hands: HandsState
}

/** What the step in hand wants first: of the take that runs, of the remedies of one that failed, or of the one to be started. */
const Now = ({ job, at, hands, act, off }: NowProps) => {
  const take = useTakeAtStep(at)
  const check = at === null ? undefined : checkById(at)
  if (check === undefined) return null
  const newest = takesOf(job, check.id)[0]
  const remedies =
    take === null && newest !== undefined && newest.body.verdict !== 'pass'
      ? actsForRemedies(newest.body.findings, hands.battery)
      : []
  const first = planOf(check, job.sheet)[0]
  const step = take === null ? first : take.want
  const acts = [...remedies, ...(step === null || step === undefined ? [] : actsForStep(step, hands))]
  if (acts.length === 0) return null
  return (
    <Group title="Now">
      <Row flexWrap="wrap">
        {acts.map(({ label, act: what }) => (
          <Act key={label} label={label} grow off={off} onPress={() => act(what)} />
        ))}
      </Row>
    </Group>
  )
}
