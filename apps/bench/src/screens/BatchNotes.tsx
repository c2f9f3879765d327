import type { BatchNote, BatchNoteRequest } from '@taraf/contract'
import { useRouter } from 'expo-router'
import { useState } from 'react'
import { Act } from '../parts/Act'
import { dateWords } from '../parts/dates'
import { Field } from '../parts/Field'
import { Loading, Notice, ProblemNotice } from '../parts/Notice'
import { Screen } from '../parts/Screen'
import { Column, Paper, Row, Words } from '../parts/type'
import { useBatchNotesQuery, useWriteNoteMutation } from '../store/airframes'
import { problemOf } from '../store/api'
import { useMeQuery } from '../store/people'
import { useDraft } from '../store/useDraft'

const empty: BatchNoteRequest = { part: '', lotFrom: '', lotTo: '', defect: '', inspection: '' }

/** Known defects of part lots, the inspection that each asks for, and the airframes that it concerns. */
export const BatchNotes = () => {
  const { data, error, refetch } = useBatchNotesQuery()
  const { data: me } = useMeQuery()
  return (
    <Screen>
      <Column gap="$4" maxWidth={820}>
        <Words kind="title">Batch notes</Words>
        <Words>
          A fault found once is looked for on every airframe of the lot: open job cards get the inspection at once, later ones as
          they are opened.
        </Words>
        {me !== undefined && me.role !== 'reader' && <Write />}
        <ProblemNotice problem={problemOf(error)} act={{ label: 'Try again', onPress: () => void refetch() }} />
        {data === undefined && error === undefined && <Loading what="the batch notes" />}
        {data?.length === 0 && <Notice title="No batch note yet" todo="Write one when a part of a lot turns out to be bad." />}
        {data?.map((note) => (
          <Note key={note.id} note={note} />
        ))}
      </Column>
    </Screen>
  )
}

const Write = () => {
  const [open, setOpen] = useState(false)
  const [note, setNote, forget] = useDraft<BatchNoteRequest>('batch-note', empty)
  const [write, { isLoading, error }] = useWriteNoteMutation()
  const set = (key: keyof BatchNoteRequest) => (text: string) => setNote({ ...note, [key]: text })
  const ready =
    note.part.trim() !== '' && note.lotFrom.trim() !== '' && note.defect.trim().length >= 3 && note.inspection.trim().length >= 3
  const submit = async () => {
    const lotTo = note.lotTo.trim() === '' ? note.lotFrom : note.lotTo
    const result = await write({ ...note, lotTo })
    if ('error' in result) return
    forget()
    setOpen(false)
  }
  if (!open)
    return (
      <Row>
        <Act label="Write a batch note" onPress={() => setOpen(true)} />
      </Row>
    )
  return (
    <Paper role="region" aria-label="New batch note">
      <Row flexWrap="wrap">
        <Field label="Part, as sheets call it" value={note.part} onChange={set('part')} />
        <Field label="First lot" value={note.lotFrom} onChange={set('lotFrom')} />
        <Field label="Last lot" value={note.lotTo} onChange={set('lotTo')} placeholder="the same" />
      </Row>
      <Field label="What is wrong with it" value={note.defect} onChange={set('defect')} />
      <Field label="What to look at" value={note.inspection} onChange={set('inspection')} />
      <Row>
        <Act label={isLoading ? 'Writing …' : 'Write the note'} off={!ready || isLoading} onPress={() => void submit()} />
        <Act kind="quiet" label="Leave it" onPress={() => setOpen(false)} />
      </Row>
      <ProblemNotice problem={problemOf(error)} />
    </Paper>
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
