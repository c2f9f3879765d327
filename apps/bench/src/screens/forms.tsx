import { batchNoteRequest, type BatchNoteRequest, type BuiltPart, type NewAirframe } from '@taraf/contract'
import { tagsOf } from '@taraf/core'
import { useState } from 'react'
import { useController, useWatch, type Control } from 'react-hook-form'
import { z } from 'zod'
import { Act } from '../parts/Act'
import { Choices } from '../parts/Choices'
import { FormField } from '../parts/FormField'
import { ProblemNotice } from '../parts/Notice'
import { Paper, Row, Words } from '../parts/type'
import { useKeptForm } from '../parts/useKeptForm'
import { useRegisterMutation, useWriteNoteMutation } from '../store/airframes'
import { problemOf } from '../store/api'
import { useSheetQuery, useSheetsQuery } from '../store/sheets'
import { PartsForm } from './PartsForm'

/** One lot alone needs no last one. */
const noteForm = batchNoteRequest.extend({ lotTo: z.string().trim().max(60) })
const emptyNote: BatchNoteRequest = { part: '', lotFrom: '', lotTo: '', defect: '', inspection: '' }

/** A known defect of a lot, and what to look at because of it. */
export const NoteForm = ({ close }: { close: () => void }) => {
  const [write, { isLoading, error }] = useWriteNoteMutation()
  const { control, handleSubmit, forget } = useKeptForm('batch-note', noteForm, emptyNote)
  const submit = handleSubmit(async (note) => {
    const result = await write({ ...note, lotTo: note.lotTo.trim() === '' ? note.lotFrom : note.lotTo })
    if ('error' in result) return
    forget()
    close()
  })
  return (
    <Paper role="region" aria-label="New batch note">
      <Row flexWrap="wrap" alignItems="flex-start">
        <FormField control={control} name="part" label="Part, as sheets call it" />
        <FormField control={control} name="lotFrom" label="First lot" />
        <FormField control={control} name="lotTo" label="Last lot" placeholder="the same" />
      </Row>
      <FormField control={control} name="defect" label="What is wrong with it" />
      <FormField control={control} name="inspection" label="What to look at" />
      <Row>
        <Act label={isLoading ? 'Writing …' : 'Write the note'} off={isLoading} onPress={() => void submit()} />
        <Act kind="quiet" label="Not now" onPress={close} />
      </Row>
      <ProblemNotice problem={problemOf(error)} />
    </Paper>
  )
}

/** A tag or a series: what is wrong with it, or nothing. */
const series = z.string().superRefine((text, context) => {
  const tags = tagsOf(text)
  if (typeof tags === 'string') context.addIssue({ code: 'custom', message: tags })
})
const form = z
  .object({ type: z.string().min(1, 'choose what it is built to'), tag: series, board: series })
  .superRefine(({ tag, board }, context) => {
    const [tags, boards] = [tagsOf(tag), tagsOf(board)]
    if (typeof tags !== 'string' && typeof boards !== 'string' && tags.length !== boards.length)
      context.addIssue({
        code: 'custom',
        path: ['board'],
        message: `${tags.length} tags and ${boards.length} boards: each airframe has one`,
      })
  })
const empty = { type: '', tag: '', board: '' }

/** One airframe with its parts, or a series by its tags. */
export const RegisterForm = ({ done }: { done: (tags: string[]) => void }) => {
  const { data: sheets = [] } = useSheetsQuery()
  const { control, handleSubmit, setValue, forget } = useKeptForm('register', form, empty)
  const entered = useWatch({ control })
  const [parts, setParts] = useState<readonly BuiltPart[]>([])
  const [register, { isLoading, error }] = useRegisterMutation()
  const row = sheets.find((s) => s.type === entered.type)
  const { data: sheet } = useSheetQuery({ type: row?.type ?? '', version: row?.version ?? 1 }, { skip: row === undefined })
  const [tags, boards] = [tagsOf(entered.tag ?? ''), tagsOf(entered.board ?? '')]
  const count = typeof tags === 'string' ? 0 : tags.length
  const submit = handleSubmit(async ({ type, tag, board }) => {
    const [every, on] = [tagsOf(tag), tagsOf(board)]
    if (typeof every === 'string' || typeof on === 'string') return
    const airframes: NewAirframe[] = every.map((one, i) => ({
      tag: one,
      type,
      board: on[i] ?? '',
      parts: every.length === 1 ? [...parts] : [],
    }))
    const result = await register({ airframes })
    if (!('data' in result) || result.data === undefined) return
    done(result.data.tags)
    forget()
    setParts([])
  })
  return (
    <Paper role="region" aria-label="One or a series">
      <Words kind="heading">One, or a series</Words>
      <Choices
        label="Built to"
        choices={sheets.map((s) => [s.type, `${s.type}, ${s.title}`] as const)}
        chosen={entered.type}
        choose={(type) => setValue('type', type, { shouldValidate: true })}
      />
      <Row flexWrap="wrap" alignItems="flex-start">
        <FormField control={control} name="tag" label="Tag, or a series as in N4-[041-052]" />
        <FormField control={control} name="board" label="Serial of the board, or a series alike" />
      </Row>
      <Words kind="small" aria-live="polite">
        {count > 1 && typeof tags !== 'string' && typeof boards !== 'string' && boards.length === count
          ? `${count}: ${tags[0]} on board ${boards[0]}, to ${tags[count - 1]} on board ${boards[count - 1]}`
          : ''}
      </Words>
      {count === 1 && (sheet?.sheet.parts ?? []).length > 0 && (
        <PartsForm wanted={sheet?.sheet.parts ?? []} parts={parts} change={setParts} />
      )}
      <Row>
        <Act
          label={isLoading ? 'Registering …' : count > 1 ? `Register ${count}` : 'Register it'}
          off={isLoading}
          onPress={() => void submit()}
        />
      </Row>
      <TypeWrong control={control} />
      <ProblemNotice problem={problemOf(error)} />
    </Paper>
  )
}

/** What it is built to is chosen, not typed: that it is missing is said beside the button. */
const TypeWrong = ({ control }: { control: Control<typeof empty> }) => {
  const { fieldState } = useController({ control, name: 'type' })
  if (fieldState.error === undefined) return null
  return (
    <Words kind="small" color="$fail" role="alert">
      {fieldState.error.message}
    </Words>
  )
}
