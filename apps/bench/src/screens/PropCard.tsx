import { useLocalSearchParams, useRouter } from 'expo-router'
import { Act } from '../parts/Act'
import { Loading, Notice, ProblemNotice } from '../parts/Notice'
import { Screen } from '../parts/Screen'
import { Column, Reading, Words } from '../parts/type'
import { PropFigure } from '../stations/motors/PropFigure'
import { usePropPlan } from '../stations/motors/usePropPlan'
import { problemOf } from '../store/api'
import { useJobQuery } from '../store/jobs'

/** The prop plan of an airframe as a card to print, for whoever mounts them. */
export const PropCard = () => {
  const { id } = useLocalSearchParams<{ id: string }>()
  const { data: job, error } = useJobQuery(id)
  const router = useRouter()
  const plan = usePropPlan(job)
  return (
    <Screen
      actions={
        <>
          <Act grow kind="main" label="Print the card" off={plan.length === 0} onPress={() => globalThis.print()} />
          <Act
            label="Back to the prop plan"
            onPress={() => router.push({ pathname: '/jobs/[id]/[check]', params: { id, check: 'motors.propPlan' } })}
          />
        </>
      }
    >
      <ProblemNotice problem={problemOf(error)} />
      {job === undefined && error === undefined && <Loading what="the prop plan" />}
      {job !== undefined && plan.length === 0 && (
        <Notice title="The build sheet says nothing of its props" todo="Have their marks written into it, under Rotor." />
      )}
      {job !== undefined && plan.length > 0 && (
        <Column gap="$3" borderWidth={1} borderColor="$line" padding="$4" maxWidth={420}>
          <Column gap="$0">
            <Reading role="heading" aria-level={1} size="decides">
              {job.tag}
            </Reading>
            <Words>
              Props of {job.sheet.title}, sheet {job.sheet.type} version {job.sheet.version}
            </Words>
          </Column>
          <PropFigure geometry={job.sheet.geometry} plan={plan} />
          <Words kind="small">Each whole: no nick, no crack, no bend. Mounted only when Hover proof says so.</Words>
        </Column>
      )}
    </Screen>
  )
}
