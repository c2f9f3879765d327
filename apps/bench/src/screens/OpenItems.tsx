import type { JobView } from '@taraf/contract'
import { checkById, openItems, parkedFor, type OpenItem } from '@taraf/core'
import { useState } from 'react'
import { Act } from '../parts/Act'
import { Choices } from '../parts/Choices'
import { Field } from '../parts/Field'
import { Notice, ProblemNotice } from '../parts/Notice'
import { Column, Paper, Row, Words } from '../parts/type'
import { problemOf } from '../store/api'
import { useAddItemMutation, useCloseItemMutation, useParkMutation, useResumeMutation } from '../store/jobs'
import { useMeQuery } from '../store/people'

const kindWords: Readonly<Record<OpenItem['what'], string>> = {
  open: 'Left open',
  'put back': 'To put back',
  inspection: 'Asked by a batch note',
}

/** What is left open on a card, to be put back or to be looked at; closed by saying what was done or found. */
export const OpenItems = ({ job }: { job: JobView }) => {
  const items = openItems(job.entries)
  const { data: me } = useMeQuery()
  const may = job.closedAt === null && me !== undefined && me.role !== 'reader'
  if (items.length === 0 && !may) return null
  return (
    <Column role="region" aria-label="Open items">
      <Words kind="heading">Open items</Words>
      {items.length === 0 && <Words kind="faint">None.</Words>}
      {items.map((item) => (
        <Item key={item.seq} job={job.id} item={item} may={may} />
      ))}
      {may && <AddItem job={job.id} />}
    </Column>
  )
}

const Item = ({ job, item, may }: { job: string; item: OpenItem; may: boolean }) => {
  const [open, setOpen] = useState(false)
  const [words, setWords] = useState(item.what === 'put back' ? 'put back' : '')
  const [close, { isLoading, error }] = useCloseItemMutation()
  return (
    <Paper borderLeftWidth={4} borderLeftColor={item.blocks ? '$mark' : '$line'}>
      <Words kind="small">
        {kindWords[item.what]}, entry {item.seq}
        {item.check !== undefined && `, by "${checkById(item.check)?.title ?? item.check}"`}
        {item.blocks && '; before handover'}
      </Words>
      <Words kind="strong">{item.words}</Words>
      {may && !open && (
        <Row>
          <Act label="Close it" named={`Close entry ${item.seq}`} onPress={() => setOpen(true)} />
        </Row>
      )}
      {open && (
        <>
          <Field
            label={item.what === 'inspection' ? 'What was found' : 'What was done'}
            value={words}
            onChange={setWords}
            autoFocus
          />
          <Row>
            <Act
              label="It is done"
              off={words.trim().length < 3 || isLoading}
              onPress={() => void close({ job, item: item.seq, words: words.trim() })}
            />
            <Act kind="quiet" label="Leave it open" onPress={() => setOpen(false)} />
          </Row>
        </>
      )}
      <ProblemNotice problem={problemOf(error)} />
    </Paper>
  )
}

const AddItem = ({ job }: { job: string }) => {
  const [open, setOpen] = useState(false)
  const [words, setWords] = useState('')
  const [blocks, setBlocks] = useState(true)
  const [add, { isLoading, error }] = useAddItemMutation()
  const submit = async () => {
    const result = await add({ job, words: words.trim(), blocks })
    if ('error' in result) return
    setWords('')
    setOpen(false)
  }
  if (!open)
    return (
      <Row>
        <Act kind="quiet" label="Leave something open" onPress={() => setOpen(true)} />
      </Row>
    )
  return (
    <Paper>
      <Field label="What is left" value={words} onChange={setWords} autoFocus />
      <Choices
        label="Before handover"
        choices={[
          ['yes', 'It must be closed'],
          ['no', 'It may stay open'],
        ]}
        chosen={blocks ? 'yes' : 'no'}
        choose={(chosen) => setBlocks(chosen === 'yes')}
      />
      <Row>
        <Act label="Put it on the card" off={words.trim().length < 3 || isLoading} onPress={() => void submit()} />
        <Act kind="quiet" label="Leave it" onPress={() => setOpen(false)} />
      </Row>
      <ProblemNotice problem={problemOf(error)} />
    </Paper>
  )
}

/** Parks a card with its reason, so that another hand can take it up. */
export const Parking = ({ job }: { job: JobView }) => {
  const parked = parkedFor(job.entries)
  const { data: me } = useMeQuery()
  const [open, setOpen] = useState(false)
  const [reason, setReason] = useState('')
  const [park, parking] = useParkMutation()
  const [resume, resuming] = useResumeMutation()
  if (job.closedAt !== null || me === undefined || me.role === 'reader') return null
  if (parked !== null)
    return (
      <Column>
        <Notice
          title="Parked"
          detail={parked}
          todo="The next person goes on from here; nothing is taken until then."
          act={{ label: resuming.isLoading ? 'Taking it up …' : 'Take it up again', onPress: () => void resume(job.id) }}
        />
        <ProblemNotice problem={problemOf(resuming.error)} />
      </Column>
    )
  if (!open)
    return (
      <Row>
        <Act kind="quiet" label="Park this card" onPress={() => setOpen(true)} />
      </Row>
    )
  return (
    <Paper>
      <Field label="Why it waits" value={reason} onChange={setReason} autoFocus />
      <Row>
        <Act
          label="Park it"
          off={reason.trim().length < 3 || parking.isLoading}
          onPress={() => void park({ job: job.id, reason: reason.trim() })}
        />
        <Act kind="quiet" label="Go on" onPress={() => setOpen(false)} />
      </Row>
      <Words kind="small">Its bench is let go of.</Words>
      <ProblemNotice problem={problemOf(parking.error)} />
    </Paper>
  )
}
