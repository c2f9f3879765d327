import { useLocalSearchParams, useRouter } from 'expo-router'
import { useMedia, View } from '@tamagui/core'
import { Act } from '../parts/Act'
import { dateWords } from '../parts/dates'
import { Loading, Notice, ProblemNotice } from '../parts/Notice'
import { Plan } from '../parts/Plan'
import { Screen } from '../parts/Screen'
import { OverallMark } from '../parts/StandingMark'
import { Column, Paper, Reading, Row, Words } from '../parts/type'
import { sheetPath } from '../sheets/sheetPath'
import { useAirframeQuery, useOpenJobMutation } from '../store/airframes'
import { problemOf } from '../store/api'
import { useMeQuery } from '../store/people'
import { BuiltFrom } from './BuiltFrom'

/** One airframe: what it is, and its job cards. */
export const Airframe = () => {
  const { tag } = useLocalSearchParams<{ tag: string }>()
  const router = useRouter()
  const { data: me } = useMeQuery()
  const { wide } = useMedia()
  const { data, error, refetch } = useAirframeQuery(tag)
  const [openJob, opening] = useOpenJobMutation()
  const current = data?.jobs.find((job) => job.closedAt === null)
  const open = async () => {
    const result = await openJob(tag)
    if ('data' in result && result.data !== undefined) router.push(`/jobs/${result.data.id}`)
  }
  const action =
    current !== undefined ? (
      <Act grow kind="main" label={`Go on with job card ${current.number}`} onPress={() => router.push(`/jobs/${current.id}`)} />
    ) : (
      <Act
        grow
        kind="main"
        label="Open a job card"
        off={me?.role === 'reader' || opening.isLoading || data === undefined}
        onPress={() => void open()}
      />
    )
  return (
    <Screen actions={action}>
      <Column gap="$4">
        <ProblemNotice problem={problemOf(error)} act={{ label: 'Try again', onPress: () => void refetch() }} />
        <ProblemNotice problem={problemOf(opening.error)} />
        {data === undefined && error === undefined && <Loading what={tag} />}
        {data !== undefined && (
          <View flexDirection={wide ? 'row' : 'column'} gap={wide ? '$5' : '$4'}>
            <Column gap="$4" width={wide ? 400 : '100%'}>
              <Column gap="$1">
                <Reading role="heading" aria-level={1} size="decides">
                  {data.tag}
                </Reading>
                <Words>{data.sheet.title}</Words>
                <Words kind="small">
                  build sheet {data.sheet.type} version {data.sheet.version}, board {data.board}
                </Words>
                <Row flexWrap="wrap">
                  <Act
                    kind="quiet"
                    label="Label"
                    onPress={() => router.push({ pathname: '/airframes/[tag]/label', params: { tag } })}
                  />
                  <Act
                    kind="quiet"
                    label="Build sheet"
                    onPress={() => router.push(sheetPath(data.sheet.type, data.sheet.version))}
                  />
                </Row>
              </Column>
              <View alignItems="center">
                <Plan geometry={data.sheet.geometry} size={wide ? 380 : 260} />
              </View>
            </Column>
            <Column gap="$4" flex={wide ? 1 : undefined} minWidth={0}>
              <Words kind="heading">Job cards</Words>
              {data.jobs.length === 0 && (
                <Notice title="No job card yet" todo="Open one to take this airframe through the stations." />
              )}
              {data.jobs.map((job) => (
                <Paper key={job.id}>
                  <Row flexWrap="wrap" justifyContent="space-between">
                    <Words kind="heading">Job card {job.number}</Words>
                    <OverallMark overall={job.overall} />
                  </Row>
                  <Words kind="small">
                    opened {dateWords(job.openedAt)} by {job.openedBy}
                    {job.closedAt !== null && `, closed ${dateWords(job.closedAt)}`}
                  </Words>
                  <Row flexWrap="wrap">
                    <Act
                      label={job.closedAt === null ? 'Open it' : 'Look at it'}
                      onPress={() => router.push(`/jobs/${job.id}`)}
                    />
                    {job.closedAt !== null && (
                      <Act kind="quiet" label="Handover record" onPress={() => router.push(`/jobs/${job.id}/handover`)} />
                    )}
                  </Row>
                </Paper>
              ))}
              <BuiltFrom airframe={data} />
            </Column>
          </View>
        )}
      </Column>
    </Screen>
  )
}
