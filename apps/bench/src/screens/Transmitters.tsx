import type { TransmitterCard } from '@taraf/contract'
import { useRouter } from 'expo-router'
import { Act } from '../parts/Act'
import { dateWords } from '../parts/dates'
import { Loading, Notice, ProblemNotice } from '../parts/Notice'
import { Screen } from '../parts/Screen'
import { Beside, Column, Paper, Row, Words } from '../parts/type'
import { SetNow } from '../stations/radio/SetNow'
import { problemOf } from '../store/api'
import { useTransmittersQuery } from '../store/transmitters'

/** The cards of the transmitters, one for each model memory: what is set on it now, and the airframes that it flies. */
export const Transmitters = () => {
  const { data, error, refetch } = useTransmittersQuery()
  return (
    <Screen>
      <Beside>
        <Column gap="$4" $wide={{ width: 400 }}>
          <Words kind="title">Transmitters</Words>
          <Words>
            What is set on a transmitter lives there, not on the airframe. Each of its models has a card: what is set on it now,
            and the airframes that it flies.
          </Words>
        </Column>
        <Column gap="$4" minWidth={0} $wide={{ flex: 1 }}>
          <ProblemNotice problem={problemOf(error)} act={{ label: 'Try again', onPress: () => void refetch() }} />
          {data === undefined && error === undefined && <Loading what="the transmitters" />}
          {data?.length === 0 && (
            <Notice title="No transmitter yet" todo="The radio link check of an airframe names the one that flies it." />
          )}
          {data?.map((card) => (
            <Card key={`${card.transmitter} ${card.model}`} card={card} />
          ))}
        </Column>
      </Beside>
    </Screen>
  )
}

const Card = ({ card: { transmitter, model, flies, airframes, set, at } }: { card: TransmitterCard }) => {
  const router = useRouter()
  return (
    <Paper role="region" aria-label={`${transmitter}, model ${model}`}>
      <Words kind="heading">
        {transmitter}, model {model}
      </Words>
      <Words kind="small">Recorded last {dateWords(at)}</Words>
      {set.length === 0 ? <Words kind="faint">Nothing was set on it yet.</Words> : <SetNow set={set} dated />}
      <Words kind="strong">
        Flies {flies} {flies === 1 ? 'airframe' : 'airframes'}
        {flies > airframes.length ? `; the ${airframes.length} that were on a bench last` : ''}
      </Words>
      <Row flexWrap="wrap">
        {airframes.map(({ tag, job }) => (
          <Act key={tag} kind="quiet" label={tag} onPress={() => router.push(`/jobs/${job}`)} />
        ))}
      </Row>
    </Paper>
  )
}
