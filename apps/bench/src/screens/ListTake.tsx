import type { JobView, Observation, Question, WantOf } from '@taraf/contract'
import { isAnswered, questionsOf, type Check } from '@taraf/core'
import { useState } from 'react'
import { Act } from '../parts/Act'
import { Choices } from '../parts/Choices'
import { Field } from '../parts/Field'
import { ProblemNotice } from '../parts/Notice'
import { NumberField } from '../parts/NumberField'
import { pickFile } from '../parts/files'
import { Plan } from '../parts/Plan'
import { ScanTag } from '../parts/ScanTag'
import { Column, Paper, Row, Words } from '../parts/type'
import { useKeys } from '../parts/useKeys'
import { problemOf } from '../store/api'
import { useKeepPhotoMutation, useNextSegmentMutation, useTakeListMutation } from '../store/jobs'
import { useMeQuery } from '../store/people'
import { useView } from '../store/store'
import { useDraft } from '../store/useDraft'
import { missingWords } from './missingWords'

type Answers = Readonly<Record<string, Observation>>

/** What was seen so far, item by item: kept on this device until it is taken. */
export const useList = (job: JobView | undefined, check: Check) => {
  const questions = job === undefined ? [] : (questionsOf(check, job.sheet) ?? [])
  const [answers, setAnswers, forget] = useDraft<Answers>(`${job?.id ?? ''}.${check.id}`, {})
  // How long the card was when the first item was answered: a knock since then meets the list.
  const [start, setStart, forgetStart] = useDraft<{ began?: number }>(`${job?.id ?? ''}.${check.id}.began`, {})
  const [take, taking] = useTakeListMutation()
  const left = questions.filter((q) => q.optional !== true && !isAnswered(q, answers[q.id] ?? {}))
  return {
    questions,
    answers,
    left,
    busy: taking.isLoading,
    problem: problemOf(taking.error),
    answer: (id: string, news: Partial<Observation>) => {
      if (start.began === undefined && job !== undefined) setStart({ began: job.entries.length })
      setAnswers((now) => ({ ...now, [id]: { segment: 'list', item: id, ...now[id], ...news } }))
    },
    take: async () => {
      if (job === undefined) return
      const observations = questions.flatMap((q) => (answers[q.id] === undefined ? [] : [answers[q.id] as Observation]))
      const result = await take({ job: job.id, check: check.id, observations, ...start })
      if ('error' in result) return
      forget()
      forgetStart()
    },
  }
}
type List = ReturnType<typeof useList>

/** A list that a take at the bench stops at: what is answered goes on with the take. */
export const RunningList = ({ job, want }: { job: JobView; want: WantOf<'answers'> }) => {
  const [answers, setAnswers, forget] = useDraft<Answers>(`${job.id}.running.${want.label}`, {})
  const [next, going] = useNextSegmentMutation()
  const questions = [...want.questions]
  const left = questions.filter((q) => q.optional !== true && !isAnswered(q, answers[q.id] ?? {}))
  const send = async () => {
    const observations = questions.flatMap((q) => (answers[q.id] === undefined ? [] : [answers[q.id] as Observation]))
    const result = await next({ job: job.id, observations })
    if (!('error' in result)) forget()
  }
  const answer = (id: string, news: Partial<Observation>) =>
    setAnswers((now) => ({ ...now, [id]: { segment: want.label, item: id, ...now[id], ...news } }))
  return (
    <Column gap="$3">
      <ListTake job={job} list={{ questions, answers, answer, problem: problemOf(going.error) }} />
      <Act
        kind="main"
        label={left.length > 0 ? `${left.length} of ${questions.length} still to look at` : 'Go on with these answers'}
        off={left.length > 0 || going.isLoading}
        onPress={() => void send()}
      />
    </Column>
  )
}

/** Each item with its reason: what is seen, a note where it is not so, a photo where one helps. */
export const ListTake = ({ job, list }: { job: JobView; list: Pick<List, 'questions' | 'answers' | 'answer' | 'problem'> }) => (
  <Column gap="$3" role="region" aria-label="List">
    {list.questions.map((question) => (
      <Item
        key={question.id}
        job={job}
        question={question}
        answer={list.answers[question.id]}
        set={(news) => list.answer(question.id, news)}
      />
    ))}
    <ProblemNotice problem={list.problem} />
  </Column>
)

