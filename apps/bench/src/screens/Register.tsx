import type { ImportPreview } from '@taraf/contract'
import { useRouter } from 'expo-router'
import { lazy, Suspense, useMemo, useState } from 'react'
import { Act } from '../parts/Act'
import { LongList } from '../parts/LongList'
import { Loading, Notice, ProblemNotice } from '../parts/Notice'
import { pickFile } from '../parts/files'
import { Screen } from '../parts/Screen'
import { Beside, Column, Paper, Reading, Row, Words } from '../parts/type'
import { useImportAirframesMutation, usePreviewAirframesMutation } from '../store/airframes'
import { problemOf } from '../store/api'

/** What forms are made with is fetched where there is one. */
const RegisterForm = lazy(async () => ({ default: (await import('./forms')).RegisterForm }))

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
            <Suspense fallback={<Loading what="the form" />}>
              <RegisterForm done={setDone} />
            </Suspense>
          </Column>
          <Column minWidth={0} $wide={{ flex: 1 }}>
            <FromFile done={setDone} />
          </Column>
        </Beside>
      </Column>
    </Screen>
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
