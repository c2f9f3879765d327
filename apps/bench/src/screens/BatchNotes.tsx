import type { BatchNote } from '@taraf/contract'
import { useRouter } from 'expo-router'
import { lazy, Suspense, useState } from 'react'
import { Act } from '../parts/Act'
import { dateWords } from '../parts/dates'
import { Loading, Notice, ProblemNotice } from '../parts/Notice'
import { Screen } from '../parts/Screen'
import { Beside, Column, Paper, Row, Words } from '../parts/type'
import { useBatchNotesQuery } from '../store/airframes'
import { problemOf } from '../store/api'
import { useMeQuery } from '../store/people'

/** What forms are made with is fetched where there is one. */
const NoteForm = lazy(async () => ({ default: (await import('./forms')).NoteForm }))

/** Known defects of part lots, the inspection that each asks for, and the airframes that it concerns. */
export const BatchNotes = () => {
  const { data, error, refetch } = useBatchNotesQuery()
  const { data: me } = useMeQuery()
  return (
    <Screen>
      <Beside>
        <Column gap="$4" $wide={{ width: 400 }}>
          <Words kind="title">Batch notes</Words>
          <Words>
            A fault found once is looked for on every airframe with a part of that lot. Open job cards get the inspection now,
            later ones when they are opened.
          </Words>
          {me !== undefined && me.role !== 'reader' && <Write />}
        </Column>
        <Column gap="$4" minWidth={0} $wide={{ flex: 1 }}>
          <ProblemNotice problem={problemOf(error)} act={{ label: 'Try again', onPress: () => void refetch() }} />
          {data === undefined && error === undefined && <Loading what="the batch notes" />}
          {data?.length === 0 && <Notice title="No batch note yet" todo="Write one when a part of a lot turns out to be bad." />}
          {data?.map((note) => (
            <Note key={note.id} note={note} />
          ))}
        </Column>
      </Beside>
    </Screen>
  )
}

const Write = () => {
  const [open, setOpen] = useState(false)
  if (!open)
    return (
      <Row>
        <Act label="Write a batch note" onPress={() => setOpen(true)} />
      </Row>
    )
  return (
    <Suspense fallback={<Loading what="the form" />}>
      <NoteForm close={() => setOpen(false)} />
    </Suspense>
  )
}

const Note = ({ note }: { note: BatchNote }) => {
  const router = useRouter()
  const { part, lotFrom, lotTo, defect, inspection, at, by, open, handedOver, waiting } = note
  return (
    <Paper>
      <Words kind="heading">
        {part}, lot {lotFrom === lotTo ? lotFrom : `${lotFrom} to ${lotTo}`}
      </Words>
      <Words>{defect}</Words>
      <Words>{inspection}</Words>
      <Words kind="small">
        {dateWords(at)}, {by}
      </Words>
      {open.length > 0 && (
        <Row flexWrap="wrap">
          <Words kind="small">On open cards:</Words>
          {open.map(({ tag, job }) => (
            <Act key={job} kind="quiet" label={tag} onPress={() => router.push(`/jobs/${job}`)} />
          ))}
        </Row>
      )}
      {waiting.length > 0 && <Words kind="small">Once a card is opened: {waiting.join(', ')}</Words>}
      {handedOver.length > 0 && (
        <Words kind="strong">
          Handed over already: {handedOver.map(({ tag, closedAt }) => `${tag} (${dateWords(closedAt)})`).join(', ')}. Call them
          back.
        </Words>
      )}
      {open.length + waiting.length + handedOver.length === 0 && (
        <Words kind="faint">No registered airframe has a part of these lots.</Words>
      )}
    </Paper>
  )
}
