import type { BuiltPart, ImportPreview, NewAirframe } from '@taraf/contract'
import { tagsOf } from '@taraf/core'
import { useRouter } from 'expo-router'
import { useMemo, useState } from 'react'
import { useController, useWatch, type Control } from 'react-hook-form'
import { z } from 'zod'
import { Act } from '../parts/Act'
import { Choices } from '../parts/Choices'
import { FormField } from '../parts/FormField'
import { LongList } from '../parts/LongList'
import { Notice, ProblemNotice } from '../parts/Notice'
import { pickFile } from '../parts/files'
import { Screen } from '../parts/Screen'
import { Beside, Column, Paper, Reading, Row, Words } from '../parts/type'
import { useImportAirframesMutation, usePreviewAirframesMutation, useRegisterMutation } from '../store/airframes'
import { problemOf } from '../store/api'
import { useSheetQuery, useSheetsQuery } from '../store/sheets'
import { useKeptForm } from '../parts/useKeptForm'
import { PartsForm } from './PartsForm'

/** Registering airframes: one, a series by its tags, or a file of them. */
export const Register = () => {
  const [done, setDone] = useState<readonly string[]>([])
  const router = useRouter()
  return (
    <Screen>
      <Column gap="$5">
        <Words kind="title">Register airframes</Words>
        {done.length > 0 && (
          <Notice
            title={
              done.length === 1
                ? `${done[0]} is registered`
                : `${done.length} airframes are registered: ${done[0]} to ${done[done.length - 1]}`
            }
            todo="Print the label and put it on the frame."
            act={{
              label: `Open ${done[0]}`,
              onPress: () => router.push({ pathname: '/airframes/[tag]', params: { tag: done[0] ?? '' } }),
            }}
          />
        )}
        <Beside>
          <Column minWidth={0} $wide={{ flex: 1 }}>
            <Some done={setDone} />
          </Column>
          <Column minWidth={0} $wide={{ flex: 1 }}>
            <FromFile done={setDone} />
          </Column>
        </Beside>
      </Column>
    </Screen>
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

const Some = ({ done }: { done: (tags: string[]) => void }) => {
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

const FromFile = ({ done }: { done: (tags: string[]) => void }) => {
  const [file, setFile] = useState<File | null>(null)
  const [preview, { data, error, isLoading, reset }] = usePreviewAirframesMutation()
  const [take, taking] = useImportAirframesMutation()
  const choose = async () => {
    const found = await pickFile('.csv,text/csv')
    if (found === null) return
    setFile(found)
    taking.reset()
    await preview(found)
  }
  const confirm = async () => {
    if (file === null) return
    const result = await take(file)
    if (!('data' in result) || result.data === undefined) return
    done(result.data.tags)
    setFile(null)
    reset()
  }
  return (
    <Paper role="region" aria-label="A file">
      <Words kind="heading">A file</Words>
      <Words kind="small">
        CSV in UTF-8. The first row names the columns: tag, type, board, and where wanted version and, for any part, “regulator
        serial” and “regulator lot”.
      </Words>
      <Row>
        <Act label={isLoading ? 'Reading the file …' : 'Choose a file'} off={isLoading} onPress={() => void choose()} />
      </Row>
      <ProblemNotice problem={problemOf(error)} />
      {data !== undefined && (
        <>
          <Words kind="strong" role="status">
            {data.rows.length} rows, {data.wrong === 0 ? 'all can be taken' : `${data.wrong} cannot be taken`}. Nothing is taken
            yet.
          </Words>
          <Preview rows={data.rows} />
          <Row>
            <Act
              label={taking.isLoading ? 'Taking them in …' : `Take in ${data.rows.length}`}
              off={data.wrong > 0 || taking.isLoading}
              onPress={() => void confirm()}
            />
            <Act kind="quiet" label="Leave it" onPress={() => (setFile(null), reset())} />
          </Row>
          <ProblemNotice problem={problemOf(taking.error)} />
        </>
      )}
    </Paper>
  )
}

const Preview = ({ rows: all }: { rows: ImportPreview['rows'] }) => {
  const rows = useMemo(() => [...all].sort((a, b) => Number(b.wrong.length > 0) - Number(a.wrong.length > 0)), [all])
  return (
    <LongList
      label="Rows of the file"
      count={rows.length}
      rowHeight={52}
      height={Math.min(360, 30 + 52 * rows.length)}
      keyOf={(index) => String(rows[index]?.line)}
      row={(index) => {
        const row = rows[index]
        return row === undefined ? null : <PreviewRow row={row} />
      }}
    />
  )
}

const PreviewRow = ({ row }: { row: ImportPreview['rows'][number] }) => (
  <Column role="listitem" gap="$0" borderBottomWidth={1} borderColor="$line" paddingVertical="$1">
    <Row justifyContent="space-between">
      <Reading>
        {row.line}. {row.tag === '' ? 'no tag' : row.tag}
      </Reading>
      <Words kind="small">
        {row.type}, {row.board}, {row.parts} parts
      </Words>
    </Row>
    {row.wrong.map((why) => (
      <Words key={why} kind="small" color="$fail">
        {why}
      </Words>
    ))}
  </Column>
)
