import type { JobView, Observation, Question, WantOf } from '@taraf/contract'
import { isAnswered, questionsOf, type Check } from '@taraf/core'
import { useEffect, useRef, useState } from 'react'
import { Act } from '../parts/Act'
import { Field } from '../parts/Field'
import { ProblemNotice } from '../parts/Notice'
import { NumberField } from '../parts/NumberField'
import { pickFile } from '../parts/files'
import { Plan } from '../parts/Plan'
import { ScanTag } from '../parts/ScanTag'
import { Column, Row, Words } from '../parts/type'
import { useKeys } from '../parts/useKeys'
import { problemOf } from '../store/api'
import { useKeepPhotoMutation, useNextSegmentMutation, useTakeListMutation } from '../store/jobs'
import { useMeQuery } from '../store/people'
import { useView } from '../store/store'
import { useDraft } from '../store/useDraft'
import { useTransmitterHints } from './useTransmitterHints'
import { missingWords } from './missingWords'
import { WithNext } from './WithNext'

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
  const hints = useTransmitterHints(job)
  // A take that stops here has come from a step with hands on the airframe: what is asked comes into view by itself.
  const top = useRef<HTMLDivElement>(null)
  useEffect(() => void top.current?.scrollIntoView({ block: 'start' }), [])
  return (
    <Column gap="$3">
      <div ref={top} />
      <ListTake job={job} list={{ questions, answers, answer, problem: problemOf(going.error) }} hints={hints} />
      <Act
        kind="main"
        label={left.length > 0 ? `${left.length} of ${questions.length} still to look at` : 'Go on with these answers'}
        off={left.length > 0 || going.isLoading}
        onPress={() => void send()}
      />
    </Column>
  )
}

interface ListTakeProps {
  readonly job: JobView
  readonly list: Pick<List, 'questions' | 'answers' | 'answer' | 'problem'>
  /** What the record says already, by question: to compare with, never an answer. */
  readonly hints?: Readonly<Record<string, string>>
}

/** A checklist: a row an item, the plan once with what is in hand lit on it; keys y, n and the arrows. */
export const ListTake = ({ job, list: { questions, answers, answer, problem }, hints = {} }: ListTakeProps) => {
  const isDone = (q: Question) => isAnswered(q, answers[q.id] ?? {})
  const [inHand, setInHand] = useState<string | null>(() => questions.find((q) => !isDone(q))?.id ?? null)
  const at = questions.findIndex((q) => q.id === inHand)
  const question = questions[at]
  const go = (index: number) => {
    const next = questions[Math.max(0, Math.min(questions.length - 1, index))]
    if (next === undefined) return
    setInHand(next.id)
    document.querySelector(`[data-item="${CSS.escape(next.id)}"]`)?.scrollIntoView({ block: 'nearest' })
  }
  const say = (value: boolean) => {
    if (question?.answer !== 'so') return
    answer(question.id, { answer: value })
    // What is not so is told first; what is leads on.
    if (value) go(at + 1)
  }
  useKeys({ y: () => say(true), n: () => say(false), ArrowDown: () => go(at + 1), ArrowUp: () => go(at - 1) })
  const needed = questions.filter((q) => q.optional !== true)
  return (
    <Column gap="$0" role="region" aria-label="List">
      <Row
        gap="$3"
        backgroundColor="$paper"
        paddingBottom="$2"
        style={{ position: 'sticky', top: -16, zIndex: 1 } as object}
        borderBottomWidth={1}
        borderColor="$line"
      >
        <Plan
          geometry={job.sheet.geometry}
          size={104}
          marked={question?.booms ?? []}
          note={question?.booms === undefined ? 'Plan of the airframe' : 'Plan of the airframe: where to look is marked'}
        />
        <Column gap="$1" flex={1}>
          <Words kind="strong" role="status">
            {needed.filter(isDone).length} of {needed.length} done
          </Words>
          <Words kind="small" display="none" $wide={{ display: 'flex' }}>
            Keys: y, n, arrows
          </Words>
        </Column>
      </Row>
      {questions.map((one) => (
        <Item
          key={one.id}
          job={job}
          question={one}
          answer={answers[one.id]}
          hint={hints[one.id]}
          isInHand={one.id === inHand}
          take={() => setInHand(one.id)}
          set={(news) => {
            setInHand(one.id)
            answer(one.id, news)
          }}
        />
      ))}
      <ProblemNotice problem={problem} />
    </Column>
  )
}