interface ItemProps {
  readonly job: JobView
  readonly question: Question
  readonly answer: Observation | undefined
  readonly set: (news: Partial<Observation>) => void
}

const so = [
  ['yes', 'Yes'],
  ['no', 'No'],
] as const

const Item = ({ job, question, answer, set }: ItemProps) => {
  const { id, words, why, answer: kind, unit, booms } = question
  const value = answer?.answer
  const { guidance } = useView()
  return (
    <Paper
      role="group"
      aria-label={words}
      data-item={id}
      borderLeftWidth={4}
      borderLeftColor={isAnswered(question, answer ?? {}) ? '$tide' : '$line'}
    >
      <Row alignItems="flex-start" gap="$3">
        <Column flex={1} gap="$1">
          <Words kind="strong">{words}</Words>
          {guidance === 'full' && <Words kind="small">{why}</Words>}
        </Column>
        {booms !== undefined && booms.length > 0 && (
          <Plan geometry={job.sheet.geometry} size={96} marked={booms} note="Where to look" />
        )}
      </Row>
      {kind === 'so' ? (
        <Choices
          label="What you see"
          choices={so}
          chosen={value === undefined ? undefined : value === true ? 'yes' : 'no'}
          choose={(chosen) => set({ answer: chosen === 'yes' })}
        />
      ) : kind === 'number' ? (
        <NumberField
          label={unit ?? 'Number'}
          value={typeof value === 'number' ? value : undefined}
          onChange={(number) => set({ answer: number })}
        />
      ) : kind === 'text' ? (
        <Row alignItems="flex-end" flexWrap="wrap">
          <Field label="As it reads" value={typeof value === 'string' ? value : ''} onChange={(text) => set({ answer: text })} />
          {id === 'tag' && <ScanTag found={(tag) => set({ answer: tag })} />}
        </Row>
      ) : (
        <Choices
          label="Which"
          choices={kind.map((one) => [one, one] as const)}
          chosen={typeof value === 'string' ? value : undefined}
          choose={(chosen) => set({ answer: chosen })}
        />
      )}
      {value === false && <Field label="What you see instead" value={answer?.note ?? ''} onChange={(note) => set({ note })} />}
      {kind === 'so' && <Photo job={job.id} kept={answer?.photo} keep={(photo) => set({ photo })} />}
    </Paper>
  )
}

const Photo = ({ job, kept, keep }: { job: string; kept: string | undefined; keep: (sha256: string | undefined) => void }) => {
  const [send, { isLoading, error }] = useKeepPhotoMutation()
  const [large, setLarge] = useState(false)
  const take = async () => {
    const file = await pickFile('image/*', true)
    if (file === null) return
    const result = await send({ job, file })
    if ('data' in result && result.data !== undefined) keep(result.data.sha256)
  }
  return (
    <Column alignItems="flex-start">
      {kept !== undefined && (
        <img
          src={`/api/jobs/${job}/photos/${kept}`}
          alt="As it was seen"
          onClick={() => setLarge(!large)}
          style={{ maxWidth: '100%', maxHeight: large ? 600 : 120, objectFit: 'contain' }}
        />
      )}
      <Row>
        <Act
          kind="quiet"
          label={isLoading ? 'Keeping the photo …' : kept === undefined ? 'Add a photo' : 'Another photo'}
          off={isLoading}
          onPress={() => void take()}
        />
        {kept !== undefined && <Act kind="quiet" label="Leave it out" onPress={() => keep(undefined)} />}
      </Row>
      <ProblemNotice problem={problemOf(error)} />
    </Column>
  )
}

/** The action bar of a list. */
export const ListBar = ({ job, check, list }: { job: JobView; check: Check; list: List }) => {
  const { data: me } = useMeQuery()
  const why =
    job.closedAt !== null
      ? 'This job card is handed over.'
      : me === undefined || me.role === 'reader'
        ? 'A reader looks on; a technician takes.'
        : (missingWords(job, check) ??
          (list.left.length > 0 ? `${list.left.length} of ${list.questions.length} still to look at` : null))
  const may = why === null && !list.busy
  useKeys({ t: () => may && void list.take() })
  return (
    <Column flex={1}>
      {why !== null && <Words kind="small">{why}</Words>}
      <Act
        kind="main"
        label={list.busy ? 'Judging …' : job.standings[check.id]?.take === undefined ? 'Start' : 'Run again'}
        hotkey="t"
        off={!may}
        onPress={() => void list.take()}
      />
    </Column>
  )
}
