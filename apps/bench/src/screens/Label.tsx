import { useLocalSearchParams, useRouter } from 'expo-router'
import { Act } from '../parts/Act'
import { Code } from '../parts/Code'
import { Loading, ProblemNotice } from '../parts/Notice'
import { Screen } from '../parts/Screen'
import { Column, Reading, Row, Words } from '../parts/type'
import { useAirframeQuery } from '../store/airframes'
import { problemOf } from '../store/api'

/** The label of an airframe: its tag to read and to scan. */
export const Label = () => {
  const { tag } = useLocalSearchParams<{ tag: string }>()
  const { data, error } = useAirframeQuery(tag)
  const router = useRouter()
  const address = `${globalThis.location?.origin ?? ''}/airframes/${encodeURIComponent(tag)}`
  return (
    <Screen
      actions={
        <>
          <Act grow kind="main" label="Print the label" off={data === undefined} onPress={() => globalThis.print()} />
          <Act label={`Back to ${tag}`} onPress={() => router.push({ pathname: '/airframes/[tag]', params: { tag } })} />
        </>
      }
    >
      <ProblemNotice problem={problemOf(error)} />
      {data === undefined && error === undefined && <Loading what={tag} />}
      {data !== undefined && (
        <Row gap="$4" alignItems="center" borderWidth={1} borderColor="$line" padding="$4" alignSelf="flex-start">
          <Code text={address} label={`Code that leads to ${tag}`} size={140} />
          <Column gap="$1">
            <Reading role="heading" aria-level={1} size="decides">
              {data.tag}
            </Reading>
            <Words>{data.sheet.title}</Words>
            <Words kind="small">
              sheet {data.sheet.type}, board {data.board}
            </Words>
          </Column>
        </Row>
      )}
    </Screen>
  )
}
