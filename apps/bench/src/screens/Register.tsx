import type { BuiltPart, ImportPreview, NewAirframe } from '@taraf/contract'
import { tagsOf } from '@taraf/core'
import { useRouter } from 'expo-router'
import { useState } from 'react'
import { FlatList } from 'react-native'
import { View } from '@tamagui/core'
import { Act } from '../parts/Act'
import { Choices } from '../parts/Choices'
import { Field } from '../parts/Field'
import { Notice, ProblemNotice } from '../parts/Notice'
import { pickFile } from '../parts/files'
import { Screen } from '../parts/Screen'
import { Column, Paper, Reading, Row, Words } from '../parts/type'
import { useImportAirframesMutation, usePreviewAirframesMutation, useRegisterMutation } from '../store/airframes'
import { problemOf } from '../store/api'
import { useSheetQuery, useSheetsQuery } from '../store/sheets'
import { PartsForm } from './PartsForm'

/** Registering airframes: one, a series by its tags, or a file of them. */
export const Register = () => {
  const [done, setDone] = useState<readonly string[]>([])
  const router = useRouter()
  return (
    <Screen>
      <Column gap="$5" maxWidth={820}>
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
        <Some done={setDone} />
        <FromFile done={setDone} />
      </Column>
    </Screen>
  )
}

const Some = ({ done }: { done: (tags: string[]) => void }) => {
  const { data: sheets = [] } = useSheetsQuery()
  const [type, setType] = useState<string | undefined>(undefined)
  const [tag, setTag] = useState('')
  const [board, setBoard] = useState('')
  const [parts, setParts] = useState<readonly BuiltPart[]>([])
  const [register, { isLoading, error }] = useRegisterMutation()
  const row = sheets.find((s) => s.type === type)
  const { data: sheet } = useSheetQuery({ type: row?.type ?? '', version: row?.version ?? 1 }, { skip: row === undefined })
  const tags = tagsOf(tag)
  const boards = tagsOf(board)
  const wrong =
    typeof tags === 'string'
      ? tags
      : typeof boards === 'string'
        ? boards
        : boards.length !== tags.length
          ? `${tags.length} tags and ${boards.length} boards: each airframe has one`
          : null
  const submit = async () => {
    if (type === undefined || typeof tags === 'string' || typeof boards === 'string') return
    const airframes: NewAirframe[] = tags.map((one, i) => ({
      tag: one,
      type,
      board: boards[i] ?? '',
      parts: tags.length === 1 ? [...parts] : [],
    }))
    const result = await register({ airframes })
    if (!('data' in result) || result.data === undefined) return
    done(result.data.tags)
    setTag('')
    setBoard('')
    setParts([])
  }
  return (
    <Paper role="region" aria-label="One or a series">
      <Words kind="heading">One, or a series</Words>
      <Choices
        label="Built to"
        choices={sheets.map((s) => [s.type, `${s.type}, ${s.title}`] as const)}
        chosen={type}
        choose={setType}
      />
      <Row flexWrap="wrap">
        <Field label="Tag, or a series as in N4-[041-052]" value={tag} onChange={setTag} />
        <Field label="Serial of the board, or a series alike" value={board} onChange={setBoard} />
      </Row>
      <Words kind="small" aria-live="polite">
        {tag === ''
          ? ''
          : (wrong ??
            (typeof tags !== 'string' && tags.length > 1
              ? `${tags.length}: ${tags[0]} on board ${boards[0]}, to ${tags[tags.length - 1]} on board ${boards[boards.length - 1]}`
              : ''))}
      </Words>
      {typeof tags !== 'string' && tags.length === 1 && (sheet?.sheet.parts ?? []).length > 0 && (
        <PartsForm wanted={sheet?.sheet.parts ?? []} parts={parts} change={setParts} />
      )}
      <Row>
        <Act
          label={
            isLoading ? 'Registering …' : typeof tags !== 'string' && tags.length > 1 ? `Register ${tags.length}` : 'Register it'
          }
          off={type === undefined || wrong !== null || isLoading}
          onPress={() => void submit()}
        />
      </Row>
      <ProblemNotice problem={problemOf(error)} />
    </Paper>
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

const Preview = ({ rows }: { rows: ImportPreview['rows'] }) => (
  <View height={Math.min(360, 30 + 52 * rows.length)}>
    <FlatList
      role="list"
      aria-label="Rows of the file"
      data={[...rows].sort((a, b) => Number(b.wrong.length > 0) - Number(a.wrong.length > 0))}
      keyExtractor={(row) => String(row.line)}
      initialNumToRender={10}
      windowSize={5}
      renderItem={({ item }) => (
        <Column role="listitem" gap="$0" borderBottomWidth={1} borderColor="$line" paddingVertical="$1">
          <Row justifyContent="space-between">
            <Reading>
              {item.line}. {item.tag === '' ? 'no tag' : item.tag}
            </Reading>
            <Words kind="small">
              {item.type}, {item.board}, {item.parts} parts
            </Words>
          </Row>
          {item.wrong.map((why) => (
            <Words key={why} kind="small" color="$fail">
              {why}
            </Words>
          ))}
        </Column>
      )}
    />
  </View>
)