interface ItemProps {
  readonly job: JobView
  readonly question: Question
  readonly answer: Observation | undefined
  readonly hint: string | undefined
  readonly isInHand: boolean
  readonly take: () => void
  readonly set: (news: Partial<Observation>) => void
}

const Item = ({ job, question, answer, hint, isInHand, take, set }: ItemProps) => {
  const { id, words, why, answer: kind, unit } = question
  const value = answer?.answer
  const { guidance } = useView()
  return (
    <Column
      role="group"
      aria-label={words}
      data-item={id}
      aria-current={isInHand ? 'true' : undefined}
      onPress={take}
      gap="$1"
      paddingVertical="$2"
      paddingLeft="$2"
      borderLeftWidth={4}
      borderLeftColor={isInHand ? '$tide' : 'transparent'}
      borderBottomWidth={1}
      borderBottomColor="$line"
      style={{ scrollMarginTop: 130 } as object}
    >
      <Row gap="$3" flexWrap="wrap">
        <Column flex={1} minWidth={150} gap="$0">
          <Words kind={isInHand ? 'strong' : undefined}>{words}</Words>
          {guidance === 'full' && <Words kind="small">{why}</Words>}
          {hint !== undefined && <Words kind="small">On record: {hint}</Words>}
        </Column>
        <Answer id={id} kind={kind} unit={unit} value={value} set={(news) => set({ answer: news })} />
      </Row>
      {value === false && <Field label="What you see instead" value={answer?.note ?? ''} onChange={(note) => set({ note })} />}
      {kind === 'so' && (isInHand || answer?.photo !== undefined) && (
        <Photo job={job.id} kept={answer?.photo} keep={(photo) => set({ photo })} />
      )}
    </Column>
  )
}

interface AnswerProps extends Pick<Question, 'id' | 'unit'> {
  readonly kind: Question['answer']
  readonly value: Observation['answer'] | undefined
  readonly set: (value: Observation['answer'] | undefined) => void
}

/** The answer of an item, in its row: yes or no, one of a few, a number, or as it reads. */
const Answer = ({ id, kind, unit, value, set }: AnswerProps) => {
  if (kind === 'so')
    return (
      <Row>
        <Act label="Yes" selected={value === true} onPress={() => set(true)} />
        <Act label="No" selected={value === false} onPress={() => set(false)} />
      </Row>
    )
  if (kind === 'number')
    return (
      <Column width={110}>
        <NumberField label={unit ?? 'Number'} value={typeof value === 'number' ? value : undefined} onChange={set} />
      </Column>
    )
  if (kind === 'text')
    return (
      <Row alignItems="flex-end" flexWrap="wrap" width="100%">
        <Field label="As it reads" value={typeof value === 'string' ? value : ''} onChange={set} />
        {id === 'tag' && <ScanTag found={set} />}
      </Row>
    )
  return (
    <Row flexWrap="wrap" flexShrink={1} maxWidth="100%" role="group" aria-label="Which">
      {kind.map((one) => (
        <Act key={one} label={one} selected={value === one} onPress={() => set(one)} />
      ))}
    </Row>
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
        : missingWords(job, check)
  const may = why === null && !list.busy && list.left.length === 0
  useKeys({ t: () => may && void list.take() })
  return (
    <Column flex={1}>
      {why !== null && <Words kind="small">{why}</Words>}
      <WithNext job={job} check={check}>
        {(kind) => (
          <Act
            grow
            kind={kind}
            label={list.busy ? 'Judging …' : list.left.length > 0 ? `Finish: ${list.left.length} to go` : 'Finish'}
            hotkey="t"
            off={!may}
            onPress={() => void list.take()}
          />
        )}
      </WithNext>
    </Column>
  )
}
